"""Where a figure lies against a need, and how bad it is if it is not met."""

from __future__ import annotations

from typing import Literal

from noonshade.core.needs.species import SHARES, Need, Quantity
from noonshade.core.plan import Plan

# ``uncertain``: in range as computed, but with too little chance.
Status = Literal["low", "ok", "high", "uncertain", "unknown"]
# How bad a failed check is: it may be left, it must be fixed, or the animal must not go in.
Severity = Literal["none", "note", "fault", "danger"]
SEVERITIES: tuple[Severity, ...] = ("none", "note", "fault", "danger")

# A figure within this of a limit meets it: half of the last digit an instrument shows.
RESOLUTION: dict[Quantity, float] = {
    "surface_temperature": 0.05,
    "air_temperature": 0.05,
    "water_temperature": 0.05,
    "gradient": 0.05,
    "uvi": 0.005,
    "humidity": 0.005,
    "uv_free_share": 0.005,
}
# A surface so far above its range burns, K. Estimate.
BURNS_K = 5.0
# Skin is burned within minutes by a surface of this temperature, °C. Estimate: contact burns of mammals.
BURNS_C = 55.0
# Air so far below its humidity dries out an animal with moist skin within a day, as a share. Estimate.
PARCHING = 0.35
# Animals wanted below this humidity come from dry places and bear less of it; those wanted above it come
# from damp ones and bear more. Estimates.
DRY_UP_TO, DAMP_FROM = 0.60, 0.60
_MOIST_SKIN = ("frog", "salamander")


def status_of(need: Need, value: float | None) -> Status:
    """Where a value lies against a need's limits, limits included to an instrument's resolution.

    Parameters
    ----------
    need : Need
        The need.
    value : float | None
        The value, in core units.

    Returns
    -------
    Status
        ``ok`` from limit to limit, ``low`` or ``high`` outside, ``unknown`` without a value.
    """
    if value is None:
        return "unknown"
    slack = RESOLUTION[need.quantity]
    if need.low is not None and value < need.low - slack:
        return "low"
    if need.high is not None and value > need.high + slack:
        return "high"
    return "ok"


def is_harmless(need: Need, status: Status) -> bool:
    """Whether being off to that side does no harm: air that is too dry for a desert animal, or too damp
    for one of wet forests.

    Parameters
    ----------
    need : Need
        The need.
    status : Status
        Where the figure lies.

    Returns
    -------
    bool
        True for humidity on the side the animal bears.
    """
    if need.quantity != "humidity":
        return False
    if status == "low":
        return need.high is not None and need.high <= DRY_UP_TO
    return status == "high" and need.low is not None and need.low >= DAMP_FROM


def severity_of(plan: Plan, need: Need, value: float | None, status: Status) -> Severity:
    """Severity of a need that is not met.

    Parameters
    ----------
    plan : Plan
        The plan.
    need : Need
        The need.
    value : float | None
        The value, in core units.
    status : Status
        Result of the check.

    Returns
    -------
    Severity
        ``none`` if it is met, else ``note``, ``fault`` or ``danger``.
    """
    if status in ("ok", "uncertain"):
        return "none"
    if value is None:
        return "note" if need.offered else "fault"
    if (need.offered and status == "low") or is_harmless(need, status):
        return "note"
    return "danger" if _is_dangerous(plan, need, value, status) else "fault"


def _is_dangerous(plan: Plan, need: Need, value: float, status: Status) -> bool:
    species = plan.animal.species
    if need.quantity in ("air_temperature", "water_temperature") and need.place != "basking":
        return value > species.highest_safe_c or value < species.lowest_safe_c
    if need.quantity == "surface_temperature" and status == "high" and need.high is not None:
        return value > min(need.high + BURNS_K, max(BURNS_C, need.high))
    if need.quantity == "uvi" and status == "high" and need.place != "uv_refuge":
        return value > plan.animal.harmful_uvi
    if need.quantity == "humidity" and status == "low" and need.low is not None:
        return species.group in _MOIST_SKIN and value < need.low - PARCHING
    return False


def off_by(need: Need, value: float | None, status: Status) -> float:
    """How far outside the range a value is, as a share of the range's width; 0 inside it.

    Parameters
    ----------
    need : Need
        The need.
    value : float | None
        The value, in core units.
    status : Status
        Where it lies.

    Returns
    -------
    float
        The share, 0 or more.
    """
    if value is None or status not in ("low", "high"):
        return 0.0
    low, high = need.low, need.high
    limit = low if status == "low" else high
    assert limit is not None
    if low is not None and high is not None:
        width = high - low
    else:
        # A ceiling of temperature is as wide as a few degrees, not as its own height.
        width = abs(limit) if need.quantity in SHARES or need.quantity == "uvi" else 8.0
    return abs(value - limit) / max(width, 1e-3)
