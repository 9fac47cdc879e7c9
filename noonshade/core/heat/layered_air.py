"""Level air between the streams: what sinks or rises in their place, and how layers mix and level out."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
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


@compiled_exactly
def _mixing(
    air_c: Floats, x_edges: Floats, z_edges: Floats, depth_m: float, power_w: float
) -> tuple[Floats, Floats]:  # pragma: no cover - compiled
    """Conductances sideways (nz,), the same between all columns, and upwards (nx, nz − 1), W/K."""
    nx, nz = air_c.shape
    kelvin = np.mean(air_c) + KELVIN_AT_0_C
    height, length = z_edges[-1] - z_edges[0], x_edges[-1] - x_edges[0]
    dx, dz = x_edges[1] - x_edges[0], z_edges[1] - z_edges[0]
    buoyancy = GRAVITY_M_S2 * power_w / (AIR_VOLUMETRIC_J_M3K * kelvin * length * depth_m)
    velocity = max((buoyancy * height) ** (1 / 3), 1e-3)
    eddy = EDDY_COEFFICIENT * velocity * height
    # Where air is layered, waves level its layers: a difference over the length L decays at the rate of the
    # longest wave's speed, N H/π, over L, as with a diffusivity of N H L/π³ (N of the mean gradient).
    steepness = np.zeros(nz - 1)
    for k in range(nz - 1):
        steepness[k] = max(np.mean(air_c[:, k + 1] - air_c[:, k]) / dz, 0.0)
    sideways, upwards = np.zeros(nz), np.zeros((nx, nz - 1))
    for k in range(nz):
        of_level = 0.5 * (steepness[max(k - 1, 0)] + steepness[min(k, nz - 2)])
        rate = math.sqrt(GRAVITY_M_S2 / kelvin) * of_level / math.sqrt(of_level + BARELY_LAYERED_K_M)
        diffusivity = eddy + rate * height * length / math.pi**3 + MOLECULAR_DIFFUSIVITY_M2_S
        sideways[k] = AIR_VOLUMETRIC_J_M3K * diffusivity * depth_m * dz / dx
    for i in range(nx):
        for k in range(nz - 1):
            gradient = (air_c[i, k + 1] - air_c[i, k]) / dz
            richardson = GRAVITY_M_S2 / kelvin * gradient * (height / velocity) ** 2
            if richardson > 0.0:
                damping = 1.0 / (1.0 + STABLE_DAMPING * richardson)
            else:
                damping = math.sqrt(1.0 + min(-richardson, 400.0))
            diffusivity = eddy * damping + MOLECULAR_DIFFUSIVITY_M2_S
            upwards[i, k] = AIR_VOLUMETRIC_J_M3K * diffusivity * depth_m * dx / dz
    return sideways, upwards


@compiled_exactly
def _level_air(
    air_c: Floats,
    x_edges: Floats,
    z_edges: Floats,
    depth_m: float,
    given: Floats,
    through_lid: Floats,
    power_w: float,
) -> tuple[Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
    """Flows up (nx, nz + 1) and right (nx + 1, nz), and mixing sideways and upwards beside them, W/K."""
    nx, nz = air_c.shape
    rho_c = AIR_VOLUMETRIC_J_M3K
    up, right = np.zeros((nx, nz + 1)), np.zeros((nx + 1, nz))
    # It sinks or rises evenly over the floor, so that as much leaves each layer as comes to it; what plumes
    # carry out through an open lid comes in beside them.
    risen = 0.0
    for k in range(nz):
        risen += np.sum(given[:, k])
        up[:, k + 1] = rho_c * risen / nx
    up[:, nz] = rho_c * through_lid
    for i in range(nx):
        for k in range(nz):
            right[i + 1, k] = right[i, k] + up[i, k] - up[i, k + 1] + rho_c * given[i, k]
    sideways, upwards = _mixing(air_c, x_edges, z_edges, depth_m, power_w)
    mix_x, mix_z = np.zeros((nx - 1, nz)), np.zeros((nx, nz - 1))
    for k in range(nz):
        for i in range(nx - 1):
            mix_x[i, k] = beside_flow(sideways[k], right[i + 1, k])
    for i in range(nx):
        for k in range(nz - 1):
            mix_z[i, k] = beside_flow(upwards[i, k], up[i, k + 1])
    return up, right, mix_x, mix_z


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
    passing = exchange_through(exchanges.openings, grid, air_c, room_c)
    given = streams.given - streams.taken + passing.into - passing.out
    up, right, mix_x, mix_z = _level_air(
        air_c, grid.x_edges, grid.z_edges, grid.depth_m, given, passing.lid - streams.out, power_w
    )
    rho_c = AIR_VOLUMETRIC_J_M3K
    everywhere = exchanges.fan_m3_s + (leak_m3_s(enclosure) if exchanges.leaks else 0.0)
    return AirFlow(
        up,
        right,
        rho_c * passing.into,
        rho_c * passing.out,
        mix_x,
        mix_z,
        passing.still_w_k + rho_c * everywhere / grid.size,
    )
