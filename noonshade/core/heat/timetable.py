"""What is known of a day before it is simulated: the surroundings, timers and set points."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.day_trace import Faults
from noonshade.core.heat.enclosure_model import Surroundings
from noonshade.core.heat.regulation import set_point_at
from noonshade.core.plan import Plan

Floats = NDArray[np.float64]


class Timetable(NamedTuple):
    """Steps that begin at hours (n,): what timers and thermostats want in each.

    ``lit`` (n, f) is 1 for each fixture whose timer has it on, else 0; ``set_point_c`` (n, t) of each
    thermostat, NaN where it is switched off.
    """

    begins: Floats
    lit: Floats
    set_point_c: Floats


def surroundings_at(plan: Plan, hour: float, faults: Faults) -> Surroundings:
    """What lies outside the enclosure at an hour.

    Parameters
    ----------
    plan : Plan
        The plan.
    hour : float
        Hour since midnight of the first day; may be above 24.
    faults : Faults
        What fails, and when.

    Returns
    -------
    Surroundings
        Temperatures outside each face, the room's vapour, fans and cold packs.
    """
    h = hour % 24.0
    faces = {face: n.at(h) for face, n in plan.enclosure.neighbours.items()}
    running = not faults.power_cut
    fan = sum(f.flow_m3_h for f in plan.fans if running and f.on_at(h, plan.dawn, plan.dusk)) / 3600.0
    cold = tuple(p for p in plan.cold_packs if p.on_at(h))
    return Surroundings(plan.room.at(h) + faults.room_shift_k, faces, fan, cold)


def timetable_of(plan: Plan, begins: Floats, faults: Faults) -> Timetable:
    """What timers and thermostats want in steps that begin at some hours.

    Parameters
    ----------
    plan : Plan
        The plan.
    begins : (n,) float64
        Hours since midnight of the first day; may be above 24.
    faults : Faults
        What fails, and when.

    Returns
    -------
    Timetable
        Timers and set points.
    """
    # Every day asks for the same minutes.
    hours, which = np.unique(np.round(begins % 24.0 * 3600.0, 3) / 3600.0, return_inverse=True)
    dead = np.array([f.id in faults.dead or faults.power_cut for f in plan.fixtures], dtype=bool)
    lit = np.zeros((hours.size, len(plan.fixtures)))
    wanted = np.full((hours.size, len(plan.thermostats)), math.nan)
    for k, hour in enumerate(hours.tolist()):
        lit[k] = [f.on_at(hour, plan.dawn, plan.dusk) for f in plan.fixtures]
        for t, thermostat in enumerate(plan.thermostats):
            target = set_point_at(thermostat, hour, plan.dawn, plan.dusk)
            wanted[k, t] = math.nan if target is None else target
    lit[:, dead] = 0.0
    return Timetable(begins, lit[which], wanted[which])
