"""Level air between the streams: what sinks or rises in their place, and how layers mix and level out."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K, GRAVITY_M_S2, KELVIN_AT_0_C
from noonshade.core.heat.airflow import (
    MOLECULAR_DIFFUSIVITY_M2_S,
    STABLE_DAMPING,
    AirFlow,
    beside_flow,
    leak_m3_s,
)
from noonshade.core.heat.grids import AirGrid
from noonshade.core.heat.openings import Openings, exchange_through
from noonshade.core.heat.stream_nodes import CellFlows
from noonshade.core.plan import Enclosure

Floats = NDArray[np.float64]

# Eddy diffusivity D = c w* H with w* = (B H)^(1/3) (Deardorff 1970); c is about 0.1 in convective boundary
# layers. Estimate: one number for all enclosures, in the middle of what reference cases allow, 0.1 to 0.2.
EDDY_COEFFICIENT = 0.15
# Below this gradient, K/m, waves fade evenly with it and not with its root, whose steepness at nothing
# would keep rounds from settling. Estimate: a tenth of a kelvin between two layers.
BARELY_LAYERED_K_M = 1.0


class Exchanges(NamedTuple):
    """What the enclosure exchanges with the room: through its openings, by fans and through joints."""

    openings: Openings
    fan_m3_s: float
    leaks: bool


def layered_flow(
    enclosure: Enclosure,
    grid: AirGrid,
    air_c: Floats,
    room_c: float,
    streams: CellFlows,
    power_w: float,
    exchanges: Exchanges,
) -> AirFlow:
    """Flow of the level air, from the temperatures of the last round.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure, for its leaks.
    grid : AirGrid
        Its air cells.
    air_c : (nx, nz) float64
        Air temperatures, °C.
    room_c : float
        Air of the room, °C.
    streams : CellFlows
        What streams take from each cell and give to it.
    power_w : float
        Heat that drives the air's movement: of plumes and of films along walls, W.
    exchanges : Exchanges
        Openings, fans and leaks.

    Returns
    -------
    AirFlow
        Flows between cells and with the room; each cell gains as much air as it loses.
    """
    kelvin = float(np.mean(air_c)) + KELVIN_AT_0_C
    passing = exchange_through(exchanges.openings, grid, air_c, room_c)
    given = streams.given - streams.taken + passing.into - passing.out
    up = np.zeros((grid.nx, grid.nz + 1))
    # It sinks or rises evenly over the floor, so that as much leaves each layer as comes to it; what plumes
    # carry out through an open lid comes in beside them.
    up[:, 1:] = np.cumsum(np.sum(given, axis=0))[None, :] / grid.nx
    up[:, -1] = passing.lid - streams.out
    right = np.zeros((grid.nx + 1, grid.nz))
    right[1:] = np.cumsum(up[:, :-1] - up[:, 1:] + given, axis=0)
    mix_x, mix_z = _mixing(grid, air_c, kelvin, power_w)
    rho_c = AIR_VOLUMETRIC_J_M3K
    everywhere = exchanges.fan_m3_s + (leak_m3_s(enclosure) if exchanges.leaks else 0.0)
    return AirFlow(
        rho_c * up,
        rho_c * right,
        rho_c * passing.into,
        rho_c * passing.out,
        beside_flow(mix_x, rho_c * right[1:-1]),
        beside_flow(mix_z, rho_c * up[:, 1:-1]),
        passing.still_w_k + rho_c * everywhere / grid.size,
    )


def _mixing(grid: AirGrid, air_c: Floats, kelvin: float, power_w: float) -> tuple[Floats, Floats]:
    """Conductances sideways (nx − 1, nz) and upwards (nx, nz − 1), W/K."""
    height = float(grid.z_edges[-1] - grid.z_edges[0])
    length = float(grid.x_edges[-1] - grid.x_edges[0])
    buoyancy = GRAVITY_M_S2 * power_w / (AIR_VOLUMETRIC_J_M3K * kelvin * length * grid.depth_m)
    velocity = max((buoyancy * height) ** (1 / 3), 1e-3)
    eddy = EDDY_COEFFICIENT * velocity * height
    gradient = np.diff(air_c, axis=1) / grid.dz
    # Where air is layered, waves level its layers: a difference over the length L decays at the rate of the
    # longest wave's speed, N H/π, over L, as with a diffusivity of N H L/π³ (N of the mean gradient).
    steepness = np.maximum(np.mean(gradient, axis=0), 0.0)
    of_level = 0.5 * (np.append(steepness[:1], steepness) + np.append(steepness, steepness[-1:]))
    rate = np.sqrt(GRAVITY_M_S2 / kelvin) * of_level / np.sqrt(of_level + BARELY_LAYERED_K_M)
    waves = rate * height * length / math.pi**3
    sideways = np.broadcast_to(eddy + waves + MOLECULAR_DIFFUSIVITY_M2_S, (grid.nx - 1, grid.nz))
    richardson = GRAVITY_M_S2 / kelvin * gradient * (height / velocity) ** 2
    damping = np.where(
        richardson > 0,
        1.0 / (1.0 + STABLE_DAMPING * np.maximum(richardson, 0.0)),
        np.sqrt(1.0 + np.minimum(-np.minimum(richardson, 0.0), 400.0)),
    )
    upwards = eddy * damping + MOLECULAR_DIFFUSIVITY_M2_S
    rho_c = AIR_VOLUMETRIC_J_M3K
    return (
        rho_c * sideways * grid.depth_m * grid.dz / grid.dx,
        rho_c * upwards * grid.depth_m * grid.dx / grid.dz,
    )
