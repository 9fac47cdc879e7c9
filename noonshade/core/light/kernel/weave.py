"""What passes wires that go over and under each other, ray by ray."""

from __future__ import annotations

import math

from noonshade.core.compiled import compiled


@compiled
def weave_share(
    ratio: float, tx: float, ty: float, rays: int, twist: int, steps: int
) -> float:  # pragma: no cover - compiled
    """Share of light that passes a plain weave of round wires with a pitch of 1.

    Each wire follows a cosine, half its diameter up where it goes over another and as much down where it
    goes under.

    Parameters
    ----------
    ratio : float
        Wire diameter over pitch.
    tx, ty : float
        Tangents of the angle of the light along both families of wires.
    rays, twist : int
        Rays over a cell of two by two pitches, and the number that spreads them evenly: two neighbours of
        Fibonacci's sequence.
    steps : int
        Places along each ray.

    Returns
    -------
    float
        The share, 0–1.
    """
    half = ratio / 2.0
    passed = 0
    for i in range(rays):
        x, y = 2.0 * (i + 0.5) / rays, 2.0 * ((i * twist) % rays + 0.5) / rays
        clear = True
        for k in range(steps):
            z = ratio * (2.0 * (k + 0.5) / steps - 1.0)
            px, py = x + tx * z, y + ty * z
            for family in range(2):
                along, across = (px, py) if family == 0 else (py, px)
                wire = math.floor(across + 0.5)
                off = across - wire
                if abs(off) >= half:
                    continue
                up = half if (wire % 2.0 == 0.0) == (family == 0) else -half
                angle = math.pi * along
                slope = up * math.pi * math.sin(angle)
                rise = (z - up * math.cos(angle)) / math.sqrt(1.0 + slope * slope)
                if off * off + rise * rise < half * half:
                    clear = False
                    break
            if not clear:
                break
        if clear:
            passed += 1
    return passed / rays
