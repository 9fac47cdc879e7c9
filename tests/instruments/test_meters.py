"""Simulated instruments: what is physical about each, and their limit cases."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime

import numpy as np
import pytest

from noonshade.core.errors import PlanError
from noonshade.core.readings.instrument import USUAL, Accuracy, InstrumentKind
from noonshade.instruments.meters import (
    AirProbe,
    InfraredThermometer,
    Kit,
    RoomThermometer,
    Sheet,
    UvMeter,
    drawn_kit,
    drawn_sheet,
)
from noonshade.instruments.recorders import Logger, ThermostatProbe
from noonshade.instruments.true_enclosure import TrueEnclosure
from tests.builders import flawless

SLAB = (0.28, 0.30, 0.201)
BACK = (0.28, 0.30, 0.23)
COOL = (1.05, 0.30, 0.18)


@pytest.fixture(scope="module")
def enclosure() -> TrueEnclosure:
    return TrueEnclosure(flawless())


@pytest.fixture
def rng() -> np.random.Generator:
    return np.random.default_rng(1)


def exact(kind: InstrumentKind, bias: float = 0.0) -> Sheet:
    return Sheet("Exact", kind, Accuracy(0.0, 0.0, 1e-6), bias, "2026-01-10")


def test_an_exact_meter_shows_what_is_there(enclosure: TrueEnclosure, rng: np.random.Generator) -> None:
    meter = UvMeter(exact("UV meter"))
    truth = enclosure.at(BACK)
    assert meter.read(enclosure, BACK, rng) == pytest.approx(truth.uvi_facing, abs=1e-5)
    assert meter.read(enclosure, BACK, rng, "level") == pytest.approx(truth.uvi_level, abs=1e-5)
    high = UvMeter(exact("UV meter", bias=0.1))
    assert high.read(enclosure, BACK, rng) == pytest.approx(1.1 * truth.uvi_facing, rel=1e-5)
    with pytest.raises(PlanError, match="outside the enclosure"):
        meter.read(enclosure, (9.0, 0.1, 0.2), rng)


def test_a_display_has_a_last_digit_and_noise_about_its_bias(rng: np.random.Generator) -> None:
    sheet = Sheet("A", "air probe", Accuracy(0.5, 0.2, 0.1), 0.4, "2026-01-10")
    shown = np.array([sheet.shown(25.0, 1.0, rng) for _ in range(4000)])
    assert np.all(np.abs(shown * 10 - np.round(shown * 10)) < 1e-6)
    assert np.mean(shown) == pytest.approx(25.4, abs=0.02)
    assert np.std(shown) == pytest.approx(0.2, abs=0.02)
    drawn = [drawn_sheet("air probe", rng).bias for _ in range(4000)]
    assert np.std(drawn) == pytest.approx(USUAL["air probe"].bias, rel=0.05)


def test_the_spot_of_an_infrared_thermometer_widens_with_distance(
    enclosure: TrueEnclosure, rng: np.random.Generator
) -> None:
    """At the hottest point of the slab a wide spot takes in its cooler surroundings."""
    hot = max(
        ((x, y, 0.201) for x in (0.2, 0.25, 0.3, 0.35) for y in (0.22, 0.28, 0.34, 0.38)),
        key=lambda p: enclosure.at(p).surface_c,
    )
    gun = InfraredThermometer(exact("infrared thermometer"), emissivity=enclosure.emissivity_below(hot))
    near, far = gun.read(enclosure, hot, rng, 0.05), gun.read(enclosure, hot, rng, 1.6)
    assert near == pytest.approx(enclosure.at(hot).surface_c, abs=0.3)
    assert far < near - 1.0


def test_a_wrong_emissivity_misreads_a_hot_surface_towards_its_surroundings(
    enclosure: TrueEnclosure, rng: np.random.Generator
) -> None:
    true = enclosure.emissivity_below(SLAB)
    right = InfraredThermometer(exact("infrared thermometer"), emissivity=true)
    low = InfraredThermometer(exact("infrared thermometer"), emissivity=0.6)
    surface = enclosure.at(SLAB).surface_c
    assert right.read(enclosure, SLAB, rng, 0.01) == pytest.approx(surface, abs=0.2)
    # Set lower than it is, it takes the same heat for a hotter surface.
    assert low.read(enclosure, SLAB, rng, 0.01) > surface + 3.0
    # At one temperature all around, emissivity does not matter.
    cold = TrueEnclosure(replace(enclosure.plan, fixtures=()))
    assert low.read(cold, COOL, rng) == pytest.approx(cold.at(COOL).surface_c, abs=0.05)


def test_the_beam_warms_a_bare_probe_and_hardly_a_shaded_one(
    enclosure: TrueEnclosure, rng: np.random.Generator
) -> None:
    probe = AirProbe(exact("air probe"))
    truth = enclosure.at(BACK)
    bare, shaded = probe.read(enclosure, BACK, rng, shaded=False), probe.read(enclosure, BACK, rng)
    assert bare > truth.probe_c + 2.0
    assert truth.probe_c <= shaded < truth.probe_c + 0.5
    dark = TrueEnclosure(replace(enclosure.plan, fixtures=()))
    assert probe.read(dark, COOL, rng, shaded=False) == pytest.approx(dark.at(COOL).probe_c, abs=1e-5)


def test_a_kit_reads_every_kind_and_asks_for_a_place(
    enclosure: TrueEnclosure, rng: np.random.Generator
) -> None:
    kit: Kit = drawn_kit(rng)
    assert kit.read(enclosure, "room_air", None, rng) == pytest.approx(21.0, abs=1.5)
    assert kit.read(enclosure, "room_humidity", None, rng) == pytest.approx(0.45, abs=0.15)
    assert kit.read(enclosure, "air_min", None, rng) == pytest.approx(
        enclosure.evaluation.night_air_c, abs=1.5
    )
    assert kit.read(enclosure, "surface", SLAB, rng) == pytest.approx(enclosure.at(SLAB).surface_c, abs=5.0)
    assert kit.read(enclosure, "uvi_level", BACK, rng) < kit.read(enclosure, "uvi_facing", BACK, rng) * 1.3
    assert 0.0 <= kit.read(enclosure, "humidity", COOL, rng) <= 1.0
    assert isinstance(kit.room, RoomThermometer)
    with pytest.raises(ValueError, match="needs a place"):
        kit.read(enclosure, "air", None, rng)


def test_a_logger_follows_the_day_slowly(enclosure: TrueEnclosure, rng: np.random.Generator) -> None:
    start = datetime(2026, 3, 14, tzinfo=UTC)
    quick = Logger(exact("air probe"), exact("hygrometer"), every_min=10, time_constant_min=0.5)
    slow = replace(quick, time_constant_min=300.0)
    rows, lagging = (list(one.record(enclosure, "warm_end", start, 48.0, rng)) for one in (quick, slow))
    assert len(rows) == 288
    assert (rows[1].at - rows[0].at).total_seconds() == 600
    # The same on both days, highest by day, and what lags swings less.
    assert rows[30].temperature_c == rows[174].temperature_c
    assert 8 < max(rows, key=lambda r: r.temperature_c).at.hour < 21
    swing = [max(r.temperature_c for r in x) - min(r.temperature_c for r in x) for x in (rows, lagging)]
    assert swing[1] < swing[0] - 0.5
    assert all(0.0 <= r.relative_humidity <= 1.0 for r in rows)
    with pytest.raises(KeyError):
        list(quick.record(enclosure, "attic", start, 1.0, rng))


def test_a_thermostat_shows_what_its_probe_reads(
    enclosure: TrueEnclosure, rng: np.random.Generator
) -> None:
    display = ThermostatProbe(exact("air probe"))
    name = enclosure.plan.thermostats[0].id
    by_day, by_night = (display.read(enclosure, name, hour, rng) for hour in (15.0, 4.0))
    assert by_day > by_night + 3.0
    with pytest.raises(KeyError):
        display.read(enclosure, "none", 12.0, rng)
