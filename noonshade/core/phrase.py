"""Sentences with figures in them, kept apart so that each reader sees their own units."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Unit = Literal["m", "°C", "K", "W", "W/m²", "UVI", "%", ""]


@dataclass(frozen=True, slots=True)
class Measure:
    """A figure in a sentence, in core units (metres, °C, shares as per cent)."""

    value: float
    unit: Unit


Phrase = tuple[str | Measure, ...]

_DIGITS: dict[str, tuple[float, int, str]] = {
    "m": (100.0, 0, " cm"),
    "°C": (1.0, 1, " °C"),
    "K": (1.0, 1, " K"),
    "W": (1.0, 0, " W"),
    "W/m²": (1.0, 0, " W/m²"),
    "UVI": (1.0, 1, ""),
    "%": (1.0, 0, " %"),
    "": (1.0, 1, ""),
}


def plain_text(phrase: Phrase) -> str:
    """A phrase in centimetres and degrees Celsius."""
    parts = []
    for part in phrase:
        if isinstance(part, str):
            parts.append(part)
        else:
            factor, digits, suffix = _DIGITS[part.unit]
            parts.append(f"{part.value * factor:.{digits}f}{suffix}")
    return "".join(parts)
