"""Designs over the months of a room: what is built for the cold, dials, care by month, and what fails."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.care.seasonal_settings import ByMonth, CareSetting, cared_for
from noonshade.core.care.year import Year, middle_week, plan_at, setting_changes, weeks_of
from noonshade.core.design.aims import cost_of, unfit_in
from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.brief import Brief
from noonshade.core.design.conflicts import find_conflicts
from noonshade.core.design.designed_year import designed_year
from noonshade.core.design.dials import turned
from noonshade.core.design.heaters import basking_choices
from noonshade.core.design.lighting import beside_panels
from noonshade.core.design.months import DesignedMonth
from noonshade.core.design.options import arrangements_for, sites_for
from noonshade.core.design.regulation import PROBE_REACH, regulate
from noonshade.core.design.search import Search
from noonshade.core.design.set_up import SetUp, finish
from noonshade.core.design.shells import Stock
from noonshade.core.evaluate import Evaluation
from noonshade.core.forecast import forecast_months
from noonshade.core.heat.climate import steady_climate
from noonshade.core.needs.species import StageId
from noonshade.core.plan import PanelSource, Room, RoomClimate
from noonshade.formats.calendar_file import care_notes
from noonshade.formats.year_document import year_document, year_from_document
from tests.builders import CATALOG, demo_plan, shipped_plan
from tests.evaluated import evaluate

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)
MILD, COLD = RoomClimate(21.0, 17.0, 0.45), RoomClimate(18.0, 13.0, 0.44)
WINTRY = Room(21.0, 17.0, 0.45, months=(COLD, *(MILD,) * 10, COLD))


def wanted(species_id: str, stage: StageId = "adult", room: Room = WINTRY) -> Brief:
    return Brief(CATALOG.species[species_id], room, stage=stage)


def heated(brief: Brief, kind: str, lamp_id: str) -> Arrangement:
    """The first arrangement in walls of a kind with a heater for the air of a kind."""
    return next(
        one
        for site in sites_for(brief, STOCK)
        if site.kind == kind
        for one in arrangements_for(site)
        if one.air is not None and one.air.lamp.id == lamp_id
    )


@pytest.fixture(scope="module")
def chameleon() -> SetUp:
    brief = wanted("furcifer-pardalis")
    found = Search(heated(brief, "timber", "ceramic-heater")).run()
    assert found is not None
    made = finish(found, brief)
    assert made is not None
    return made


def test_a_heater_that_is_idle_now_is_built_for_the_nights_of_a_cold_month(chameleon: SetUp) -> None:
    heater = next(f for f in chameleon.plan.fixtures if f.thermostat_id == "air")
    assert heater.lit == "always"
    assert chameleon.fits_all_year
    january = next(t for t in chameleon.months[0].thermostats if t.id == "air")
    assert january.night_set_point_c is not None


def test_the_probe_of_the_air_hangs_beside_its_heater(chameleon: SetUp) -> None:
    heater = next(f for f in chameleon.plan.fixtures if f.thermostat_id == "air")
    control = next(t for t in chameleon.plan.thermostats if t.id == "air")
    reach = PROBE_REACH * chameleon.plan.enclosure.length_m
    assert abs(control.probe_m[0] - heater.position_m[0]) <= reach + 2e-3
    assert not any(f.id.startswith("probe-far") for f in evaluate(chameleon.plan).findings)


def test_months_are_as_the_year_of_the_plan_has_them(chameleon: SetUp) -> None:
    by_month = ByMonth((), chameleon.year.settings, chameleon.year.care)
    told = forecast_months(chameleon.plan, by_month)
    assert [m.failing == 0 for m in told] == [m.failing == 0 for m in chameleon.months]


# -- dials ------------------------------------------------------------------------------------


def test_a_dial_set_wrong_is_turned_to_where_the_checks_are_met(chameleon: SetUp) -> None:
    plan = chameleon.plan
    too_high = tuple(
        replace(t, day_set_point_c=(t.day_set_point_c or 0.0) + 2.0) if t.id == "basking" else t
        for t in plan.thermostats
    )
    wrong = evaluate(replace(plan, thermostats=too_high))
    better = turned(wrong, ("basking", "air"))
    assert cost_of(better) < cost_of(wrong) - 1.0
    assert not better.failing
    # What the keeper has locked is not turned.
    assert turned(wrong, ()).plan == wrong.plan


def test_no_turn_makes_a_surface_too_hot(chameleon: SetUp) -> None:
    plan = replace(chameleon.plan, room=replace(chameleon.plan.room, day_temperature_c=14.0))
    cold = evaluate(plan)
    assert any(c.status == "low" for c in cold.checks)
    assert unfit_in(turned(cold, ("basking", "air"))) <= unfit_in(cold)


# -- care by month ----------------------------------------------------------------------------

SUMMER = CareSetting(6, 8, 0.5, 0.1, 2.0)


def test_care_of_a_month_changes_sprays_ground_and_vents_then_only() -> None:
    plan = shipped_plan("gargoyle-gecko")
    there = cared_for(plan, (SUMMER,), 7)
    assert [m.litres for m in there.mistings] == [0.5 * m.litres for m in plan.mistings]
    assert plan.mistings
    assert there.substrate.wetness == 0.1
    assert [v.area_m2 for v in there.enclosure.vents] == [2.0 * v.area_m2 for v in plan.enclosure.vents]
    assert cared_for(plan, (SUMMER,), 9) is plan
    year = Year(care=(SUMMER,))
    assert plan_at(plan, year, weeks_of(plan, year)[middle_week(7) - 1]).substrate.wetness == 0.1


def test_care_is_on_the_card_and_survives_being_written_down() -> None:
    plan = shipped_plan("gargoyle-gecko")
    year = Year(care=(SUMMER,), days_follow=0.0)
    assert year_from_document(year_document(year)) == year
    said = [care_notes(c) for c in setting_changes(plan, year)]
    assert "keep the ground damp" in said[1]
    assert any(note.startswith("vents open ") for note in said[1])
    assert said[0] == said[2] != said[1]


def cared(number: int, care: CareSetting | None) -> DesignedMonth:
    own = None if care is None else replace(care, from_month=number, to_month=number)
    return DesignedMonth(number, (), care is not None, 0, True, "", (), (), own)


@pytest.mark.parametrize(
    ("wet", "spans"),
    [
        ((1, 2, 12), [(12, 2)]),
        ((6, 7, 8), [(6, 8)]),
        ((3, 9), [(3, 3), (9, 9)]),
        (tuple(range(1, 13)), [(1, 12)]),
        ((), []),
    ],
)
def test_months_cared_for_alike_become_one_span_around_the_year(
    wet: tuple[int, ...], spans: list[tuple[int, int]]
) -> None:
    months = tuple(cared(n, SUMMER if n in wet else None) for n in range(1, 13))
    year = designed_year(demo_plan(), months)
    assert [(c.from_month, c.to_month) for c in year.care] == spans
    for n in range(1, 13):
        assert any(c.covers(n) for c in year.care) is (n in wet)


# -- what fails -------------------------------------------------------------------------------


def test_a_month_that_every_way_misses_is_a_true_conflict(chameleon: SetUp) -> None:
    hot = evaluate(shipped_plan("collared-lizard"))
    missed = next(c for c in hot.checks if c.id == "basking:surface_temperature")
    met: Evaluation = replace(
        hot, checks=tuple(replace(c, status="ok") if c.id == missed.id else c for c in hot.checks)
    )
    months = tuple(
        DesignedMonth(n, (), False, int(n == 1), n != 1, "too cold" if n == 1 else "", (), (missed.id,))
        for n in range(1, 13)
    )
    one = replace(chameleon, months=months)
    for ways, true in (((hot,) * 6, True), ((*(hot,) * 5, met), False), ((hot,) * 5, False)):
        (conflict,) = find_conflicts(wanted("furcifer-pardalis"), [one], (), (ways, ()))
        assert conflict.true is true
        said = "".join(p if isinstance(p, str) else f"{p.value:g}" for p in conflict.sentence)
        assert said.startswith("In January: too cold. The room is then down to 18 by day and 13 by night")
        assert ("each of 6 ways" in said) is true


# -- small and damp ---------------------------------------------------------------------------


def test_a_small_damp_enclosure_with_mats_settles() -> None:
    """Its vapour went back and forth for ever where it was not mixed with what it depends on."""
    brief = wanted("caribena-versicolor", room=Room(21.0, 17.0, 0.45))
    site = next(s for s in sites_for(brief, STOCK) if s.kind == "glass" and s.lid_share < 0.1)
    arrangement = next(a for a in arrangements_for(site) if a.air and len(a.air.positions) == 3)
    damp = {"air_w": 8.9, "air_night_w": 12.34, "openness": 0.0, "wetness": 0.75, "spray_l_m2": 1.16}
    plan = regulate(arrangement, damp)
    assert plan is not None
    for moment in ("day", "night"):
        assert steady_climate(plan, moment).iterations < 30  # type: ignore[arg-type]


# -- lamps beside each other ------------------------------------------------------------------


def test_lamps_for_light_lie_beside_panels_and_not_below_them() -> None:
    brief = wanted("eublepharis-macularius", room=Room(21.0, 17.0, 0.45))
    site = next(s for s in sites_for(brief, STOCK) if s.closed)
    lights = next(iter(arrangements_for(site))).lights
    panel = next(one for one in basking_choices(site) if one.mount == "screwed")
    x, y, z = panel.positions[0]
    inside = tuple(replace(f, position_m=(x, y, z - 0.01)) for f in lights)
    assert inside
    moved = beside_panels(inside, (panel, None), site)
    assert moved is not None
    assert isinstance(panel.lamp.geometry, PanelSource)
    for light in moved:
        assert abs(light.position_m[1] - y) > panel.lamp.geometry.width_m / 2
        assert 0.0 < light.position_m[1] < site.size.depth_m
    # Far away nothing is moved, and a panel as deep as the enclosure leaves no room.
    assert beside_panels(lights, (None,), site) == lights
    depth = panel.lamp.geometry.width_m
    narrow = replace(site, size=replace(site.size, depth_m=depth))
    over_all = replace(panel, positions=((x, depth / 2, z),))
    assert beside_panels(inside, (over_all,), narrow) is None
