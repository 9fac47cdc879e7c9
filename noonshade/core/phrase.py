"""Sentences with figures in them, kept separate so that each reader sees their own units."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from noonshade.core.constants import FAHRENHEIT_AT_0_C, FAHRENHEIT_PER_K, INCH_M, QUART_L

Unit = Literal["m", "mm", "°C", "K", "W", "W/m²", "UVI", "L", "%", ""]


@dataclass(frozen=True, slots=True)
class Measure:
    """A figure in a sentence, in core units (metres, °C, shares as per cent).

    The unit "mm" is for small lengths: the value is in metres as well, and shown finer.
    """

    value: float
    unit: Unit


Phrase = tuple[str | Measure, ...]

Units = Literal["metric", "imperial"]

# Factor, offset, digits and suffix of a figure in each system.
_SHOWN: dict[Units, dict[Unit, tuple[float, float, int, str]]] = {
    "metric": {
        "m": (100.0, 0.0, 0, " cm"),
        "mm": (1000.0, 0.0, 0, " mm"),
        "°C": (1.0, 0.0, 1, " °C"),
        "K": (1.0, 0.0, 1, " °C"),
        "W": (1.0, 0.0, 0, " W"),
        "W/m²": (1.0, 0.0, 0, " W/m²"),
        "UVI": (1.0, 0.0, 1, ""),
        "L": (1.0, 0.0, 0, " L"),
        "%": (1.0, 0.0, 0, " %"),
        "": (1.0, 0.0, 1, ""),
    },
    "imperial": {
        "m": (1.0 / INCH_M, 0.0, 1, " in"),
        "mm": (1.0 / INCH_M, 0.0, 2, " in"),
        "°C": (FAHRENHEIT_PER_K, FAHRENHEIT_AT_0_C, 1, " °F"),
        "K": (FAHRENHEIT_PER_K, 0.0, 1, " °F"),
        "W": (1.0, 0.0, 0, " W"),
        "W/m²": (1.0, 0.0, 0, " W/m²"),
        "UVI": (1.0, 0.0, 1, ""),
        "L": (1.0 / QUART_L, 0.0, 0, " qt"),
        "%": (1.0, 0.0, 0, " %"),
        "": (1.0, 0.0, 1, ""),
    },
}


def figure_text(value: float, unit: Unit, units: Units = "metric", digits: int | None = None) -> str:
    """A figure in core units as a reader of a system of units sees it.

    Parameters
    ----------
    value : float
        The value, in core units.
    unit : Unit
        The unit.
    units : Units
        System of units.
    digits : int | None
        Decimals, None for the usual ones.

    Returns
    -------
    str
        The figure with its unit.
    """
    factor, offset, usual, suffix = _SHOWN[units][unit]
    return f"{value * factor + offset:.{usual if digits is None else digits}f}{suffix}"


def plain_text(phrase: Phrase, units: Units = "metric") -> str:
    """A phrase as text, by default in centimetres and degrees Celsius.

    Parameters
    ----------
    phrase : Phrase
        Text and figures.
    units : Units
        System of units.

    Returns
    -------
    str
        The text.
    """
    return "".join(p if isinstance(p, str) else figure_text(p.value, p.unit, units) for p in phrase)


def clock(hour: float) -> str:
    """An hour of the day as on a clock.

    Parameters
    ----------
    hour : float
        Hour of the day, 0 to 24.

    Returns
    -------
    str
        Text such as "06:45".
    """
    minutes = round(60 * hour) % (24 * 60)
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def capitalized(text: str) -> str:
    """A text as a sentence begins, the rest of it unchanged.

    Parameters
    ----------
    text : str
        The text.

    Returns
    -------
    str
        The text with a capital.
    """
    return text[:1].upper() + text[1:]


def uncapitalized(text: str) -> str:
    """A label as it stands within a sentence: its first letter small, but not that of "UV" or "T5".

    Parameters
    ----------
    text : str
        The label.

    Returns
    -------
    str
        The label within a sentence.
    """
    if len(text) > 1 and (text[1].isupper() or text[1].isdigit()):
        return text
    return text[:1].lower() + text[1:]


# Places in names of species; words like "African" and "Chinese" are known by their ends.
_PLACES = {
    word
    for row in (
        "Alps Amazon Antilles Argentine Arizona California Cape Florida Madagascar New Philippine",
        "Queensland Sambava Solomon Sonora Texas Transvaal Borneo Java Sumatra Timor",
    )
    for word in row.split()
}


def species_within(name: str) -> str:
    """The common name of a species as it is written within a sentence.

    Parameters
    ----------
    name : str
        The common name, with a capital: "Gargoyle gecko", "White's tree frog".

    Returns
    -------
    str
        "gargoyle gecko"; with its capital where it begins with the name of a person or a place.
    """
    first = name.partition(" ")[0]
    proper = first in _PLACES or first.endswith(("'s", "an", "ese"))
    return name if proper else uncapitalized(name)


def one_of(name: str) -> str:
    """The common name of a species with its article.

    Parameters
    ----------
    name : str
        The common name, as for `species_within`.

    Returns
    -------
    str
        "a gargoyle gecko", "an Asian mantis".
    """
    within = species_within(name)
    return f"{'an' if within[0].lower() in 'aeiou' and not within.startswith('Eu') else 'a'} {within}"


# What things of a plan are usually called; anything else is a name of the keeper's.
_NOUNS = {
    word
    for row in (
        "lamp lamps tube bulb flood spot heater ceramic mat cable panel bar thermostat",
        "fan pack pot slab stone tile ledge shelf branch perch vine log bark",
        "cork rock platform ramp hammock tunnel hide cave box bowl dish pool water",
        "leaves plant plants cover moss background",
    )
    for word in row.split()
}


def named(label: str) -> str:
    """A thing of the plan as it is called within a sentence.

    Parameters
    ----------
    label : str
        Its label, such as "Basking lamp", "Lamp 2" or a name the keeper gave it.

    Returns
    -------
    str
        "the basking lamp", "lamp 2"; in quotes where the label is a name rather than a description.
    """
    words = label.split()
    inside = uncapitalized(label)
    number = len(words) > 1 and words[-1].isdigit()
    described = words[: -1 if number else None]
    plain = all(w.islower() or w.isupper() for w in uncapitalized(" ".join(described)).split())
    if not described or described[-1].lower() not in _NOUNS or not plain or "'" in label:
        return f"“{label}”"
    return inside if number else f"the {inside}"


def named_first(label: str) -> str:
    """A thing of the plan as it is called where a sentence begins with it.

    Parameters
    ----------
    label : str
        Its label.

    Returns
    -------
    str
        As `named`, with a capital.
    """
    return capitalized(named(label))
