"""The simulated day: balances, control, moisture, energy, and what may go wrong."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import cache

import numpy as np
import psychrolib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.day import Day, at_moment, in_season, simulate_day, watches_of
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation
from noonshade.core.failure_scenarios import FailureOutcome, failure_scenarios_of, run_scenario
from noonshade.core.heat import day_run
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.day_simulator import DaySimulator
from noonshade.core.heat.day_trace import Faults, Watch
from noonshade.core.heat.geometry import DAILY
from noonshade.core.heat.network import NetworkBuilder
from noonshade.core.heat.regulation import Regulator, set_point_at
from noonshade.core.heat.stepping import vapour_step
from noonshade.core.moisture.vapour import (
    Exchange,
    humidity_at,
    saturation_density,
    steady_vapour,
    vapour_density,
)
from noonshade.core.plan import (
    ColdPack,
    Fan,
    Fixture,
    Misting,
    Neighbour,
    Plan,
    Room,
    RoomClimate,
    Substrate,
    Thermostat,
    Wall,
    Water,
)
from tests.builders import CATALOG, MATERIALS, demo_plan, lamp, plan, slab, timber_enclosure, uncontrolled
from tests.evaluated import evaluate

MAT = Fixture("mat", "Mat", CATALOG.lamps["mat-28"], 16.0, (0.3, 0.3, 0.0), "always", mount="floor")


@cache
def demo() -> tuple[Evaluation, Day]:
    evaluation = evaluate(demo_plan())
    return evaluation, simulate_day(evaluation)


def middle(simulator: DaySimulator, name: str = "middle") -> Watch:
    air = simulator.model.grid.air
    enclosure = simulator.plan.enclosure
    return Watch(name, np.array([air.cell(enclosure.length_m / 2, enclosure.height_m / 2)]), np.ones(1))


def on_thermostat(plan_: Plan, **values: object) -> Plan:
    """A heater of the plan on one thermostat in the middle of the air."""
    thermostat = Thermostat("t", "Thermostat", "on_off", 28.0, 28.0, 1.0, (0.6, 0.3, 0.3))
    fixtures = tuple(replace(f, thermostat_id="t", lit="always") for f in plan_.fixtures)
    return replace(plan_, fixtures=fixtures, thermostats=(replace(thermostat, **values),))  # type: ignore[arg-type]


def test_the_demo_day_balances_and_repeats() -> None:
    _, day = demo()
    trace = day.trace
    assert trace.energy_error < 1e-6
    assert trace.vapour_error < 1e-6
    assert trace.hour.size == 1440
    moved = np.abs(trace.end.temperature_c - trace.start.temperature_c)
    assert float(moved.max()) < 0.15


def test_a_broken_balance_is_an_error(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(day_run, "BALANCE_TOLERANCE", -1.0)
    simulator = DaySimulator(uncontrolled(demo_plan()))
    with pytest.raises(ConvergenceError, match="do not balance"):
        simulator.run(simulator.start(), 0.1)


def test_lamps_follow_the_photoperiod_and_the_places_warm_with_them() -> None:
    _, day = demo()
    on = day.trace.power[1] > 0
    assert day.trace.hour[on][0] == pytest.approx(6.0, abs=0.05)
    assert day.trace.hour[on][-1] == pytest.approx(18.0, abs=0.05)
    basking = next(p for p in day.places if p.kind == "basking")
    assert basking.surface_c is not None
    noon, night = basking.surface_c[13 * 60], basking.surface_c[4 * 60]
    assert noon > night + 25
    assert basking.uvi[13 * 60] > 3
    assert basking.uvi[4 * 60] == 0
    assert basking.relative_humidity[13 * 60] < basking.relative_humidity[4 * 60]
    assert day.warm_up_min is not None
    assert 30 < day.warm_up_min < 600
    assert day.cool_down_min is not None
    assert 60 < day.cool_down_min < 720


def test_energy_is_what_the_watts_say() -> None:
    _, day = demo()
    tube = next(f for f in day.fixtures if f.id == "uv-tube")
    assert tube.energy_kwh == pytest.approx(39 * 12 / 1000, rel=1e-3)
    assert tube.duty == pytest.approx(1.0)
    assert tube.month_cost == pytest.approx(tube.month_kwh * 0.30)
    assert day.energy_kwh == pytest.approx(sum(f.energy_kwh for f in day.fixtures))


def test_a_steady_room_ends_at_the_steady_state() -> None:
    still = replace(
        uncontrolled(demo_plan()),
        room=Room(21.0, 21.0, 0.45),
        photoperiod_h=24.0,
        substrate=Substrate(MATERIALS["sand-soil"], 0.02),
    )
    simulator = DaySimulator(still)
    end = simulator.repeating_day().end.temperature_c
    steady = steady_climate(still, "day", DAILY).temperature_c
    assert float(np.max(np.abs(end - steady))) < 0.4


@pytest.mark.parametrize("step_s", [30.0, 15.0])
def test_shorter_steps_change_little(step_s: float) -> None:
    source = on_thermostat(
        plan(timber_enclosure(), fixtures=(lamp("ceramic-heater", 100, 0.6, 0.3, 0.5),)), kind="dimming"
    )
    whole, finer = DaySimulator(source), DaySimulator(source, step_s)
    coarse = whole.run(whole.start(), 6.0, (middle(whole),)).watched[0]
    fine = finer.run(finer.start(), 6.0, (middle(finer),)).watched[0]
    every = round(60.0 / step_s)
    assert float(np.max(np.abs(coarse[45:] - fine[every - 1 :: every][45:]))) < 0.3


def test_steps_longer_than_a_minute_are_refused() -> None:
    with pytest.raises(ValueError, match="at most 60"):
        DaySimulator(demo_plan(), 120.0)


@pytest.mark.parametrize("kind", ["on_off", "dimming", "pulse"])
def test_duty_is_what_the_balance_asks_for(kind: str) -> None:
    """Mean power over a settled stretch is the power that holds the set point at steady state."""
    source = on_thermostat(
        replace(
            plan(
                timber_enclosure(), fixtures=(lamp("ceramic-heater", 100, 0.6, 0.3, 0.5),), substrate_m=0.01
            ),
            room=Room(20.0, 20.0, 0.45),
        ),
        kind=kind,
    )
    simulator = DaySimulator(source)
    trace = simulator.run(simulator.start(), 24.0)
    fraction = steady_climate(source, "day", DAILY).thermostats[0].fraction
    assert 0.05 < fraction < 0.95
    assert float(np.mean(trace.power[0, -480:])) == pytest.approx(fraction, abs=0.04)
    assert float(np.mean(trace.reading_c[0, -480:])) == pytest.approx(28.0, abs=0.4)


def test_a_wider_differential_switches_less_and_swings_more() -> None:
    source = plan(timber_enclosure(), fixtures=(lamp("ceramic-heater", 150, 0.6, 0.3, 0.5),))
    found = []
    for differential in (0.5, 3.0):
        simulator = DaySimulator(on_thermostat(source, differential_k=differential))
        trace = simulator.run(simulator.start(), 8.0)
        found.append((trace.switchings[0], float(np.ptp(trace.reading_c[0, -240:]))))
    assert found[0][0] > found[1][0] > 0
    assert found[0][1] < found[1][1]


def test_the_limit_cuts_off_even_a_stuck_thermostat() -> None:
    source = plan(timber_enclosure(), fixtures=(lamp("ceramic-heater", 150, 0.6, 0.3, 0.5),))
    free, limited = on_thermostat(source), on_thermostat(source, cut_out_c=31.0)
    stuck = Faults({"t": "on"})
    hottest = []
    for each in (free, limited):
        simulator = DaySimulator(each)
        trace = simulator.run(simulator.start(), 10.0, faults=stuck)
        hottest.append(float(np.max(trace.reading_c)))
    assert hottest[0] > 32.5
    assert 30.5 < hottest[1] < 32.5


def test_ramps_and_periods_of_set_points() -> None:
    t = Thermostat("t", "T", "on_off", 30.0, 20.0, 1.0, (0, 0, 0), ramp_h=2.0)
    assert set_point_at(t, 12.0, 6.0, 18.0) == 30.0
    assert set_point_at(t, 7.0, 6.0, 18.0) == pytest.approx(25.0)
    assert set_point_at(t, 19.0, 6.0, 18.0) == pytest.approx(25.0)
    assert set_point_at(t, 3.0, 6.0, 18.0) == 20.0
    assert set_point_at(replace(t, night_set_point_c=None), 3.0, 6.0, 18.0) is None


def test_a_slow_probe_lags() -> None:
    t = Thermostat("t", "T", "on_off", 30.0, 20.0, 1.0, (0, 0, 0), time_constant_s=120.0)
    regulator = Regulator(t)
    regulator.step(20.0, 30.0, 60.0)
    regulator.step(30.0, 30.0, 60.0)
    assert regulator.reading_c == pytest.approx(30.0 - 10.0 * math.exp(-0.5))


def test_separate_timers_past_midnight() -> None:
    late = replace(MAT, timer=((22.0, 2.0),))
    assert [late.on_at(h, 6.0, 18.0) for h in (21.9, 22.0, 1.9, 2.0)] == [False, True, True, False]
    assert late.lit_at("night")
    assert not late.lit_at("day")


@settings(max_examples=8)
@given(warmer=st.floats(1.0, 12.0))
def test_a_warmer_room_warms_the_whole_day(warmer: float) -> None:
    source = uncontrolled(demo_plan())
    found = []
    for room in (
        source.room,
        replace(source.room, day_temperature_c=21 + warmer, night_temperature_c=17 + warmer),
    ):
        simulator = DaySimulator(replace(source, room=room))
        start = simulator.start()
        start = replace(start, temperature_c=np.full_like(start.temperature_c, 20.0))
        found.append(simulator.run(start, 2.0, (middle(simulator),)).watched[0])
    assert np.all(found[1] > found[0])


def test_seasons_change_the_room() -> None:
    winter = RoomClimate(17.0, 12.0, 0.4)
    source = replace(demo_plan(), room=replace(demo_plan().room, winter=winter, summer=None))
    assert in_season(source, "winter").room.night_temperature_c == 12.0
    assert in_season(source, "summer").room.night_temperature_c == source.room.night_temperature_c
    evaluation, now = demo()
    cold = simulate_day(replace(evaluation, plan=source), "winter")
    assert cold.places[2].air_c.min() < now.places[2].air_c.min() - 3


def test_a_mat_under_the_floor_warms_the_ground_from_below() -> None:
    climate = steady_climate(plan(timber_enclosure(), fixtures=(MAT,), substrate_m=0.05))
    top, bottom = climate.grid.floor[0], climate.grid.floor[-1]
    i, j = bottom.nearest(0.3, 0.3)
    far = bottom.nearest(1.0, 0.3)
    assert climate.temperature_c[bottom.nodes[i, j]] > climate.temperature_c[top.nodes[i, j]] + 2
    assert climate.temperature_c[bottom.nodes[i, j]] > climate.temperature_c[bottom.nodes[far]] + 5
    assert climate.balance.heat_in_w + climate.outside_w == pytest.approx(16.0)


def test_insulation_saves_heat_and_a_warm_neighbour_gives_some() -> None:
    heater = (lamp("ceramic-heater", 60, 0.6, 0.3, 0.5),)
    bare = plan(timber_enclosure(), fixtures=heater)
    foam = MATERIALS["insulation-board"]
    walls = {f: replace(w, insulation=foam, insulation_m=0.03) for f, w in bare.enclosure.walls.items()}
    insulated = replace(bare, enclosure=replace(bare.enclosure, walls=walls))
    on_top = replace(
        bare, enclosure=replace(bare.enclosure, neighbours={"floor": Neighbour("enclosure", 28.0, 24.0)})
    )
    mean = [float(np.mean(steady_climate(p).air_c)) for p in (bare, insulated, on_top)]
    assert mean[1] > mean[0] + 1
    assert mean[2] > mean[0] + 0.2


def test_fans_and_cold_packs_cool() -> None:
    source = plan(timber_enclosure(), fixtures=(lamp("ceramic-heater", 60, 0.6, 0.3, 0.5),))
    fan = replace(source, fans=(Fan("f", "Fan", 20.0, "always"),))
    pack = replace(source, cold_packs=(ColdPack("c", "Ice", 0.6, 0.1, 15.0, 8.0, 6.0),))
    plain, blown, iced = (float(np.mean(steady_climate(p).air_c)) for p in (source, fan, pack))
    assert blown < plain - 1
    assert iced < plain - 0.5


@given(start=st.floats(0.0, 0.05), fresh=st.floats(0.0, 0.01))
def test_vapour_goes_to_its_steady_value_and_balances_on_the_way(start: float, fresh: float) -> None:
    surfaces = Exchange(np.array([0, 1]), np.array([2e-3, 1e-3]), np.array([True, False]))
    temperature = np.array([22.0, 12.0])
    vapour, sprayed = start, np.array([1.0, 0.0])
    for _ in range(200):
        vapour, error, dried = vapour_step(
            surfaces.node,
            surfaces.passing_m3_s,
            surfaces.wet,
            sprayed,
            temperature,
            vapour,
            fresh,
            0.008,
            1e-6,
            0.4,
            60.0,
        )
        assert error < 1e-9
        assert dried >= 0
    assert vapour == pytest.approx(
        steady_vapour(surfaces, temperature, fresh, 0.008, 1e-6).vapour_kg_m3, rel=1e-6
    )


def test_wet_ground_is_cooler_and_the_air_moister() -> None:
    dry = steady_climate(plan(timber_enclosure(), substrate_m=0.05))
    wet = steady_climate(
        replace(
            plan(timber_enclosure(), substrate_m=0.05), substrate=Substrate(MATERIALS["soil"], 0.05, 0.5)
        )
    )
    floor = wet.grid.floor[0].nodes
    assert float(np.mean(wet.temperature_c[floor])) < float(np.mean(dry.temperature_c[floor])) - 0.3
    assert wet.humidity(21.0) > dry.humidity(21.0) + 0.1
    moisture = wet.moisture
    given, taken = moisture.evaporated_kg_s, moisture.condensed_kg_s + moisture.carried_off_kg_s
    assert given == pytest.approx(taken, rel=1e-6)


def test_vapour_settles_between_the_surfaces_and_the_room() -> None:
    surfaces = Exchange(np.array([0]), np.array([2e-3]), np.array([True]))
    found = steady_vapour(surfaces, np.array([22.0]), 1e-3, 0.008)
    saturated = float(saturation_density(np.array([22.0]))[0])
    assert found.vapour_kg_m3 == pytest.approx((2 * saturated + 0.008) / 3)
    cold = Exchange(np.array([0]), np.array([2e-3]), np.array([False]))
    assert steady_vapour(cold, np.array([22.0]), 1e-3, 0.008).vapour_kg_m3 == pytest.approx(0.008)
    assert steady_vapour(cold, np.array([2.0]), 1e-3, 0.012).condensed_kg_s > 0


# Once: it compiles its functions anew each time it is asked.
psychrolib.SetUnitSystem(psychrolib.SI)


@pytest.mark.parametrize("temperature_c", [5.0, 15.0, 22.0, 31.0, 40.0])
@pytest.mark.parametrize("humidity", [0.2, 0.6, 1.0])
def test_humidity_agrees_with_a_psychrometric_library(temperature_c: float, humidity: float) -> None:
    density = vapour_density(humidity, temperature_c)
    ratio = psychrolib.GetHumRatioFromRelHum(temperature_c, humidity, 101325.0)
    volume = psychrolib.GetMoistAirVolume(temperature_c, ratio, 101325.0)
    assert density == pytest.approx(ratio / volume, rel=0.01)
    # Warmed by six kelvin without water, the relative humidity falls as the library says.
    dew = psychrolib.GetTDewPointFromRelHum(temperature_c, humidity)
    expected = psychrolib.GetRelHumFromTDewPoint(temperature_c + 6.0, dew)
    found = humidity_at(density, temperature_c + 6.0)
    # Its dew point keeps the pressure of vapour, ours the mass in the volume.
    assert found == pytest.approx(expected * (temperature_c + 279.15) / (temperature_c + 273.15), rel=0.01)


def test_misting_raises_humidity_for_a_while_and_dries() -> None:
    source = plan(
        timber_enclosure(), substrate_m=0.03, fixtures=(lamp("halogen-flood", 50, 0.3, 0.3, 0.5),)
    )
    misted = replace(source, mistings=(Misting((9.0,), 0.05),))
    pool = Water("w", "Pool", 0.8, 0.3, 0.4, 0.4, 0.1, MATERIALS["plastic"])
    moist = replace(source, furnishings=(pool,))
    evaluation = evaluate(source)
    days = [simulate_day(replace(evaluation, plan=p)) for p in (source, misted, moist)]
    rh = [d.places[-1].relative_humidity for d in days]
    at = 9 * 60 + 20
    assert rh[1][at] > rh[0][at] + 0.1
    assert rh[1][8 * 60 + 50] == pytest.approx(rh[0][8 * 60 + 50], abs=0.03)
    assert days[1].dry_min is not None
    assert 15 < days[1].dry_min < 480
    assert np.all(rh[2] > rh[0] + 0.05)
    assert days[0].dry_min is None


def test_a_slab_warms_through_as_the_exact_solution_says() -> None:
    """One face at a fixed temperature, the other insulated: the slowest term of Fourier's series."""
    n, thickness, k, rho_c = 24, 0.05, 1.0, 2.0e6
    cell = thickness / n
    net = NetworkBuilder(n)
    each = np.arange(n)
    net.link(each[:-1], each[1:], k / cell)
    net.to_boundary(0, 2.0 * k / cell, 30.0)
    net.capacity[:] = rho_c * cell
    network = net.build()
    temperature = np.full(n, 20.0)
    diffusivity = k / rho_c
    for _ in range(60):
        temperature = network.advance(temperature, 60.0)
    decay = math.exp(-(math.pi**2) * diffusivity * 3600.0 / (4.0 * thickness**2))
    far_side = thickness - cell / 2
    exact = 30.0 - 10.0 * 4.0 / math.pi * decay * math.sin(math.pi * far_side / (2.0 * thickness))
    assert float(temperature[-1]) == pytest.approx(exact, abs=0.05)


def outcome(failure_scenario_id: str) -> FailureOutcome:
    evaluation, day = demo()
    return run_scenario(
        next(d for d in failure_scenarios_of(day.plan) if d.id == failure_scenario_id), day, evaluation
    )


def test_every_failure_of_the_list_is_run() -> None:
    ids = [d.id for d in failure_scenarios_of(demo_plan())]
    assert len(set(ids)) == len(ids)
    for wanted in (
        "stuck-on:main",
        "stuck-off:main",
        "dead:basking-lamp",
        "dead:uv-tube",
        "power-cut",
        "heat-wave",
        "cold-room",
        "bigger:basking-lamp",
        "smaller:basking-lamp",
        "lid-open",
        "aged",
    ):
        assert wanted in ids


def test_what_if_tests_go_the_way_they_should() -> None:
    _, day = demo()
    usual = {p.id: p for p in day.places}
    warm = {p.id: p for p in outcome("heat-wave").places}
    assert warm["cool_end"].highest_c > float(usual["cool_end"].air_c.max()) + 5
    dead = {p.id: p for p in outcome("dead:basking-lamp").places}
    assert dead["warm_end"].highest_c < float(usual["warm_end"].air_c.max()) - 3
    dark = {p.id: p for p in outcome("dead:uv-tube").places}
    assert dark["basking"].uvi_highest == 0
    worn = {p.id: p for p in outcome("aged").places}
    assert 0.5 < worn["basking"].uvi_highest / float(usual["basking"].uvi.max()) < 0.9
    opened = {p.id: p for p in outcome("lid-open").places}
    assert opened["warm_end"].lowest_c < float(usual["warm_end"].air_c.min()) - 0.2


def test_danger_is_timed_and_a_safe_place_is_named() -> None:
    evaluation, day = demo()
    delicate = replace(evaluation.plan.animal.species, highest_safe_c=28.0, lowest_safe_c=5.0)
    animal = replace(day.plan.animal, species=delicate)
    frail = replace(day, plan=replace(day.plan, animal=animal))
    found = {
        d.id: run_scenario(d, frail, evaluation)
        for d in failure_scenarios_of(frail.plan)
        if d.id in ("heat-wave", "power-cut")
    }
    assert not found["heat-wave"].always_somewhere
    assert found["heat-wave"].minutes_to_danger is not None
    assert found["heat-wave"].safe_place is None
    assert found["power-cut"].minutes_to_danger is None or found["power-cut"].minutes_to_danger >= 0
    gentle = outcome("aged")
    assert gentle.always_somewhere
    assert gentle.safe_place is not None


def test_watches_read_what_the_places_read() -> None:
    evaluation, _ = demo()
    grid = evaluation.day.grid
    rows = {
        w.id: float(w.weights @ evaluation.day.temperature_c[w.nodes])
        for w in watches_of(grid, evaluation.plan, evaluation.places)
    }
    for place in evaluation.places:
        assert rows[f"{place.id}:air"] == pytest.approx(place.air_c, abs=0.02)
        if place.surface_c is not None:
            assert rows[f"{place.id}:surface"] == pytest.approx(place.surface_c, abs=0.15)


def test_a_slab_in_the_open_needs_no_thermostat_to_be_followed() -> None:
    source = plan(
        timber_enclosure(top=Wall()),
        fixtures=(lamp("halogen-flood", 75, 0.3, 0.3, 0.7),),
        furnishings=(slab(0.3, 0.3, 0.3, 0.3, 0.02, 0.1),),
    )
    day = simulate_day(evaluate(source))
    assert day.thermostats == ()
    assert float(np.max(day.trace.room_c)) == pytest.approx(21.0, abs=0.1)


def test_plumes_of_the_steady_state_are_not_shown_at_another_hour() -> None:
    evaluation = evaluate(demo_plan())
    assert evaluation.day.plumes
    _, at_night = at_moment(evaluation, simulate_day(evaluation), 2.0)
    assert at_night.day.plumes == ()
