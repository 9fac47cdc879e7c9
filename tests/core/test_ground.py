"""Heat in the ground through a day: limit case 15."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.linalg import solve_banded

from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.day_simulator import DaySimulator
from noonshade.core.heat.day_trace import DayTrace, Watch
from noonshade.core.heat.films import UNDERSIDE_FILM
from noonshade.core.heat.geometry import BARE_FLOOR_M, DAILY, Resolution
from noonshade.core.heat.ground import in_ground
from noonshade.core.plan import Layer, Plan, Substrate, Zone, mixture
from tests.builders import MATERIALS, lamp, plan, timber_enclosure
from tests.evaluated import evaluate

Floats = NDArray[np.float64]
CLAY_8 = Layer(MATERIALS["clay"], 0.08)
DEPTHS_M = (0.0, 0.05, 0.15, 0.25)
# Large cells sideways, since it is the depth that counts.
USUAL = replace(DAILY, air_m=0.2, floor_m=0.3)
FINE = replace(USUAL, ground_m=tuple(np.linspace(0.0, 0.3, 46)))


def deep(material: str) -> Plan:
    source = plan(timber_enclosure(0.9), fixtures=(lamp("halogen-flood", 75, 0.3, 0.3, 0.8),))
    return replace(source, substrate=Substrate(MATERIALS[material], 0.3))


def at_depths(source: Plan, resolution: Resolution) -> DayTrace:
    """A repeating day, followed below the lamp and far from it."""
    simulator = DaySimulator(source, resolution=resolution)
    grid = simulator.model.grid
    levels = np.array(grid.floor_depths_m)
    watches = []
    for x in (0.3, 1.0):
        for depth in DEPTHS_M:
            k = min(int(np.searchsorted(levels, depth, side="right")) - 1, levels.size - 2)
            share = (depth - levels[k]) / (levels[k + 1] - levels[k])
            cell = grid.floor[0].nearest(x, 0.3)
            nodes = np.array([grid.floor[k].nodes[cell], grid.floor[k + 1].nodes[cell]])
            watches.append(Watch(f"{x}:{depth}", nodes, np.array([1.0 - share, share])))
    return simulator.repeating_day(tuple(watches))


@pytest.mark.parametrize("material", ["soil", "dry-sand", "coir"])
def test_deep_ground_follows_the_day_as_a_fine_one_does(material: str) -> None:
    """At 0, 5, 15 and 25 cm, at every hour, lights on and off included."""
    usual, fine = (at_depths(deep(material), r) for r in (USUAL, FINE))
    hourly = slice(59, None, 60)
    assert np.max(np.abs(usual.watched - fine.watched)[:, hourly]) < 1.0
    swing = np.ptp(fine.watched[:4], axis=1)
    assert swing[0] > 10.0
    assert np.all(np.diff(swing) < 0.0)


LAYERED = Substrate(
    MATERIALS["leaf-litter"],
    0.30,
    below=(
        Layer(mixture(((MATERIALS["soil"], 2.0), (MATERIALS["coir"], 1.0))), 0.18),
        Layer(MATERIALS["clay-balls"], 0.09, barrier=True),
    ),
)


def _down(ground: Substrate, surface_c: Floats, room_c: float, film_w_m2k: float, step_s: float) -> Floats:
    """One dimension, 300 cells, implicit in time, by itself: temperatures (steps, 300) of a day."""
    count = 300
    size = ground.depth_m / count
    edges = np.linspace(0.0, ground.depth_m, count + 1)
    middles = (edges[1:] + edges[:-1]) / 2
    starts = np.cumsum([0.0, *(layer.depth_m for layer in ground.layers)])
    which = np.searchsorted(starts, middles) - 1
    k = np.array([layer.material.conductivity_w_mk for layer in ground.layers])[which]
    storage = np.array([layer.material.storage_j_m3k for layer in ground.layers])[which] * size
    # From middle to middle, half a cell of each; from the surface and to the room under the floor likewise.
    between = 1.0 / (size / 2 / k[:-1] + size / 2 / k[1:])
    top, bottom = 2 * k[0] / size, 1.0 / (size / 2 / k[-1] + 1.0 / film_w_m2k)
    out = np.zeros((3, count))
    out[0, 1:], out[2, :-1] = -between, -between
    out[1] = storage / step_s
    out[1, :-1] += between
    out[1, 1:] += between
    out[1, 0] += top
    out[1, -1] += bottom
    now = np.full(count, float(np.mean(surface_c)))
    for _ in range(12):
        course = []
        for surface in surface_c:
            right = storage / step_s * now
            right[0] += top * surface
            right[-1] += bottom * room_c
            now = solve_banded((1, 1), out, right)
            course.append(now)
    return np.array(course)


def test_layered_ground_follows_the_day_as_a_fine_one_by_itself_does() -> None:
    """Below the surface the model far from the lamp has, against one dimension solved apart."""
    source = replace(deep("soil"), substrate=LAYERED)
    room = source.room.day_temperature_c
    # Even, as the one dimension takes it.
    source = replace(source, room=replace(source.room, night_temperature_c=room))
    trace = at_depths(source, USUAL)
    far = trace.watched[4:]
    floor = source.enclosure.walls["floor"].resistance_m2k_w
    film = 1.0 / (1.0 / UNDERSIDE_FILM + floor)
    alone = _down(LAYERED, far[0], room, film, 60.0)
    middles = (np.arange(300) + 0.5) * LAYERED.depth_m / 300
    for row, depth in zip(far[1:], DEPTHS_M[1:], strict=True):
        course = np.array([np.interp(depth, middles, now) for now in alone])
        assert np.max(np.abs(course - row)[59::60]) < 1.0, depth


def test_layers_resist_one_after_the_other_and_pass_heat_sideways_together() -> None:
    litter, mixed, clay = LAYERED.layers
    assert litter.depth_m == pytest.approx(0.03)
    whole = LAYERED.resistance_m2k_w(0.0, 0.30)
    assert whole == pytest.approx(
        0.03 / 0.08 + 0.18 / mixed.material.conductivity_w_mk + 0.09 / clay.material.conductivity_w_mk
    )
    assert LAYERED.resistance_m2k_w(0.01, 0.02) == pytest.approx(0.01 / 0.08)
    assert LAYERED.conductance_w_k(0.0, 0.03) == pytest.approx(0.03 * 0.08)
    assert LAYERED.storage_j_m2k(0.25, 0.30) == pytest.approx(0.05 * 400.0 * 900.0)
    # One layer cut in two is the layer.
    soil = MATERIALS["soil"]
    cut = Substrate(soil, 0.30, below=(Layer(soil, 0.1),))
    one = Substrate(soil, 0.30)
    for span in ((0.0, 0.3), (0.05, 0.25)):
        assert cut.resistance_m2k_w(*span) == pytest.approx(one.resistance_m2k_w(*span))
        assert cut.storage_j_m2k(*span) == pytest.approx(one.storage_j_m2k(*span))


def test_a_layer_cut_in_two_changes_nothing() -> None:
    soil = MATERIALS["soil"]
    source = deep("soil")
    cut = replace(source, substrate=Substrate(soil, 0.3, below=(Layer(soil, 0.18), Layer(soil, 0.05))))
    one, two = (at_depths(p, replace(USUAL, ground_m=FINE.ground_m)) for p in (source, cut))
    assert np.max(np.abs(one.watched - two.watched)) < 0.2


def test_a_probe_in_the_ground_reads_along_its_resistance() -> None:
    """Under leaf litter most of the fall is in the litter."""
    source = replace(deep("soil"), substrate=Substrate(MATERIALS["leaf-litter"], 0.12, below=(CLAY_8,)))
    climate = steady_climate(source, "day")
    at = [
        in_ground(climate.grid, source.substrate, 0.3, 0.3, d).at(climate.temperature_c, 0.0)
        for d in (0.0, 0.02, 0.04, 0.08, 0.12)
    ]
    falls = -np.diff(at)
    assert np.all(falls > 0)
    assert falls[0] == pytest.approx(falls[1], rel=1e-6)
    assert falls[2] == pytest.approx(falls[3], rel=1e-6)
    assert falls[0] / 0.02 > 5 * falls[2] / 0.04


def test_a_mix_is_between_its_parts() -> None:
    soil, sand, bark = (MATERIALS[name] for name in ("soil", "dry-sand", "bark-chips"))
    mix = mixture(((soil, 2.0), (sand, 1.0), (bark, 1.0)))
    assert mix.density_kg_m3 == pytest.approx((2 * 1400 + 1600 + 250) / 4)
    assert mix.storage_j_m3k == pytest.approx((2 * 1400 * 1500 + 1600 * 800 + 250 * 1600) / 4)
    assert mix.conductivity_w_mk == pytest.approx((0.8**2 * 0.3 * 0.1) ** 0.25)
    assert mix.water_held == pytest.approx((2 * 0.28 + 0.08 + 0.2) / 4)
    assert mix.label == "2 topsoil, 1 dry sand, 1 bark chips"
    assert mixture(((soil, 3.0),)) is soil
    for wrong in ((), ((soil, 1.0), (sand, 0.0))):
        with pytest.raises(ValueError, match="parts above 0"):
            mixture(wrong)


def test_a_damp_corner_gives_off_what_it_has_and_no_more() -> None:
    """A zone over the whole floor is the floor; half as wet in two halves lies between dry and wet."""
    source = deep("soil")

    def humidity(ground: Substrate) -> float:
        return evaluate(replace(source, substrate=ground)).places[0].relative_humidity

    soil = MATERIALS["soil"]
    size = source.enclosure
    whole = Zone("z", "All of it", size.length_m / 2, size.depth_m / 2, size.length_m, size.depth_m, 0.8)
    wet = humidity(Substrate(soil, 0.1, 0.8))
    assert humidity(Substrate(soil, 0.1, 0.0, zones=(whole,))) == pytest.approx(wet, abs=1e-6)
    corner = Zone("c", "Corner", 0.25, size.depth_m / 2, 0.5, size.depth_m, 0.8)
    assert humidity(Substrate(soil, 0.1)) < humidity(Substrate(soil, 0.1, zones=(corner,))) < wet


def test_nodes_of_the_ground_lie_where_they_are_needed() -> None:
    assert DAILY.ground_depths_m(_soil(0.3)) == (0.0, 0.01, 0.02, 0.04, 0.08, 0.15, 0.3)
    assert DAILY.ground_depths_m(_soil(0.05)) == (0.0, 0.01, 0.02, 0.05)
    assert DAILY.ground_depths_m(_soil(0.6)) == (0.0, 0.01, 0.02, 0.04, 0.08, 0.15, 0.3, 0.6)
    assert DAILY.ground_depths_m(_soil(BARE_FLOOR_M / 2)) == (0.0,)
    assert Resolution().ground_depths_m(_soil(0.1)) == pytest.approx((0.0, 0.03, 0.1))
    assert Resolution().ground_depths_m(_soil(0.5)) == (0.0, 0.03, 0.08, 0.16, 0.3, 0.5)
    # Where a layer ends there is one; those that are near it move there.
    layered = Resolution().ground_depths_m(LAYERED)
    assert layered == pytest.approx((0.0, 0.03, 0.08, 0.16, 0.21, 0.3))


def _soil(depth_m: float) -> Substrate:
    return Substrate(MATERIALS["soil"], depth_m)
