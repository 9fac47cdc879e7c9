"""Operative temperature, the warm patch, and what a branch reads."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.day import simulate_day
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import section
from noonshade.core.heat.grids import SheetGrid
from noonshade.core.heat.operative import (
    body_film_w_m2k,
    operative_temperature,
    warm_patch,
)
from noonshade.core.light.field import light_at
from noonshade.core.places import basking_patch
from noonshade.core.plan import Branch, Plan
from noonshade.core.probe import probe
from tests.builders import MATERIALS, controlled, demo_plan, lamp, plan, timber_enclosure
from tests.evaluated import evaluate


@given(t=st.floats(5, 45), length=st.floats(0.02, 0.6))
def test_a_body_in_even_surroundings_is_as_warm_as_they_are(t: float, length: float) -> None:
    assert operative_temperature(t, t, t, 0.0, length) == pytest.approx(t)


@given(
    air=st.floats(10, 40),
    ground=st.floats(10, 60),
    beam=st.floats(0, 1000),
    more=st.floats(1, 300),
    length=st.floats(0.03, 0.5),
)
def test_more_lamp_is_warmer_and_shade_lies_between_air_and_ground(
    air: float, ground: float, beam: float, more: float, length: float
) -> None:
    shaded = operative_temperature(air, ground, air, 0.0, length)
    assert min(air, ground) - 1e-9 <= shaded <= max(air, ground) + 1e-9
    lit = operative_temperature(air, ground, air, beam, length)
    assert operative_temperature(air, ground, air, beam + more, length) > lit >= shaded


def test_small_bodies_follow_the_air_more_closely() -> None:
    assert body_film_w_m2k(0.05) > body_film_w_m2k(0.3)
    # A lizard of 10 cm in a good beam: some ten kelvin above what it would be in the shade.
    rise = operative_temperature(30, 30, 30, 700, 0.1) - 30
    assert 7 < rise < 15


def test_the_patch_is_where_the_surface_is_warm() -> None:
    edges = np.linspace(0.0, 0.4, 41)
    sheet = SheetGrid(edges, edges, 0)
    gx, gy = np.meshgrid(sheet.x - 0.2, sheet.y - 0.2, indexing="ij")
    # A cone of 1 K a centimetre about the middle: 10 K below the top is a disc of 20 cm.
    cone = 50.0 - 100.0 * np.hypot(gx, gy)
    patch = warm_patch(sheet, cone, 40.0)
    assert patch.length_m == pytest.approx(0.20, abs=0.006)
    assert patch.width_m == pytest.approx(0.20, abs=0.006)
    assert patch.area_m2 == pytest.approx(np.pi * 0.1**2, rel=0.03)
    assert warm_patch(sheet, cone, 55.0).area_m2 == 0
    assert warm_patch(sheet, np.full(cone.shape, 50.0), 40.0).length_m == pytest.approx(0.4)


def test_the_patch_of_the_demo_goes_by_its_need_or_by_what_is_asked() -> None:
    result = evaluate(demo_plan())
    usual = basking_patch(result.day)
    assert usual is not None
    assert usual.above_c == 43.0
    assert usual.area_m2 > 0.03
    hotter = basking_patch(result.day, 60.0)
    assert hotter is not None
    assert hotter.area_m2 < usual.area_m2
    # Without a slab the warm part of the ground counts.
    bare = evaluate(replace(demo_plan(), furnishings=()))
    on_ground = basking_patch(bare.day)
    assert on_ground is not None
    assert on_ground.area_m2 == pytest.approx(warm_ground_m2(bare, 43.0), rel=0.3)


def warm_ground_m2(evaluation: Evaluation, above_c: float) -> float:
    floor = evaluation.day.grid.floor[0]
    return float(np.sum(evaluation.day.sheet_c(floor) >= above_c)) * floor.dx * floor.dy


def branch_plan(z: float = 0.30, watts: float = 75) -> Plan:
    branch = Branch("b", "Branch", (0.1, 0.3, z), (0.9, 0.3, z), 0.04, MATERIALS["hardwood"])
    return plan(
        timber_enclosure(), fixtures=(lamp("halogen-flood", watts, 0.3, 0.3, 0.55),), furnishings=(branch,)
    )


def test_the_upper_side_of_a_branch_keeps_its_own_balance() -> None:
    """What it absorbs it gives to air and walls, and around it through the wood."""
    source = branch_plan()
    climate = evaluate(source).day
    rod = climate.grid.rods[0]
    k = rod.nearest(0.3, 0.3, 0.32)
    upper = float(climate.temperature_c[rod.nodes[k, 0]])
    under = light_at(source, rod.centres[[k]] + [0, 0, 0.0206], source.fixtures)
    # The mean over a quarter of the round, of a beam from above.
    caught = float(under.irradiance_level_w_m2[0]) * math.sqrt(8.0) / math.pi
    air = float(climate.air_at(rod.centres[[k], 0], rod.centres[[k], 2])[0])
    film = math.hypot(1.32 * ((upper - air) / 0.04) ** 0.25, 1.0)
    radiative = 4 * rod.item.material.emissivity * 5.67e-8 * ((upper + climate.radiant_c) / 2 + 273.15) ** 3
    given = film * (upper - air) + radiative * (upper - climate.radiant_c)
    absorbed = rod.item.material.absorptance * caught
    beside = climate.temperature_c[rod.nodes[k, [1, 3]]]
    around = rod.item.material.conductivity_w_mk / math.sqrt(2) * float(np.sum(upper - beside))
    along = 0.03 * absorbed  # to the cooler pieces either way
    assert given + around / (math.pi * 0.04 / 4) + along == pytest.approx(absorbed, rel=0.06)


def test_a_branch_reads_warmer_than_the_air_and_less_the_farther_it_hangs() -> None:
    result = evaluate(branch_plan())
    rod = result.day.grid.rods[0]
    around = result.day.temperature_c[rod.nodes[rod.nearest(0.3, 0.3, 0.3)]]
    assert around[0] > around[1] > around[2]
    lower = probe(evaluate(branch_plan(0.15)), (0.3, 0.3, 0.2)).surface_c
    assert probe(result, (0.3, 0.3, 0.35)).surface_c > lower + 3
    assert evaluate(branch_plan(watts=40)).day.temperature_c[rod.nodes].max() < around[0]


def test_a_branch_is_warmed_and_cools_over_the_day() -> None:
    day = simulate_day(evaluate(branch_plan()))
    rod = day.simulator.model.grid.rods[0]
    piece = rod.nodes[rod.nearest(0.3, 0.3, 0.3), 0]
    course = [float(state.temperature_c[piece]) for state in day.moments]
    assert max(course) - min(course) > 15
    # It follows the lamp within the hour after dusk at 18 h, not at once.
    assert course[36] - 1 > course[37] > min(course) + 0.3


def test_a_section_shows_its_branches_by_their_upper_side() -> None:
    result = evaluate(branch_plan())
    (drawn,) = section(result, 0.1, 20, 10).branches
    assert drawn.id == "b"
    assert drawn.z_m == pytest.approx(0.32)
    hottest = drawn.x_m[int(np.argmax(drawn.temperature_c))]
    assert hottest == pytest.approx(0.3, abs=0.06)


def test_beside_a_branch_the_ground_is_read() -> None:
    result = evaluate(branch_plan())
    under_lamp, far = probe(result, (0.3, 0.3, 0.35)), probe(result, (0.85, 0.3, 0.35))
    assert under_lamp.surface_c > far.surface_c + 10
    assert far.surface_c > far.air_c - 1
    beside = probe(result, (0.85, 0.5, 0.35))
    assert beside.surface_c < under_lamp.surface_c - 10
    assert under_lamp.operative_c > far.operative_c


def test_operative_temperature_is_given_for_every_place() -> None:
    places = {p.kind: p for p in evaluate(demo_plan()).places}
    assert places["basking"].operative_c > places["basking"].air_c + 5
    assert places["uv_refuge"].operative_c == pytest.approx(places["uv_refuge"].air_c, abs=4)


def test_a_pulsed_lamp_is_a_danger_and_a_pulsed_heater_is_not() -> None:
    pulsed = controlled(demo_plan(), kind="pulse")
    found = [f for f in evaluate(pulsed).findings if f.id == "pairing:basking-lamp"]
    assert found
    assert found[0].severity == "danger"
    assert "must not be pulsed" in str(found[0].message)
    heater = replace(
        pulsed, fixtures=(replace(lamp("ceramic-heater", 60, 0.5, 0.3, 0.5), thermostat_id="main"),)
    )
    assert not any(f.id.startswith("pairing") for f in evaluate(heater).findings)
