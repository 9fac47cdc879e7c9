"""From watts that fit to lamps that are sold, thermostats and set points."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from noonshade.core.design.arrangement import OFF_W, Arrangement, basking_label, burning
from noonshade.core.design.site import HeaterChoice
from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE, Resolution
from noonshade.core.plan import ControlKind, Fixture, LitPeriod, Moment, Plan, Point, Thermostat

# The next sold watts with so much in reserve: rooms are colder than thought, and lamps weaker.
RESERVE = 1.1
# Heaters that burn with less than this share of what they could are left out.
IDLE_SHARE = 0.02
# Set points are set to this, K.
SET_TO_K = 0.5
# A set point no probe reaches: what it governs burns all the time.
ALWAYS_ON_C = 99.0
# Where a probe for the air hangs: along the length and the depth as shares, and above the ground, m.
PROBE_AT = ((0.07, 0.88), (0.07, 0.12), (0.30, 0.94), (0.42, 0.94), (0.42, 0.06))
PROBE_HEIGHT_M, PROBE_CLEAR_M = 0.10, 0.04
# A probe is nowhere farther from its heater than this share of the length. Estimate.
PROBE_REACH = 0.42
# Ids of the thermostats that are set here.
GROUPS = ("basking", "air")
_GROUPS = (("basking", "Basking lamp", "Basking thermostat"), ("air", "Air heater", "Air thermostat"))


def regulate(
    arrangement: Arrangement,
    values: Mapping[str, float],
    most: Mapping[str, float] | None = None,
    probe: int = 0,
    resolution: Resolution | None = COARSE,
) -> Plan | None:
    """The plan a keeper builds: lamps of sold watts, on thermostats set to what probes read at the watts
    found.

    Parameters
    ----------
    arrangement : Arrangement
        What is decided.
    values : Mapping[str, float]
        Settings found, watts among them.
    most : Mapping[str, float] or None
        The most watts of each setting over the year, where other months take more: heaters that are idle
        now and wanted then are built, and set to off.
    probe : int
        Which of the places for the probe of the air is taken.
    resolution : Resolution or None
        How finely probes are read.

    Returns
    -------
    Plan or None
        None where no lamp is sold that is strong enough, or no steady state is found.
    """
    raw = arrangement.at(values)
    fixtures: list[Fixture] = list(arrangement.lights)
    # Those of lamps that stay.
    thermostats: list[Thermostat] = list(raw.thermostats)
    taken = {t.id for t in thermostats}
    for name, label, called in _GROUPS:
        choice = arrangement.basking if name == "basking" else arrangement.air
        if choice is None:
            continue
        day, night = values.get(f"{name}_w", 0.0), values.get(f"{name}_night_w", 0.0)
        idle = IDLE_SHARE * choice.most_w
        year = most or {}
        day, night = max(day, year.get(f"{name}_w", 0.0)), max(night, year.get(f"{name}_night_w", 0.0))
        day, night = (0.0 if day < idle else day), (0.0 if night < idle else night)
        if max(day, night) < OFF_W or name in taken:
            continue
        power = sold_watts(choice, max(day, night))
        if power is None:
            return None
        lit: LitPeriod = "day" if night == 0.0 else "night" if day == 0.0 else "always"
        if choice.lamp.gives_light:
            lit = "day"
        at = _probe_at(arrangement, name, probe)
        control = Thermostat(
            name, called, _kind(choice), ALWAYS_ON_C, ALWAYS_ON_C, 1.0 if name == "air" else 0.5, at
        )
        thermostats.append(control)
        fixtures += [
            replace(
                f,
                id=_id(name, i, choice, fixtures),
                lamp=choice.lamp,
                power_w=power,
                lit=lit,
                thermostat_id=name,
            )
            for i, f in enumerate(burning(choice, name, _called(name, label, choice), 1.0, "day"))
        ]
    plan = replace(raw, fixtures=tuple(fixtures), thermostats=tuple(thermostats))
    return with_set_points(plan, arrangement, values, resolution)


def with_set_points(
    plan: Plan,
    arrangement: Arrangement,
    values: Mapping[str, float],
    resolution: Resolution | None = COARSE,
) -> Plan | None:
    """The plan with its thermostats set to what their probes read while heaters burn with given watts.

    Parameters
    ----------
    plan : Plan
        A plan of the arrangement, with thermostats.
    arrangement : Arrangement
        What it is.
    values : Mapping[str, float]
        Effective watts by name.
    resolution : Resolution or None
        How finely probes are read.

    Returns
    -------
    Plan or None
        None without a steady state.
    """
    found = {t.id: t for t in plan.thermostats}
    ours = {name for name, _, _ in _GROUPS if name not in {f.thermostat_id for f in arrangement.lights}}
    for moment in ("day", "night"):
        read = _readings(plan, arrangement, values, moment, resolution)
        if read is None:
            return None
        for key, control in found.items():
            if key not in ours:
                continue
            power = values.get(f"{key}_w" if moment == "day" else f"{key}_night_w", 0.0)
            choice = arrangement.basking if key == "basking" else arrangement.air
            on = choice is not None and power >= max(IDLE_SHARE * choice.most_w, OFF_W) and key in read
            point = round(read[key] / SET_TO_K) * SET_TO_K if on else None
            if moment == "day":
                found[key] = replace(control, day_set_point_c=point)
            else:
                found[key] = replace(control, night_set_point_c=point)
    return replace(plan, thermostats=tuple(found.values()))


def _readings(
    plan: Plan,
    arrangement: Arrangement,
    values: Mapping[str, float],
    moment: Moment,
    resolution: Resolution | None,
) -> dict[str, float] | None:
    """What each thermostat's probe reads with its heaters at the watts found, °C."""
    fixtures: list[Fixture] = list(arrangement.lights)
    kept = {f.thermostat_id for f in arrangement.lights}
    always = tuple(
        t if t.id in kept else replace(t, day_set_point_c=ALWAYS_ON_C, night_set_point_c=ALWAYS_ON_C)
        for t in plan.thermostats
    )
    for name, label, _ in _GROUPS:
        choice = arrangement.basking if name == "basking" else arrangement.air
        if choice is None or all(t.id != name for t in always):
            continue
        power = values.get(f"{name}_w" if moment == "day" else f"{name}_night_w", 0.0)
        fixtures += [replace(f, thermostat_id=name) for f in burning(choice, name, label, power, moment)]
    burns = replace(plan, fixtures=tuple(fixtures), thermostats=always)
    try:
        climate = steady_climate(burns, moment, resolution)
    except ConvergenceError:
        return None
    return {s.thermostat.id: s.probe_c for s in climate.thermostats}


def sold_watts(choice: HeaterChoice, power_w: float) -> float | None:
    """Watts of each of the heaters of a choice: what is sold, with something in reserve.

    Parameters
    ----------
    choice : HeaterChoice
        The heaters.
    power_w : float
        What all together give on the mean, W.

    Returns
    -------
    float or None
        The least that is enough; the most that is sold where that is just enough; None where nothing is.
    """
    each = power_w / len(choice.positions)
    sold = sorted(choice.lamp.power_choices_w)
    enough = next((w for w in sold if w >= RESERVE * each), None)
    if enough is not None:
        return enough
    return sold[-1] if sold[-1] >= each else None


def _called(name: str, label: str, choice: HeaterChoice) -> str:
    """What a heater of a group is called."""
    return basking_label(choice) if name == "basking" else label


def _kind(choice: HeaterChoice) -> ControlKind:
    return "dimming" if "dimming" in choice.lamp.controls else "pulse"


def _id(name: str, i: int, choice: HeaterChoice, beside: list[Fixture]) -> str:
    base = "basking-lamp" if name == "basking" else "air-heater"
    while any(f.id == base for f in beside):
        base += "-new"
    return base if len(choice.positions) == 1 else f"{base}-{i + 1}"


def _beside(x_m: float, heater: HeaterChoice | None, length_m: float) -> float:
    """The place along the length nearest to one wanted that is still beside a heater, m."""
    if heater is None:
        return x_m
    own = min((p[0] for p in heater.positions), key=lambda x: abs(x - x_m))
    reach = PROBE_REACH * length_m
    return min(max(x_m, own - reach), own + reach)


def _probe_at(arrangement: Arrangement, name: str, number: int) -> Point:
    """On the basking surface for the heater over it; in the shade of the warm end for that of the air."""
    site = arrangement.site
    size, furnished = site.size, site.furnished
    x, y, top = furnished.basking_m
    if name == "basking":
        spot = next((f for f in furnished.furnishings if f.id == "basking"), None)
        aside = 0.0
        if spot is not None:
            # Beside the middle, where the animal's back is not in the way.
            aside = 0.25 * spot.length_m  # type: ignore[union-attr]
        return (round(x + aside, 3), round(y, 3), round(top + 0.002, 3))
    along, across = PROBE_AT[number % len(PROBE_AT)]
    along = _beside(along * size.length_m, arrangement.air, size.length_m) / size.length_m
    if site.animal.lives_by_height:
        height = min(top + 0.05, size.height_m - 0.06)
    else:
        height = furnished.substrate.depth_m + min(
            PROBE_HEIGHT_M, 0.4 * (size.height_m - furnished.substrate.depth_m)
        )
    return (
        round(max(along * size.length_m, min(PROBE_CLEAR_M, size.length_m / 4)), 3),
        round(across * size.depth_m, 3),
        round(height, 3),
    )
