"""One way to build, furnish and equip an enclosure, with the settings that are still open."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.design.habits import is_humid, may_be_wet, wants_damp, wants_spray
from noonshade.core.design.room_needs import dries_out, wanted_rises_k
from noonshade.core.design.shells import shell
from noonshade.core.design.site import HeaterChoice, Site
from noonshade.core.plan import Fixture, LitPeriod, Misting, Plan

Floats = NDArray[np.float64]

# When moist enclosures are sprayed, h; and where nights are too dry: leaves hold only so much. Estimates.
SPRAYED_AT = (8.0, 19.0)
SPRAYED_BY_NIGHT_AT = (*SPRAYED_AT, 22.0)
# Litres each time on a square metre, at most and at least: drops to drink; not less than a few strokes of a
# hand sprayer, L. And how wet ground may be kept. Estimates.
MOST_SPRAY_L_M2, LEAST_SPRAY_L_M2, LEAST_SPRAY_L = 1.5, 0.02, 0.005
# Reptiles that lie on the ground are sprayed no more than this, and their ground is no wetter: skin rots.
# Estimates.
SPARING_L_M2, MOIST = 0.5, 0.45
WET = (0.05, 0.8)
# A basking lamp burns with at least so much of the least that is sold.
LEAST_LIT = 0.25
# Animals that avoid heat are warmed by day only where the room is less than this above what they need, K.
COOL_K = -0.5
# Less than this is off, W.
OFF_W = 0.05


@dataclass(frozen=True, slots=True)
class Setting:
    """Something to be set between two ends: what it is, where the search begins, and its first step."""

    name: str
    low: float
    high: float
    start: float
    step: float


@dataclass(frozen=True, slots=True)
class Arrangement:
    """What is decided before watts and moisture are: where, furnished how, with which lamps and heaters.

    ``basking`` heats the basking spot by day, and by night if it gives no light; ``air`` the air, by day
    and by night, each None for none. ``unusual`` counts steps away from what keepers usually build;
    ``sprayed_at`` are the hours of spraying, where it is sprayed.
    """

    site: Site
    lights: tuple[Fixture, ...]
    basking: HeaterChoice | None
    air: HeaterChoice | None
    unusual: int = 0
    sprayed_at: tuple[float, ...] = SPRAYED_AT

    @property
    def parts(self) -> int:
        """How many lamps and heaters it has."""
        found = len(self.lights)
        for choice in (self.basking, self.air):
            found += 0 if choice is None else len(choice.positions)
        return found

    def settings(self) -> tuple[Setting, ...]:
        """What is open, with its ends."""
        site = self.site
        found: list[Setting] = []
        if self.basking is not None:
            most = self.basking.most_w
            least = 0.0 if self.air is not None else 0.1 * self.basking.lamp.power_min_w
            if self.basking.lamp.gives_light:
                # It always burns: its thermostat holds the surface, which what else warms it does not.
                least = LEAST_LIT * min(self.basking.lamp.power_choices_w) * len(self.basking.positions)
            found.append(Setting("basking_w", least, most, 0.4 * most, 0.15 * most))
            if not self.basking.lamp.gives_light:
                found.append(Setting("basking_night_w", 0.0, most, 0.05 * most, 0.15 * most))
        if self.air is not None:
            most = self.air.most_w
            wanted_by_day, _ = wanted_rises_k(site.animal, site.brief.room, basks=False)
            if site.animal.species.heat != "avoided" or wanted_by_day > COOL_K:
                found.append(Setting("air_w", 0.0, most, 0.1 * most, 0.15 * most))
            found.append(Setting("air_night_w", 0.0, most, 0.1 * most, 0.15 * most))
        if site.kind in ("glass", "timber", "pvc") and site.brief.given is None:
            humid = is_humid(site.animal)
            found.append(Setting("openness", 0.0, 1.0, 0.3 if humid else 0.6, 0.2))
        given = site.brief.given
        if given is not None and site.brief.scope != "equipment":
            # The ground and the sprays stay as they are.
            return tuple(found)
        damp = None if given is None else given.substrate.wetness
        if is_humid(site.animal):
            high = WET[1] if may_be_wet(site.animal) else MOIST
            start = 0.3 if damp is None else min(max(damp, WET[0]), high)
            found.append(Setting("wetness", WET[0], high, start, 0.15))
        elif wants_damp(site.animal) or dries_out(site.animal, site.brief.room):
            found.append(Setting("wetness", 0.0, MOIST, min(damp or 0.0, MOIST), 0.1))
        if wants_spray(site.animal) and "misting" not in site.brief.never:
            most = MOST_SPRAY_L_M2 if may_be_wet(site.animal) else SPARING_L_M2
            found.append(Setting("spray_l_m2", LEAST_SPRAY_L_M2, most, 0.3, 0.2))
        return tuple(found)

    def bare(self, openness: float) -> Plan:
        """The plan without lamps, heaters and sprays.

        Parameters
        ----------
        openness : float
            How open lid and vents are, 0 to 1.

        Returns
        -------
        Plan
            Walls, ground and things.
        """
        return bare_plan(self.site, openness)

    def at(self, values: Mapping[str, float]) -> Plan:
        """The plan at some settings, heaters burning with the watts given as if nothing governed them.

        Parameters
        ----------
        values : Mapping[str, float]
            Values of the settings by name.

        Returns
        -------
        Plan
            Without thermostats; its heaters may burn with fewer watts than they are sold in.
        """
        site = self.site
        plan = self.bare(values.get("openness", 0.5))
        fixtures = [*self.lights]
        for name, label, choice in (
            ("basking", basking_label(self.basking), self.basking),
            ("air", "Air heater", self.air),
        ):
            if choice is None:
                continue
            for lit, key in (("day", f"{name}_w"), ("night", f"{name}_night_w")):
                fixtures += burning(choice, name, label, values.get(key, 0.0), lit)  # type: ignore[arg-type]
        ground = replace(plan.substrate, wetness=round(values.get("wetness", plan.substrate.wetness), 3))
        mistings = (
            sprayed(site, values["spray_l_m2"], self.sprayed_at)
            if "spray_l_m2" in values
            else plan.mistings
        )
        own = {f.thermostat_id for f in self.lights}
        controls = () if site.brief.given is None else site.brief.given.thermostats
        return replace(
            plan,
            substrate=ground,
            fixtures=tuple(fixtures),
            thermostats=tuple(t for t in controls if t.id in own),
            mistings=mistings,
        )


def basking_label(choice: HeaterChoice | None) -> str:
    """What heats the basking spot, in words: only what shines is a lamp.

    Parameters
    ----------
    choice : HeaterChoice or None
        The heater.

    Returns
    -------
    str
        A label.
    """
    return "Basking lamp" if choice is None or choice.lamp.gives_light else "Basking heater"


def bare_plan(site: Site, openness: float) -> Plan:
    """Walls, ground and things of a site, without lamps, heaters and sprays.

    Parameters
    ----------
    site : Site
        The site.
    openness : float
        How open lid and vents are, 0 to 1.

    Returns
    -------
    Plan
        A plan to put lamps into.
    """
    brief, furnished = site.brief, site.furnished
    if brief.given is not None:
        return replace(brief.given, fixtures=(), thermostats=())
    return Plan(
        name=brief.name or brief.species.common_name,
        animal=site.animal,
        room=brief.room,
        enclosure=shell(
            site.size, site.kind, openness, furnished.substrate.depth_m, site.stock, site.lid_share
        ),
        substrate=furnished.substrate,
        furnishings=furnished.furnishings,
        fixtures=(),
        thermostats=(),
    )


def burning(
    choice: HeaterChoice, name: str, label: str, power_w: float, lit: LitPeriod
) -> tuple[Fixture, ...]:
    """Heaters of a choice that burn with some watts together; none below what counts as on.

    Parameters
    ----------
    choice : HeaterChoice
        The heaters.
    name, label : str
        What ids and labels begin with.
    power_w : float
        Watts of all together.
    lit : LitPeriod
        When they are on.

    Returns
    -------
    tuple[Fixture, ...]
        One for each place.
    """
    if power_w < OFF_W:
        return ()
    lamp = replace(choice.lamp, power_min_w=0.0)
    each = min(power_w / len(choice.positions), lamp.power_max_w)
    several = len(choice.positions) > 1
    return tuple(
        Fixture(
            f"{name}-{lit}" + (f"-{i + 1}" if several else ""),
            label + (f" {i + 1}" if several else ""),
            lamp,
            each,
            at,
            lit,
            mount=choice.mount_of(i),
            guard=choice.guard,
        )
        for i, at in enumerate(choice.positions)
    )


def sprayed(site: Site, litres_m2: float, at: tuple[float, ...]) -> tuple[Misting, ...]:
    """Spraying with the same each time.

    Parameters
    ----------
    site : Site
        Where.
    litres_m2 : float
        Litres each time on a square metre of ground.
    at : tuple[float, ...]
        When, h.

    Returns
    -------
    tuple[Misting, ...]
        One.
    """
    litres = round(max(litres_m2 * site.size.length_m * site.size.depth_m, LEAST_SPRAY_L), 3)
    return (Misting(at, litres),)
