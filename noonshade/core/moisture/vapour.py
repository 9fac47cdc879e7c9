"""Water vapour in the enclosure: what surfaces give off and take, what the room carries away.

The vapour is taken to be mixed through the enclosure while temperature is not, so one density serves all
of it, and relative humidity differs from place to place with the temperature there.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
from noonshade.core.constants import AIR_DENSITY_KG_M3, AIR_VOLUMETRIC_J_M3K, KELVIN_AT_0_C
from noonshade.core.heat.films import STIRRED_MINIMUM
from noonshade.core.moisture.humidity import MAGNUS_A, MAGNUS_B_C, MAGNUS_E0_PA, saturation_pressure_pa
from noonshade.core.plan import Hide, Plan

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

VAPOUR_GAS_CONSTANT_J_KGK = 461.5  # R/M of water
VIRTUAL = 0.608  # ratio of the gas constants of vapour and dry air, less 1
LATENT_HEAT_J_KG = 2.45e6  # of evaporation near 20 °C
# Heat and mass pass a film alike: h/(ρ c Le^(2/3)) with a Lewis number of 0.87 for vapour in air.
LEWIS_TWO_THIRDS = 0.87 ** (2.0 / 3.0)
# Water gives off more than the film of a plate passes by Lewis: Sh = 0.230 Sc^(1/3) Ra^0.321 (Bower &
# Saylor 2009, Int. J. Heat Mass Transfer 52:3055) is 1.09 to 1.16 times what Nu = 0.15 Ra^(1/3) gives, for
# Ra of 1e8 to 1e6.
OVER_WATER = 1.12


@dataclass(frozen=True, slots=True)
class Exchange:
    """Surfaces that give off or take up water.

    ``node`` (k,), ``passing_m3_s`` (k,) mass transfer coefficient times area, and ``wet`` (k,): whether
    they give off water, or only take part while it condenses on them.
    """

    node: Ints
    passing_m3_s: Floats
    wet: NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class VapourPaths:
    """How vapour comes and goes: surfaces, room air that comes in (m³/s), and the vapour in it (kg/m³)."""

    exchange: Exchange
    fresh_m3_s: float
    room_vapour_kg_m3: float


@dataclass(frozen=True, slots=True)
class Moisture:
    """Vapour in the air of the enclosure, kg/m³, and the flows that keep it there, kg/s."""

    vapour_kg_m3: float
    evaporated_kg_s: float
    condensed_kg_s: float
    carried_off_kg_s: float


@compiled_exactly
def saturated(temperature_c: float) -> float:  # pragma: no cover - compiled
    """Density of saturated vapour at one temperature, kg/m³.

    Parameters
    ----------
    temperature_c : float
        Temperature, °C.

    Returns
    -------
    float
        The density, kg/m³.
    """
    pressure = MAGNUS_E0_PA * math.exp(MAGNUS_A * temperature_c / (MAGNUS_B_C + temperature_c))
    return pressure / (VAPOUR_GAS_CONSTANT_J_KGK * (temperature_c + KELVIN_AT_0_C))


@compiled_exactly
def saturated_slope(temperature_c: float) -> float:  # pragma: no cover - compiled
    """How much it rises with temperature, kg/(m³ K).

    Parameters
    ----------
    temperature_c : float
        Temperature, °C.

    Returns
    -------
    float
        The slope, kg/(m³ K).
    """
    relative = MAGNUS_A * MAGNUS_B_C / (MAGNUS_B_C + temperature_c) ** 2
    return saturated(temperature_c) * (relative - 1.0 / (temperature_c + KELVIN_AT_0_C))


@compiled_exactly
def _saturated_each(temperature_c: Floats) -> Floats:  # pragma: no cover - compiled
    found = np.empty(temperature_c.size)
    for i in range(temperature_c.size):
        found[i] = saturated(temperature_c[i])
    return found


def saturation_density(temperature_c: Floats) -> Floats:
    """Density of saturated vapour, kg/m³.

    Parameters
    ----------
    temperature_c : Floats
        Temperatures, °C.

    Returns
    -------
    Floats
        The densities, kg/m³, of the shape of the temperatures.
    """
    t = np.asarray(temperature_c, dtype=np.float64)
    found: Floats = _saturated_each(t.ravel()).reshape(t.shape)
    return found


def vapour_density(relative_humidity: float, temperature_c: float) -> float:
    """Vapour in air of a relative humidity (0–1) and temperature, kg/m³.

    Parameters
    ----------
    relative_humidity : float
        Relative humidity, 0 to 1.
    temperature_c : float
        Temperature, °C.

    Returns
    -------
    float
        The density, kg/m³.
    """
    pressure = relative_humidity * saturation_pressure_pa(temperature_c)
    return pressure / (VAPOUR_GAS_CONSTANT_J_KGK * (temperature_c + KELVIN_AT_0_C))


def room_vapour(plan: Plan, room_c: float) -> float:
    """Vapour in the room's air, kg/m³: as much by night as by day, but no more than it can hold.

    Parameters
    ----------
    plan : Plan
        The plan.
    room_c : float
        Temperature of the room, °C.

    Returns
    -------
    float
        Vapour in the room's air, kg/m³.
    """
    by_day = vapour_density(plan.room.relative_humidity, plan.room.day_temperature_c)
    return min(by_day, vapour_density(1.0, room_c))


def humidity_at(vapour_kg_m3: float, temperature_c: float) -> float:
    """Relative humidity (0–1) of vapour where the air has a temperature; no more than 1.

    Parameters
    ----------
    vapour_kg_m3 : float
        Water vapour, kg/m³.
    temperature_c : float
        Temperature, °C.

    Returns
    -------
    float
        Relative humidity (0–1) of vapour where the air has a temperature.
    """
    pressure = vapour_kg_m3 * VAPOUR_GAS_CONSTANT_J_KGK * (temperature_c + KELVIN_AT_0_C)
    return min(1.0, pressure / saturation_pressure_pa(temperature_c))


def humidity_in(vapour_kg_m3: float, temperature_c: Floats) -> Floats:
    """Relative humidity (0–1) of evenly mixed vapour over air of different temperatures.

    Parameters
    ----------
    vapour_kg_m3 : float
        Water vapour, kg/m³.
    temperature_c : Floats
        Temperatures, °C.

    Returns
    -------
    Floats
        The humidities, 0–1, of the shape of the temperatures.
    """
    found: Floats = np.minimum(1.0, vapour_kg_m3 / saturation_density(temperature_c))
    return found


@compiled_exactly
def mass_transfer(film_w_m2k: float, is_water: bool) -> float:  # pragma: no cover - compiled
    """Mass transfer coefficient of a surface with a convection coefficient, m/s (Lewis).

    Parameters
    ----------
    film_w_m2k : float
        Film coefficient, W/(m² K).
    is_water : bool
        Whether it gives off water upwards, as ground and dishes do.

    Returns
    -------
    float
        The coefficient, m/s.
    """
    over = OVER_WATER if is_water else 1.0
    return over * film_w_m2k / (AIR_VOLUMETRIC_J_M3K * LEWIS_TWO_THIRDS)


@compiled_exactly
def giving_share(
    temperature_c: float, wet: float, vapour_kg_m3: float
) -> float:  # pragma: no cover - compiled
    """Share of a surface that exchanges water: a dry one only where it is below the dew point.

    Parameters
    ----------
    temperature_c : float
        Of the surface, °C.
    wet : float
        How wet it is, 0–1.
    vapour_kg_m3 : float
        Vapour in the air around, kg/m³.

    Returns
    -------
    float
        The share, 0–1.
    """
    return 1.0 if saturated(temperature_c) < vapour_kg_m3 else wet


@compiled_exactly
def buoyant_lift(
    temperature_c: float, share: float, vapour_kg_m3: float
) -> float:  # pragma: no cover - compiled
    """How much warmer air at a damp surface seems by its vapour, which is lighter than air, K.

    Parameters
    ----------
    temperature_c : float
        Surface temperature, °C.
    share : float
        How wet the surface is, 0–1.
    vapour_kg_m3 : float
        Vapour in the air around, kg/m³.

    Returns
    -------
    float
        Difference of virtual temperature from the vapour alone, K, negative where vapour condenses.

    References
    ----------
    .. [1] Virtual temperature, T (1 + 0.61 q), as in Stull, Practical Meteorology.
    """
    excess = share * (saturated(temperature_c) - vapour_kg_m3)
    return VIRTUAL * (temperature_c + KELVIN_AT_0_C) * excess / AIR_DENSITY_KG_M3


def steady_vapour(
    exchange: Exchange,
    temperature_c: Floats,
    fresh_m3_s: float,
    outside_kg_m3: float,
    fog_kg_s: float = 0.0,
) -> Moisture:
    """Vapour at which as much is given off and brought in as condenses and is carried off.

    Parameters
    ----------
    exchange : Exchange
        Exchange of vapour with the room and surfaces.
    temperature_c : (n,) float64
        Of all nodes.
    fresh_m3_s : float
        Room air that comes in.
    outside_kg_m3 : float
        Vapour in it.
    fog_kg_s : float
        Water brought by a fogger or sprayer, all of which ends up in the air.

    Returns
    -------
    Moisture
        The vapour density, kg/m³, and the flows, kg/s.
    """
    full = saturation_density(temperature_c[exchange.node])
    vapour = outside_kg_m3
    # A surface that only takes up water stops when it would give off: few rounds settle who does.
    for _ in range(20):
        active = exchange.wet | (full < vapour)
        passing = exchange.passing_m3_s * active
        total = float(np.sum(passing)) + fresh_m3_s
        if total <= 0.0:
            break
        found = (float(passing @ full) + fresh_m3_s * outside_kg_m3 + fog_kg_s) / total
        if math.isclose(found, vapour, rel_tol=1e-12):
            break
        vapour = found
    return flows(exchange, full, vapour, fresh_m3_s, outside_kg_m3)


def flows(
    exchange: Exchange,
    saturated_kg_m3: Floats,
    vapour_kg_m3: float,
    fresh_m3_s: float,
    outside_kg_m3: float,
) -> Moisture:
    """What surfaces give off and take up at a vapour density, and what the room carries off.

    Parameters
    ----------
    exchange : Exchange
        Exchange of vapour with the room.
    saturated_kg_m3 : Floats
        Saturated vapour, kg/m³.
    vapour_kg_m3 : float
        Water vapour, kg/m³.
    fresh_m3_s : float
        Air exchanged with the room, m³/s.
    outside_kg_m3 : float
        Water vapour of the room, kg/m³.

    Returns
    -------
    Moisture
        The given density, kg/m³, and the flows, kg/s.
    """
    given = exchange.passing_m3_s * (saturated_kg_m3 - vapour_kg_m3)
    given = np.where(exchange.wet, given, np.minimum(given, 0.0))
    return Moisture(
        vapour_kg_m3,
        float(np.sum(np.maximum(given, 0.0))),
        -float(np.sum(np.minimum(given, 0.0))),
        fresh_m3_s * (vapour_kg_m3 - outside_kg_m3),
    )


# Air passes the opening of a hide about this fast, m/s. Estimate.
HIDE_EXCHANGE_M_S = 0.005


def moist_hide_vapour(hide: Hide, surface_c: float, enclosure_vapour_kg_m3: float) -> float:
    """Vapour inside a hide with a wet floor, a small separate volume, kg/m³.

    Parameters
    ----------
    hide : Hide
        The hide.
    surface_c : float
        Surface temperature, °C.
    enclosure_vapour_kg_m3 : float
        Water vapour in the enclosure, kg/m³.

    Returns
    -------
    float
        The density, kg/m³.
    """
    inside = (hide.length_m - 2 * hide.wall_m) * (hide.width_m - 2 * hide.wall_m)
    giving = inside * mass_transfer(STIRRED_MINIMUM, False)
    passing = hide.opening_width_m * hide.opening_height_m * HIDE_EXCHANGE_M_S
    return (giving * saturated(surface_c) + passing * enclosure_vapour_kg_m3) / (giving + passing)
