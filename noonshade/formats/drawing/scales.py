"""The colours of fields, the same on the screen and on paper: one file, ``scales.json``, feeds both.

All ramps rise evenly in lightness (OKLab L), so order shows in grey and to colour-blind eyes.
"""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
FieldName = Literal["uvi", "air", "irradiance", "light", "humidity"]
FIELD_NAMES: tuple[FieldName, ...] = ("uvi", "air", "irradiance", "light", "humidity")

TITLES: dict[FieldName, str] = {
    "uvi": "UV index, facing the light",
    "air": "Air temperature",
    "irradiance": "Radiant heat, W/m² facing the light",
    "light": "Visible light, lx on a level face",
    "humidity": "Relative humidity, %",
}
# Steps of a ramp.
SHADES = 256


@cache
def _shipped() -> dict[str, Any]:
    text = (files("noonshade.shared") / "scales.json").read_text(encoding="utf-8")
    found: dict[str, Any] = json.loads(text)
    return found


@dataclass(frozen=True, slots=True)
class FieldScale:
    """How a field is coloured: its range, where its contour lines run, and its ramp.

    UVI, irradiance and light fall off like 1/d, so equal ratios should look equally far apart: with
    ``root`` their share of the ramp rises with the square root. A field whose highest value is at most
    ``nothing`` has nothing to show; None where any value says something.
    """

    low: float
    high: float
    levels: tuple[float, ...]
    ramp: str
    root: bool
    nothing: float | None = None

    def share(self, values: Floats | float) -> Floats:
        """Share 0–1 of the ramp for values."""
        part = (np.asarray(values, dtype=float) - self.low) / (self.high - self.low)
        part = np.clip(part, 0.0, 1.0)
        return np.asarray(np.sqrt(part) if self.root else part)

    def colours(self, values: Floats) -> NDArray[np.uint8]:
        """Colours (…, 3) of values, sRGB."""
        index = np.rint(self.share(values) * (SHADES - 1)).astype(int)
        found: NDArray[np.uint8] = ramp_table(self.ramp)[index]
        return found


def scale_of(name: FieldName, air_c: Floats | None = None, room_c: float = 20.0) -> FieldScale:
    """The scale of a field; that of air temperature, in whole fives, from the room to the warmest air.

    The other ranges do not follow the plan, so that a colour means the same in every picture.
    """
    if name == "air":
        top = room_c if air_c is None else max(room_c, float(np.max(air_c)))
        low = math.floor((room_c - 1.0) / 5.0) * 5.0
        high = max(low + 10.0, math.ceil((top + 0.5) / 5.0) * 5.0)
        return FieldScale(low, high, tuple(np.arange(low + 1.0, high)), "heat", False)
    shipped = _shipped()["fields"][name]
    return FieldScale(
        0.0,
        float(shipped["high"]),
        tuple(shipped["levels"]),
        shipped["ramp"],
        not shipped.get("even", False),
        shipped.get("nothing"),
    )


@cache
def ramp_table(name: str) -> NDArray[np.uint8]:
    """Colours (SHADES, 3) of a ramp, sRGB, from dark to light."""
    stops = np.array(_shipped()["ramps"][name])
    angle = np.radians(stops[:, 2])
    lab = np.column_stack([stops[:, 0], stops[:, 1] * np.cos(angle), stops[:, 1] * np.sin(angle)])
    at = np.linspace(0.0, len(stops) - 1.0, SHADES)
    return _srgb(np.column_stack([np.interp(at, np.arange(len(stops)), lab[:, i]) for i in range(3)]))


def _srgb(lab: Floats) -> NDArray[np.uint8]:
    """OKLab (n, 3) to sRGB (n, 3), by the matrices published with that colour space in 2020."""
    mixed = lab @ np.array(
        [
            [1.0, 1.0, 1.0],
            [0.3963377774, -0.1055613458, -0.0894841775],
            [0.2158037573, -0.0638541728, -1.291485548],
        ]
    )
    linear = (mixed**3) @ np.array(
        [
            [4.0767416621, -1.2684380046, -0.0041960863],
            [-3.3077115913, 2.6097574011, -0.7034186147],
            [0.2309699292, -0.3413193965, 1.707614701],
        ]
    )
    linear = np.clip(linear, 0.0, 1.0)
    curved = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    found: NDArray[np.uint8] = np.rint(255.0 * curved).astype(np.uint8)
    return found
