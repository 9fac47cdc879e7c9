"""Streams apart from the air around them: what they take they give, where they stop, what they carry."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from noonshade.core.heat.climate import surroundings_of
from noonshade.core.heat.films import ceiling_jet, jets_along, vertical_film
from noonshade.core.heat.streamed_model import AbsorbedHeat, PrescribedHeat, ReleasedHeat
from noonshade.core.heat.streams import FILM_COEFFICIENT, Streams, rising_plumes, wall_films
from noonshade.core.plan import FACES, Neighbour, Plan
from tests.builders import MATERIALS, demo_plan, timber_enclosure
from tests.core.streamed import settled

Floats = NDArray[np.float64]
EDGES = np.linspace(0.0, 0.6, 9)
N = EDGES.size - 1
layers = st.lists(st.floats(15.0, 45.0), min_size=N, max_size=N)


def level(temperature_c: float) -> Floats:
    return np.full((1, N), temperature_c)


def plumes(air_c: Floats, start_m: Floats, size_m: Floats, power_w: Floats) -> Streams:
    return Streams(*rising_plumes(air_c, EDGES, start_m, size_m, power_w))


def films(*given: Floats) -> tuple[Streams, Floats]:
    *flows, conductance = wall_films(*given)
    return Streams(*flows), conductance


def balanced(found: Streams) -> None:
    """What each layer of a stream takes in and gives back is what goes on."""
    risen = np.pad(found.risen, ((0, 0), (1, 1)))
    assert found.taken - found.given == pytest.approx(risen[:, 1:] - risen[:, :-1], abs=1e-12)
    assert np.all(found.taken >= 0)
    assert np.all(found.given >= 0)


@given(layers, st.floats(0.0, 0.6), st.floats(0.01, 0.4), st.floats(0.0, 200.0))
def test_a_plume_gives_back_the_air_it_took(
    air: list[float], start: float, size: float, watts: float
) -> None:
    found = plumes(np.array([air]), np.array([start]), np.array([size]), np.array([watts]))
    balanced(found)
    assert np.all(found.risen >= 0)
    assert (np.sum(found.taken) > 0) == (watts > 0)


@given(layers, layers, st.floats(0.05, 1.0))
def test_a_wall_film_gives_back_the_air_it_took(air: list[float], wall: list[float], width: float) -> None:
    found, film = films(
        np.array([air]), np.array([wall]), np.full((1, N), 0.05), np.array([width]), np.diff(EDGES)
    )
    balanced(found)
    assert np.all(film >= 0.05)


def test_a_plume_in_level_air_grows_by_the_five_thirds_power() -> None:
    found = plumes(level(25.0), np.array([0.0]), np.array([0.0]), np.array([20.0]))
    through = np.append(found.risen[0], found.given[0, -1])
    assert through == pytest.approx(0.005 * 20.0 ** (1 / 3) * EDGES[1:] ** (5 / 3), rel=1e-9)


def test_a_weak_plume_stops_below_a_hot_layer_and_a_strong_one_does_not() -> None:
    air = level(25.0)
    air[0, 5:] = 35.0
    start, size = np.array([0.0]), np.array([0.2])
    weak = plumes(air, start, size, np.array([2.0]))
    strong = plumes(air, start, size, np.array([200.0]))
    assert np.sum(weak.given[0, 5:]) < 0.05 * np.sum(weak.given)
    assert np.sum(strong.given[0, 5:]) > 0.4 * np.sum(strong.given)


def test_a_film_along_a_cold_wall_goes_down_and_along_a_warm_one_up() -> None:
    args = np.full((1, N), 0.05), np.array([0.6]), np.diff(EDGES)
    cold, _ = films(level(25.0), level(20.0), *args)
    warm, _ = films(level(25.0), level(30.0), *args)
    assert np.all(cold.risen < 0)
    assert np.all(warm.risen > 0)
    assert cold.given[0, 0] == pytest.approx(warm.given[0, -1])
    # In level air it grows as the film of a wall of even temperature does: Q' = c ΔT^(1/4) y^(3/4).
    whole = 0.6 * FILM_COEFFICIENT * 5.0**0.25 * 0.6**0.75
    assert cold.given[0, 0] == pytest.approx(whole, rel=1e-9)


def test_strips_of_a_wall_have_the_film_of_the_whole_together() -> None:
    edges = np.linspace(0.0, 0.3, 7)
    strips = [vertical_film(0.5, low, high) for low, high in itertools.pairwise(edges)]
    assert np.mean(strips) == pytest.approx(vertical_film(0.5, 0.0, 0.3), rel=0.05)
    assert np.all(np.diff(strips) < 0)


def test_the_jet_under_a_lid_is_stronger_near_its_axis_and_under_more_heat() -> None:
    radius = np.array([0.05, 0.1, 0.3, 0.6])
    film = np.array([ceiling_jet(25.0, 0.3, r) for r in radius])
    assert np.all(np.diff(film) < 0)
    assert np.all(np.array([ceiling_jet(50.0, 0.3, r) for r in radius]) > film)
    assert ceiling_jet(0.0, 1.0, 1.0) == 0.0
    together = jets_along(
        np.array([25.0, 0.0]), np.full(2, 0.3), radius[None, :, None] + np.zeros(2), np.ones(2)
    )
    assert together == pytest.approx([np.mean(film)])


def bare(plan: Plan) -> Plan:
    return replace(plan, fixtures=(), thermostats=(), furnishings=())


def test_all_heat_that_comes_in_goes_out() -> None:
    plan = bare(demo_plan())
    heat = PrescribedHeat(
        (AbsorbedHeat((0.1, 0.4, 0.15, 0.45), 40.0),), (ReleasedHeat((0.9, 0.3, 0.4), 25.0),), leaks=True
    )
    around = surroundings_of(plan, "day")
    model, found = settled(plan, heat)
    network = model.network(found, np.zeros(0), around)
    assert network.balance(network.steady()).heat_in_w == pytest.approx(65.0)


def test_a_heater_hung_high_layers_the_air_and_hot_ground_levels_it() -> None:
    plan = bare(replace(demo_plan(), enclosure=replace(timber_enclosure(), vents=(), insets=())))
    high = PrescribedHeat((), (ReleasedHeat((0.3, 0.3, 0.5), 40.0),), leaks=False)
    low = PrescribedHeat((AbsorbedHeat((0.1, 0.4, 0.15, 0.45), 40.0),), (), leaks=False)

    def contrasts(heat: PrescribedHeat) -> tuple[float, float]:
        model, found = settled(plan, heat)
        air = model.air_c(found)
        return float(np.mean(air[:, -1] - air[:, 0])), float(np.ptp(air[:, 2]))

    up_high, side_high = contrasts(high)
    up_low, side_low = contrasts(low)
    assert up_high > 2.5 * up_low > 2.5
    assert max(side_high, side_low) < 1.0


@pytest.mark.parametrize("side_m", [0.5, 0.8])
def test_a_cube_between_a_hot_and_a_cold_wall_passes_the_heat_of_turbulent_convection(
    side_m: float,
) -> None:
    """Limit case 14: Nu within 30 % of 0.046 Ra^(1/3), walls without longwave, the others without loss."""
    shiny = replace(MATERIALS["timber"], emissivity=1e-3, conductivity_w_mk=50.0)
    tight = replace(MATERIALS["timber"], emissivity=1e-3, conductivity_w_mk=1e-4)
    base = timber_enclosure()
    walls = {f: replace(base.walls["left"], material=tight, thickness_m=0.02) for f in FACES}
    walls["left"] = replace(walls["left"], material=shiny)
    walls["right"] = replace(walls["right"], material=shiny)
    enclosure = replace(
        base,
        length_m=side_m,
        depth_m=side_m,
        height_m=side_m,
        walls=walls,
        vents=(),
        insets=(),
        neighbours={"left": Neighbour("hot", 45.0, 45.0), "right": Neighbour("cold", 5.0, 5.0)},
    )
    plan = bare(replace(demo_plan(), enclosure=enclosure))
    ground = replace(
        plan.substrate, depth_m=0.0, material=replace(plan.substrate.material, emissivity=1e-3)
    )
    plan = replace(plan, substrate=ground, room=replace(plan.room, day_temperature_c=25.0))
    model, found = settled(plan, PrescribedHeat(leaks=False))
    nodes, loss = model.grid.wall_nodes, {s.face: s.loss_w_k for s in model.grid.sheets}
    hot, cold = (float(np.mean(found[nodes(f)])) for f in ("left", "right"))
    watts = float(np.sum(loss["left"] * (45.0 - found[nodes("left")])))
    rayleigh = 9.81 / 298.0 * (hot - cold) * side_m**3 / (1.56e-5 * 2.2e-5)
    assert 1e8 < rayleigh < 3e9
    nusselt = watts / (side_m**2 * (hot - cold)) * side_m / 0.026
    assert nusselt == pytest.approx(0.046 * rayleigh ** (1 / 3), rel=0.3)
