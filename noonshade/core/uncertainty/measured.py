"""Fitted multipliers of an enclosure: they belong to its parts and age with them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.ageing import uv_share
from noonshade.core.plan import Measured, Plan
from noonshade.core.uncertainty.multipliers import Multiplier, multipliers_of, with_multipliers

Floats = NDArray[np.float64]

# How far the fall of a lamp's UV since it was measured may be off, as a share of it. Estimate.
AGEING_SHARE = 0.5


@dataclass(frozen=True, slots=True)
class FittedValue:
    """A fitted multiplier: its value, what it was found on, and how long that lamp had burned."""

    id: str
    about: str
    value: float
    hours: float | None = None


@dataclass(frozen=True, slots=True)
class Fitted:
    """Values from a fit with their covariance (k, k), row by row, and the day they were found.

    ``measured_checks`` are the places and quantities that were read, as ``place:quantity``.
    """

    on: str
    values: tuple[FittedValue, ...]
    covariance: tuple[tuple[float, ...], ...]
    measured_checks: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class StaleFit:
    """A fitted value that is no longer about what is there, and why."""

    id: str
    why: str


def stale_fits(plan: Plan, fitted: Fitted) -> tuple[StaleFit, ...]:
    """Fitted values that are out of date for a plan.

    Parameters
    ----------
    plan : Plan
        The plan.
    fitted : Fitted
        The fitted values.

    Returns
    -------
    tuple[StaleFit, ...]
        Each with what was changed since.
    """
    known = {m.id: m for m in multipliers_of(plan)}
    hours = hours_of(plan)
    found = []
    for value in fitted.values:
        multiplier = known.get(value.id)
        if multiplier is None:
            found.append(StaleFit(value.id, "what it was found on is gone"))
        elif multiplier.about != value.about:
            found.append(StaleFit(value.id, f"{multiplier.label}: changed since it was measured"))
        elif value.hours is not None and hours.get(value.id, value.hours) < value.hours:
            found.append(StaleFit(value.id, f"{multiplier.label}: the lamp was replaced since"))
    return tuple(found)


def with_measured(plan: Plan, fitted: Fitted) -> Plan:
    """The plan as measured: fitted values put in place of the catalogue's, without stale ones.

    Parameters
    ----------
    plan : Plan
        The plan.
    fitted : Fitted
        The fitted values.

    Returns
    -------
    Plan
        The plan.
    """
    gone = {one.id for one in stale_fits(plan, fitted)}
    valid = [i for i, v in enumerate(fitted.values) if v.id not in gone]
    values = {fitted.values[i].id: fitted.values[i].value for i in valid}
    hours = {f"uv:{f.id}": (f.lamp.ageing, f.hours) for f in plan.fixtures}
    covariance = np.array(fitted.covariance).reshape(len(fitted.values), -1)[np.ix_(valid, valid)]
    for row, i in enumerate(valid):
        then = fitted.values[i]
        if then.hours is not None and then.id in hours:
            ageing, now = hours[then.id]
            fall = math.log(uv_share(ageing, then.hours) / uv_share(ageing, now))
            covariance[row, row] += (AGEING_SHARE * fall) ** 2
    measured = Measured(
        fitted.on,
        tuple(values),
        tuple(tuple(float(x) for x in row) for row in covariance),
        fitted.measured_checks,
    )
    return replace(with_multipliers(plan, multipliers_of(plan), values), measured=measured)


def covariance_of(plan: Plan, known: tuple[Multiplier, ...]) -> Floats:
    """What is known of multipliers (k, k), in their order: their spreads, or what readings left of them.

    Parameters
    ----------
    plan : Plan
        The plan.
    known : tuple[Multiplier, ...]
        What is computed already, to save computing it again.

    Returns
    -------
    Floats
        What is known of multipliers (k, k), in their order.
    """
    covariance = np.diag([m.sigma**2 for m in known])
    if plan.measured is None:
        return covariance
    place = {m.id: i for i, m in enumerate(known)}
    rows = [(r, place[key]) for r, key in enumerate(plan.measured.ids) if key in place]
    measured = np.array(plan.measured.covariance)
    for r, i in rows:
        for c, j in rows:
            covariance[i, j] = measured[r, c]
    return covariance


def hours_of(plan: Plan) -> Mapping[str, float]:
    """Hours burned of the lamp a multiplier is of, by multiplier.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    Mapping[str, float]
        The hours, h.
    """
    return {f"{kind}:{f.id}": f.hours for f in plan.fixtures for kind in ("uv", "radiant", "beam")}
