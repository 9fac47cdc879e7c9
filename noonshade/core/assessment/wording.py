"""Needs and figures in words, as in lists and on paper."""

from __future__ import annotations

from noonshade.core.assessment.status import Status
from noonshade.core.needs.species import SHARES, Need, Quantity
from noonshade.core.phrase import Measure, Phrase, Unit, Units, figure_text, uncapitalized
from noonshade.core.plan import Plan

STATUS_WORDS: dict[Status, str] = {
    "low": "too low",
    "ok": "fits",
    "high": "too high",
    "uncertain": "uncertain",
    "unknown": "unknown",
}
QUANTITY_WORDS: dict[Quantity, str] = {
    "surface_temperature": "surface",
    "air_temperature": "probe reading",
    "water_temperature": "water",
    "gradient": "difference",
    "uvi": "UVI",
    "humidity": "humidity",
    "uv_free_share": "no UV",
}
# The same within a sentence.
_IN_SENTENCES: dict[Quantity, str] = {
    "surface_temperature": "surface",
    "air_temperature": "probe reading",
    "water_temperature": "temperature",
    "gradient": "difference",
    "uvi": "UV index",
    "humidity": "humidity",
    "uv_free_share": "free of UV",
}
# What a figure of each quantity is below and above its range.
TOO: dict[Quantity, tuple[str, str]] = {
    "surface_temperature": ("cold", "hot"),
    "air_temperature": ("cold", "warm"),
    "water_temperature": ("cold", "warm"),
    "gradient": ("small", "large"),
    "uvi": ("low", "high"),
    "humidity": ("dry", "damp"),
    "uv_free_share": ("small", "large"),
}
_UNITS: dict[Quantity, Unit] = {"gradient": "K", "uvi": "UVI"}


def measure_of(quantity: Quantity, value: float) -> Measure:
    """A figure of a quantity with its unit; shares as per cent.

    Parameters
    ----------
    quantity : Quantity
        Which quantity.
    value : float
        The value, in core units.

    Returns
    -------
    Measure
        The figure.
    """
    if quantity in SHARES:
        return Measure(100.0 * value, "%")
    return Measure(value, _UNITS.get(quantity, "°C"))


def said(quantity: Quantity, value: float) -> Phrase:
    """A figure as part of a sentence: "UVI 3.1", "34.0 °C".

    Parameters
    ----------
    quantity : Quantity
        Which quantity.
    value : float
        The value, in core units.

    Returns
    -------
    Phrase
        The figure, with the name of its unit before it where that comes first.
    """
    return ("UVI " if quantity == "uvi" else "", measure_of(quantity, value))


def figure_name(place: str, label: str, quantity: Quantity) -> str:
    """What a check is of, within a sentence: "basking spot surface", "night air".

    Parameters
    ----------
    place : str
        Kind of place.
    label : str
        Its label.
    quantity : Quantity
        Which quantity.

    Returns
    -------
    str
        The words.
    """
    name = uncapitalized(label)
    if place == "reachable":
        return name
    if quantity == "gradient":
        return "difference between warm and cool places"
    if quantity == "uv_free_share":
        return "share free of UV"
    if place == "night" and quantity == "air_temperature":
        return f"{name} air"
    return f"{name} {_IN_SENTENCES[quantity]}"


def quantity_words(place: str, quantity: Quantity) -> str:
    """What a need asks of a place, in words.

    Parameters
    ----------
    place : str
        Kind of place, or its label.
    quantity : Quantity
        Which quantity.

    Returns
    -------
    str
        Words such as "probe reading"; at night air and probe are one.
    """
    if quantity == "air_temperature" and place.lower() == "night":
        return "air"
    return QUANTITY_WORDS[quantity]


def above_ceiling(ceiling_c: float) -> Phrase:
    """The same words wherever air is above what an animal bears: "above 27 °C this animal is in danger."

    Parameters
    ----------
    ceiling_c : float
        Air that endangers it, °C.

    Returns
    -------
    Phrase
        The end of a sentence.
    """
    return ("above ", Measure(ceiling_c, "°C"), " this animal is in danger.")


def evidence_text(plan: Plan) -> str:
    """What the figures of a plan rest on as a whole.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    str
        Words such as "Predicted, not measured".
    """
    if plan.measured is None:
        return "Predicted, not measured"
    return f"Fitted to readings of {plan.measured.on}"


def _shown(value: float, quantity: Quantity, units: Units, exact: bool) -> str:
    figure = measure_of(quantity, value)
    if quantity in SHARES:
        return figure_text(figure.value, figure.unit, units)
    text = figure_text(figure.value, figure.unit, units, 1)
    return text if exact else text.replace(".0", "")


def value_text(value: float | None, quantity: Quantity, units: Units = "metric") -> str:
    """An assessed figure with its unit, as precise as on the screen; a dash where there is none.

    Parameters
    ----------
    value : float | None
        The value, in core units.
    quantity : Quantity
        Which quantity.
    units : Units
        System of units.

    Returns
    -------
    str
        An assessed figure with its unit, as precise as on the screen.
    """
    return "–" if value is None else _shown(value, quantity, units, exact=True)


def range_text(need: Need, units: Units = "metric") -> str:
    """A need's range, no more precise than it is stated.

    Parameters
    ----------
    need : Need
        The need.
    units : Units
        System of units.

    Returns
    -------
    str
        The range with its unit, such as "43–52 °C" or "at least 60 %".
    """
    if need.low is None:
        return f"at most {_shown(need.high or 0.0, need.quantity, units, exact=False)}"
    low = _shown(need.low, need.quantity, units, exact=False)
    if need.high is None:
        return f"at least {low}"
    return f"{low.split(' ')[0]}–{_shown(need.high, need.quantity, units, exact=False)}"


def dampness(wetness: float) -> str:
    """A word for how wet ground is.

    Parameters
    ----------
    wetness : float
        How readily it gives off water, 0 dry, 1 like open water.

    Returns
    -------
    str
        Such as "damp".
    """
    for most, word in ((0.0, "dry"), (0.06, "barely damp"), (0.2, "damp"), (0.4, "moist")):
        if wetness <= most:
            return word
    return "wet"
