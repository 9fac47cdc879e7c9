"""Needs and figures in words, as in lists and on paper."""

from __future__ import annotations

from noonshade.core.assessment.checks import Status
from noonshade.core.needs.species import SHARES, Need, Quantity
from noonshade.core.phrase import Unit, Units, figure_text
from noonshade.core.plan import Plan

STATUS_WORDS: dict[Status, str] = {
    "low": "too low",
    "ok": "fits",
    "high": "too high",
    "unknown": "unknown",
}
QUANTITY_WORDS: dict[Quantity, str] = {
    "surface_temperature": "surface",
    "air_temperature": "probe reading",
    "uvi": "UVI",
    "humidity": "humidity",
    "uv_free_share": "no UV",
}


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
    if quantity in SHARES:
        return figure_text(100.0 * value, "%", units)
    unit: Unit = "UVI" if quantity == "uvi" else "°C"
    text = figure_text(value, unit, units, 1)
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
