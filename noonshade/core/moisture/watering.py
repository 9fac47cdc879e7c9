"""How fast each part of the ground and each pool dries, when to water again, and with how much."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.climate import Climate
from noonshade.core.moisture.spray import SPRAY_ON_SURFACES, sprayed_area_m2
from noonshade.core.moisture.vapour import saturation_density
from noonshade.core.plan import Plan, Substrate

Floats = NDArray[np.float64]

# Share of the water ground can hold that makes it damp, not wet: a handful keeps its shape. Estimate.
DAMP_SHARE = 0.5
# Damp ground is watered again when it has given off so much of what makes it damp. Estimate.
WATERED_AT = 0.5
# It is looked at once a month at least, whatever is computed, days. Estimate.
LONGEST_DAYS = 30.0


@dataclass(frozen=True, slots=True)
class WaterUse:
    """What a part of the enclosure gives off in a day and gets by spraying, and what it holds, litres.

    ``held_l`` is the water that makes the ground damp, of a pool what is in it.
    """

    id: str
    label: str
    kind: Literal["ground", "zone", "pool"]
    area_m2: float
    lost_l_day: float
    sprayed_l_day: float
    held_l: float

    @property
    def short_l_day(self) -> float:
        """What it loses and spraying does not bring back, litres a day."""
        return max(self.lost_l_day - self.sprayed_l_day, 0.0)

    @property
    def every_days(self) -> float | None:
        """Days after which it is watered again, at most a month; None where spraying suffices.

        Pools are topped up every day.
        """
        if self.short_l_day <= 0:
            return None
        if self.kind == "pool":
            return 1.0
        return min(WATERED_AT * self.held_l / self.short_l_day, LONGEST_DAYS)

    @property
    def pour_l(self) -> float | None:
        """Water it gets then, litres; None where spraying suffices."""
        every = self.every_days
        return None if every is None else self.short_l_day * every


def water_uses(plan: Plan, day: Climate, night: Climate) -> tuple[WaterUse, ...]:
    """Water by part: the ground as a whole without its zones, each zone, each pool; none for dry ones.

    At the rates of the steady day while lamps burn and of the steady night for the rest, kept as damp as
    it is planned.

    Parameters
    ----------
    plan : Plan
        The plan.
    day, night : Climate
        Its steady climates.

    Returns
    -------
    tuple of WaterUse
        In the order of the plan.
    """
    hours = plan.photoperiod_h
    rates = [_by_part(plan, climate) for climate in (day, night)]
    sprayed = SPRAY_ON_SURFACES * sum(len(m.hours) * m.litres for m in plan.mistings)
    per_m2 = sprayed / sprayed_area_m2(plan)
    ground = plan.substrate
    floor = plan.enclosure.length_m * plan.enclosure.depth_m
    apart = sum(z.length_m * z.width_m for z in ground.zones) + sum(
        w.length_m * w.width_m for w in plan.waters
    )
    parts: list[tuple[str, str, Literal["ground", "zone", "pool"], float, float]] = []
    if ground.wetness > 0:
        parts.append(("ground", "Ground", "ground", max(floor - apart, 0.0), damp_water_l_m2(ground)))
    parts += [
        (z.id, z.label, "zone", z.length_m * z.width_m, damp_water_l_m2(ground))
        for z in ground.zones
        if z.wetness > 0
    ]
    parts += [(w.id, w.label, "pool", w.length_m * w.width_m, 1000.0 * w.depth_m) for w in plan.waters]
    found = []
    for key, label, kind, area, held in parts:
        lit, dark = (rate.get(key, 0.0) for rate in rates)
        # A kilogram of water is a litre.
        lost = 3600.0 * (hours * lit + (24.0 - hours) * dark)
        found.append(WaterUse(key, label, kind, area, lost, per_m2 * area, held * area))
    return tuple(found)


def damp_water_l_m2(ground: Substrate) -> float:
    """Water that makes the ground damp: of the layers that are damp, down to a sheet or all of them.

    Parameters
    ----------
    ground : Substrate
        The ground.

    Returns
    -------
    float
        Litres for each square metre; 0 where it is planned dry.
    """
    held = 0.0
    for layer in ground.layers:
        if layer.barrier:
            break
        if (ground.wettest if layer.wetness is None else layer.wetness) <= 0:
            continue
        held += 1000.0 * layer.depth_m * layer.material.water_held * DAMP_SHARE
    return held


def _by_part(plan: Plan, climate: Climate) -> dict[str, float]:
    """Water each part gives off, kg/s."""
    exchange = climate.vapour_paths.exchange
    full = saturation_density(climate.temperature_c[exchange.node])
    given = exchange.passing_m3_s * (full - climate.moisture.vapour_kg_m3)
    given = np.where(exchange.wet, np.maximum(given, 0.0), 0.0)
    sheet = climate.grid.floor[0]
    floor = np.isin(exchange.node, sheet.nodes)
    cells = np.bincount(exchange.node[floor] - sheet.start, given[floor], sheet.nx * sheet.ny).reshape(
        sheet.nx, sheet.ny
    )
    # Where several parts share a cell, each gives off as its area and wetness have it.
    ground = plan.substrate
    left = np.ones((sheet.nx, sheet.ny))
    weights: dict[str, Floats] = {}
    for water in plan.waters:
        share = sheet.share_within(water.x_m, water.y_m, water.length_m, water.width_m) * left
        weights[water.id] = share
        left = left - share
    for zone in reversed(ground.zones):
        share = sheet.share_within(zone.x_m, zone.y_m, zone.length_m, zone.width_m) * left
        weights[zone.id] = share * zone.wetness
        left = left - share
    weights["ground"] = left * ground.wetness
    total = sum(weights.values())
    shared = np.divide(cells, total, out=np.zeros(cells.shape), where=total > 0)
    return {key: float(np.sum(weight * shared)) for key, weight in weights.items()}
