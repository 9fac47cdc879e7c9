"""Room, neighbours, timers, cooling and mats as a plan tells them, and what is refused."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.day import simulate_day
from noonshade.core.failure_scenarios import failure_scenarios_of
from noonshade.core.heat.airflow import LEAKS_PER_H, AirFlow, leak_m3_s
from noonshade.core.heat.climate import steady_climate, surroundings_of
from noonshade.core.heat.day_simulator import DaySimulator
from noonshade.core.heat.day_trace import Faults
from noonshade.core.heat.films import UNDERSIDE_FILM
from noonshade.core.heat.geometry import build_grid
from noonshade.core.heat.grids import AirGrid
from noonshade.core.heat.layered_air import Exchanges, layered_flow
from noonshade.core.heat.openings import openings_of
from noonshade.core.heat.radiation import lamp_heat
from noonshade.core.heat.stream_nodes import CellFlows
from noonshade.core.heat.timetable import surroundings_at
from noonshade.core.light.field import Scene
from noonshade.core.moisture.vapour import moist_hide_vapour, room_vapour, saturation_density
from noonshade.core.plan import (
    Background,
    ColdPack,
    Enclosure,
    Fan,
    Fixture,
    Hide,
    Inset,
    Neighbour,
    Plan,
    Room,
    Thermostat,
    Wall,
    Water,
    daily_cycle,
)
from noonshade.core.plan_errors import plan_errors
from tests.builders import CATALOG, MATERIALS, lamp, plan, timber_enclosure
from tests.evaluated import evaluate

MAT = Fixture("mat", "Mat", CATALOG.lamps["mat-28"], 16.0, (0.3, 0.3, 0.0), "always", mount="floor")
BOX = plan(timber_enclosure())


@given(day=st.floats(-10, 40), night=st.floats(-10, 40), hour=st.floats(0, 48))
def test_the_room_swings_between_its_extremes_and_repeats(day: float, night: float, hour: float) -> None:
    now = daily_cycle(day, night, hour)
    assert min(day, night) - 1e-9 <= now <= max(day, night) + 1e-9
    assert now == pytest.approx(daily_cycle(day, night, hour + 24.0), abs=1e-9)
    assert daily_cycle(day, night, 15.0) == pytest.approx(day)
    assert daily_cycle(day, night, 3.0) == pytest.approx(night)


def test_room_vapour_stays_by_night_but_never_beyond_saturation() -> None:
    humid = replace(BOX, room=Room(30.0, 10.0, 0.8))
    by_day = room_vapour(humid, 30.0)
    assert room_vapour(humid, 28.0) == pytest.approx(by_day)
    assert room_vapour(humid, 10.0) == pytest.approx(float(saturation_density(np.array([10.0]))[0]))


def test_fans_and_packs_by_their_hours() -> None:
    fan = Fan("f", "Fan", 36.0, "day")
    pack = ColdPack("p", "Ice", 0.5, 0.3, 12.0, 22.0, 4.0)
    source = replace(BOX, fans=(fan,), cold_packs=(pack,))
    assert surroundings_of(source, "day").fan_m3_s == pytest.approx(0.01)
    assert surroundings_of(source, "night").fan_m3_s == 0
    assert [pack.on_at(h) for h in (21.9, 22.0, 1.9, 2.0)] == [False, True, True, False]
    assert surroundings_at(source, 12.0, Faults()).fan_m3_s == pytest.approx(0.01)
    assert surroundings_at(source, 12.0, Faults(power_cut=True)).fan_m3_s == 0
    # Ice needs no mains.
    assert surroundings_at(source, 23.0, Faults(power_cut=True)).cold == (pack,)
    assert surroundings_at(source, 12.0, Faults(room_shift_k=5.0)).room_c == pytest.approx(
        surroundings_at(source, 12.0, Faults()).room_c + 5.0
    )


def still_air(enclosure: Enclosure, grid: AirGrid, inside_c: float, fan_m3_s: float = 0.0) -> AirFlow:
    """Flow of air as warm all over, without streams, in a room of 20 °C."""
    none = np.zeros((grid.nx, grid.nz))
    return layered_flow(
        enclosure,
        grid,
        np.full((grid.nx, grid.nz), inside_c),
        20.0,
        CellFlows(none, none, np.zeros(grid.nx)),
        0.0,
        Exchanges(openings_of(enclosure, grid), fan_m3_s, leaks=True),
    )


def test_what_fans_and_joints_exchange_is_what_comes_in() -> None:
    closed = replace(timber_enclosure(), vents=())
    grid = build_grid(replace(BOX, enclosure=closed)).air
    assert leak_m3_s(closed) == pytest.approx(LEAKS_PER_H * 1.2 * 0.6 * 0.6 / 3600)
    still = still_air(closed, grid, 25.0)
    assert still.fresh_m3_s == pytest.approx(leak_m3_s(closed), rel=1e-6)
    blown = still_air(closed, grid, 25.0, 0.005)
    assert blown.fresh_m3_s - still.fresh_m3_s == pytest.approx(0.005, rel=1e-6)


def test_a_mat_divides_its_watts_as_the_resistances() -> None:
    source = replace(BOX, fixtures=(MAT,))
    heat = lamp_heat(source, build_grid(source), MAT)
    sheet = 0.015 / MATERIALS["timber"].conductivity_w_mk
    inwards = (1 / UNDERSIDE_FILM) / (1 / UNDERSIDE_FILM + sheet)
    assert float(heat.against_w.sum()) == pytest.approx(16 * inwards)
    assert float(heat.against_w.sum()) + heat.outside_w == pytest.approx(16)
    assert heat.air_w == 0
    assert not Scene(source, (MAT,)).shining


@pytest.mark.parametrize("face", ["back", "left", "right", "front"])
def test_a_mat_against_a_wall_warms_that_wall(face: str) -> None:
    at = {
        "back": (0.6, 0.6, 0.3),
        "front": (0.6, 0.0, 0.3),
        "left": (0.0, 0.3, 0.3),
        "right": (1.2, 0.3, 0.3),
    }
    mat = replace(MAT, mount=face, position_m=at[face])  # type: ignore[arg-type]
    climate = steady_climate(replace(BOX, fixtures=(mat,)))
    means = {s.face: float(np.mean(climate.temperature_c[s.node])) for s in climate.grid.sheets}
    assert max(means, key=lambda f: means[f]) == face


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"fixtures": (replace(MAT, mount="air"),)}, "/fixtures/0/mount"),
        (
            {"fixtures": (lamp("halogen-flood", 50, 0.5, 0.3, 0.5, mount="floor"),)},
            "/fixtures/0/mount",
        ),
        ({"fixtures": (replace(MAT, position_m=(3.0, 0.3, 0.0)),)}, "/fixtures/0/position_m/x_m"),
        (
            {"furnishings": (Water("w", "Pool", 0.6, 0.3, 0.4, 0.4, 0.9, MATERIALS["plastic"]),)},
            "/furnishings/0/depth_m",
        ),
        (
            {"furnishings": (Water("w", "Pool", 0.1, 0.3, 0.4, 0.4, 0.1, MATERIALS["plastic"]),)},
            "/furnishings/0/x_m",
        ),
    ],
)
def test_what_cannot_be_is_named(change: dict[str, object], path: str) -> None:
    assert path in [e.path for e in plan_errors(replace(BOX, **change))]  # type: ignore[arg-type]


def test_a_mat_needs_a_sheet_to_lie_on() -> None:
    open_back = replace(
        BOX, enclosure=replace(BOX.enclosure, walls={**BOX.enclosure.walls, "back": Wall()})
    )
    mat = replace(MAT, mount="back", position_m=(0.6, 0.6, 0.3))
    assert "/fixtures/0/mount" in [e.path for e in plan_errors(replace(open_back, fixtures=(mat,)))]


def test_linings_and_neighbours_change_what_walls_lose() -> None:
    heater = (lamp("ceramic-heater", 60, 0.6, 0.3, 0.5),)
    bare = plan(timber_enclosure(), fixtures=heater)
    lined = replace(
        bare, furnishings=(Background("b", "Back", "back", 0.05, MATERIALS["insulation-board"]),)
    )
    outside = Neighbour("Outside wall", 0.0, -5.0)
    cold = replace(bare, enclosure=replace(bare.enclosure, neighbours={"back": outside}))
    mean = [float(np.mean(steady_climate(p).air_c)) for p in (bare, lined, cold)]
    assert mean[1] > mean[0] + 0.2
    assert mean[2] < mean[0] - 1
    assert Neighbour("x", 10.0, 0.0).at(15.0) == pytest.approx(10.0)


def test_a_moist_hide_is_moister_than_the_enclosure_and_drier_with_a_wide_door() -> None:
    def hide(door: float) -> Hide:
        cork = MATERIALS["cork"]
        return Hide("h", "Hide", 0.5, 0.3, 0.2, 0.2, 0.1, 0.01, "left", door, 0.06, cork, True)

    saturated = float(saturation_density(np.array([24.0]))[0])
    narrow, wide = (moist_hide_vapour(hide(d), 24.0, 0.4 * saturated) for d in (0.04, 0.18))
    assert 0.4 * saturated < wide < narrow < saturated


def test_a_separate_timer_shows_in_power_and_cost() -> None:
    timed = replace(lamp("halogen-flood", 50, 0.3, 0.3, 0.5), timer=((8.0, 10.0), (20.0, 21.0)))
    day = simulate_day(
        evaluate(replace(BOX, fixtures=(timed,), room=Room(21, 17, 0.45, tariff_per_kwh=0.5)))
    )
    use = day.fixtures[0]
    assert use.on_h == pytest.approx(3.0, abs=0.02)
    assert use.energy_kwh == pytest.approx(0.15, rel=0.01)
    assert use.month_cost == pytest.approx(0.15 * DAYS_PER_MONTH * 0.5, rel=0.01)


def test_two_thermostats_hold_their_own_heaters() -> None:
    first = lamp("ceramic-heater", 100, 0.25, 0.3, 0.5, thermostat_id="a")
    second = replace(lamp("ceramic-heater", 100, 0.95, 0.3, 0.5, thermostat_id="b"), id="other")
    source = replace(
        plan(timber_enclosure(), fixtures=(replace(first, lit="always"), replace(second, lit="always"))),
        thermostats=(
            Thermostat("a", "Left", "pulse", 27.0, 27.0, 1.0, (0.25, 0.3, 0.2)),
            Thermostat("b", "Right", "pulse", 24.0, 24.0, 1.0, (0.95, 0.3, 0.2)),
        ),
    )
    simulator = DaySimulator(source)
    trace = simulator.run(simulator.start(), 12.0)
    assert float(np.mean(trace.reading_c[0, -120:])) == pytest.approx(27.0, abs=0.5)
    assert float(np.mean(trace.reading_c[1, -120:])) >= 24.0 - 0.5
    assert trace.power[0, -120:].mean() > trace.power[1, -120:].mean()


def heated(insets: tuple[Inset, ...] = (), faces: dict[str, Wall] | None = None) -> Plan:
    """A closed timber enclosure with a ceramic heater, parts of its sides made otherwise."""
    enclosure = replace(timber_enclosure(), vents=())
    enclosure = replace(enclosure, walls={**enclosure.walls, **(faces or {})}, insets=insets)  # type: ignore[dict-item]
    return plan(enclosure, fixtures=(lamp("ceramic-heater", 60, 0.4, 0.3, 0.4),))


def mean_air(source: Plan) -> float:
    return float(np.mean(steady_climate(source).air_c))


MESH_WALL = Wall(mesh=CATALOG.meshes["medium-0.7-4.0"])


def test_a_side_wholly_of_insets_is_as_the_side_itself() -> None:
    halves = (
        Inset(0.0, 0.0, 0.7, 0.6, MESH_WALL, "back"),
        Inset(0.7, 0.0, 1.2, 0.6, MESH_WALL, "back"),
    )
    whole, made = mean_air(heated(faces={"back": MESH_WALL})), mean_air(heated(halves))
    assert made == pytest.approx(whole, abs=0.05)
    sheet = timber_enclosure().walls["left"]
    same = Inset(0.1, 0.1, 0.4, 0.3, sheet, "left")
    # Its nodes are separate, and lamps are sampled where it lies.
    assert mean_air(heated((same,))) == pytest.approx(mean_air(heated()), abs=5e-3)


def test_the_more_of_a_side_is_mesh_the_more_heat_is_lost() -> None:
    shares = (0.2, 0.5, 1.0)
    parts = [Inset(0.0, 0.0, 0.6, 0.6 * share, MESH_WALL, "right") for share in shares]
    found = [mean_air(heated()), *(mean_air(heated((part,))) for part in parts)]
    assert all(a > b + 0.2 for a, b in itertools.pairwise(found))


def test_a_door_loses_by_its_sheet_and_by_its_gap() -> None:
    glass = Wall(material=MATERIALS["glass"], thickness_m=0.004)
    door = Inset(0.2, 0.05, 1.0, 0.55, glass, "back")
    tight, loose = heated((door,)), heated((replace(door, gap_m=0.003),))
    assert mean_air(heated()) > mean_air(tight) + 0.1
    assert mean_air(tight) > mean_air(loose) + 0.1
    assert door.gap_m2 == 0
    assert replace(door, gap_m=0.003).gap_m2 == pytest.approx(2 * 0.003 * 1.3)
    failure_scenarios = {d.id: d for d in failure_scenarios_of(loose)}
    assert failure_scenarios["door-open"].plan.enclosure.insets[0].wall == Wall()
    assert "door-open" not in {d.id for d in failure_scenarios_of(tight)}
    assert mean_air(failure_scenarios["door-open"].plan) < mean_air(loose) - 0.5


def test_a_door_left_open_exchanges_as_a_doorway_does() -> None:
    opened = Inset(0.2, 0.05, 1.0, 0.55, Wall(), "front")
    source = heated((opened,))
    grid = build_grid(source).air
    flow = still_air(source.enclosure, grid, 30.0)
    expected = 0.6 / 3 * 0.4 * np.sqrt(9.81 * 0.5 * 10.0 / 293.15) + 0.4 * 0.025
    assert flow.fresh_m3_s - leak_m3_s(source.enclosure) == pytest.approx(expected, rel=0.05)


@pytest.mark.parametrize(
    ("inset", "path"),
    [
        (Inset(0.0, 0.0, 0.5, 0.5, MESH_WALL, "floor"), "/enclosure/insets/0/face"),
        (Inset(0.0, 0.0, 0.9, 0.5, MESH_WALL, "left"), "/enclosure/insets/0/x1_m"),
        (Inset(0.0, 0.0, 0.5, 0.7, MESH_WALL, "back"), "/enclosure/insets/0/y1_m"),
        (Inset(0.0, 0.0, 0.5, 0.5, MESH_WALL, "back", 0.003), "/enclosure/insets/0/gap_m"),
    ],
)
def test_parts_of_sides_that_cannot_be_are_named(inset: Inset, path: str) -> None:
    assert path in [e.path for e in plan_errors(heated((inset,)))]


def test_parts_of_different_faces_never_overlap() -> None:
    same = (0.1, 0.1, 0.5, 0.5, MESH_WALL)
    assert not plan_errors(heated((Inset(*same, "back"), Inset(*same, "front"))))
    assert plan_errors(heated((Inset(*same, "back"), Inset(*same, "back"))))
