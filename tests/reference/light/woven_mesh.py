"""Makes ``woven-mesh.table.json``: light through woven and welded wires, ray by ray.

Run by hand, never by the tests: ``python woven_mesh.py`` with ``numpy`` installed. Wires of diameter w and
pitch p are round. Welded ones are straight, in two layers that touch; woven ones go over and under each
other along a cosine, so that they touch where they cross. Rays of one direction start all over a cell of
two by two pitches; each is stopped by a wire whose axis it comes nearer to than w/2.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np

HERE = Path(__file__).parent
RATIOS = (0.25, 0.175, 0.31)
ZENITHS_DEG = (0, 30, 45, 55, 60, 65, 70, 75, 80)
BEARINGS_DEG = (0, 20, 45)
ACROSS = 160
STEPS = 600


def passed(ratio: float, woven: bool, zenith: float, bearing: float) -> float:
    """Share of the rays that pass, for p = 1."""
    rng = np.random.default_rng(7)
    cell = (np.arange(ACROSS) + rng.uniform(0.25, 0.75)) / ACROSS * 2.0
    x, y = (g.ravel() for g in np.meshgrid(cell, cell))
    slant = math.tan(math.radians(zenith))
    tx, ty = slant * math.cos(math.radians(bearing)), slant * math.sin(math.radians(bearing))
    lift = ratio / 2
    open_ = np.ones(x.size, dtype=bool)
    for z in np.linspace(-2.0 * lift, 2.0 * lift, STEPS):
        px, py = x + tx * z, y + ty * z
        for along, across, sign in ((px, py, 1.0), (py, px, -1.0)):
            # The nearest wire of this family, whose number tells whether it is up or down at 0.
            number = np.round(across)
            off = across - number
            if woven:
                way = np.where(number % 2 == 0, 1.0, -1.0) * sign
                height = way * lift * np.cos(math.pi * along)
                slope = -way * lift * math.pi * np.sin(math.pi * along)
                rise = (z - height) / np.sqrt(1.0 + slope**2)
            else:
                rise = z - sign * lift
            open_ &= off**2 + rise**2 >= (ratio / 2) ** 2
    return float(open_.mean())


def main() -> None:
    rows = [
        {
            "ratio": r,
            "woven": woven,
            "zenith_deg": z,
            "bearing_deg": b,
            "passed": round(passed(r, woven, z, b), 5),
        }
        for r in RATIOS
        for woven in (False, True)
        for z in ZENITHS_DEG
        for b in BEARINGS_DEG
    ]
    (HERE / "woven-mesh.table.json").write_text(json.dumps(rows, indent=0) + "\n")


if __name__ == "__main__":
    main()
