"""Evaporation from water as warm as the air, against a formula for pools."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.heat.enclosure_model import Surroundings
from noonshade.core.heat.streamed_model import StreamedModel
from noonshade.core.moisture.humidity import saturation_pressure_pa
from noonshade.core.moisture.vapour import saturation_density, vapour_density
from tests.builders import demo_plan

BARE = replace(demo_plan(), fixtures=(), thermostats=(), furnishings=())


def given_kg_m2_h(temperature_c: float, humidity: float) -> float:
    """What wet ground gives off where everything is as warm."""
    wet = replace(BARE, substrate=replace(BARE.substrate, wetness=1.0))
    vapour = vapour_density(humidity, temperature_c)
    around = Surroundings(temperature_c, {}, vapour_kg_m3=vapour)
    model = StreamedModel(wet, (), {}, around)
    model.network(np.full(model.size, temperature_c), np.zeros(0), around)
    assert model.films.exchange is not None
    saturated = float(saturation_density(np.array(temperature_c)))
    passed = float(np.sum(model.films.exchange.passing_m3_s)) * (saturated - vapour)
    return 3600.0 * passed / (wet.enclosure.length_m * wet.enclosure.depth_m)


@pytest.mark.parametrize("temperature_c", [16.0, 20.0, 25.0, 30.0, 36.0])
def test_wet_ground_gives_off_what_a_calm_pool_does(temperature_c: float) -> None:
    """ASHRAE, HVAC Applications: 4e-5 kg/(m² s) for each kPa and an activity of 1; 0.5 for a calm pool."""
    pool = 3600.0 * 4e-5 * 0.5 * 0.5 * saturation_pressure_pa(temperature_c) / 1000.0
    assert pool / 1.5 < given_kg_m2_h(temperature_c, 0.5) < pool * 1.5


def test_vapour_lifts_the_air_above_water() -> None:
    # Twice the difference of vapour gives off more than twice as much: it also moves the air.
    assert given_kg_m2_h(25.0, 0.2) > 2.2 * given_kg_m2_h(25.0, 0.6)
