"""What air passes between cells and through openings: vents, joints, open faces.

A stated simplification: air is well mixed over the depth of the enclosure, and its flow over length and
height is put together from known pieces rather than solved from the momentum equation. Each piece
conserves mass cell by cell, so the energy balance is exact whatever the flow.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import (
    AIR_VOLUMETRIC_J_M3K,
    DISCHARGE_COEFFICIENT,
    GRAVITY_M_S2,
    KELVIN_AT_0_C,
)
from noonshade.core.heat.faces import Opening
from noonshade.core.heat.grids import AirGrid, overlap
from noonshade.core.plan import Enclosure, Vent

Floats = NDArray[np.float64]

# Damping of mixing by stratification, 1/(1 + 10/3 Ri). Munk & Anderson (1948) have the power −3/2, which
# makes steeper layers mix less heat, so that ever thinner layers would form on ever finer grids.
STABLE_DAMPING = 10.0 / 3.0
# A vent draws from this far above and below its middle, m. Estimate.
VENT_REACH_M = 0.05
MOLECULAR_DIFFUSIVITY_M2_S = 2.2e-5
# Speed of air in an undisturbed room; part of it blows through mesh and over open tops. Estimate.
ROOM_DRAUGHT_M_S = 0.05
TOP_DRAUGHT_SHARE = 0.1  # a draught passes over an open top, little dips into it. Estimate.
# A closed enclosure changes its air this often through joints and cables, its doors' own gaps apart, 1/h.
# Estimate.
LEAKS_PER_H = 0.4
# Exchange through a horizontal opening with warm air below: Q = 0.055 √(g' D⁵), Epstein (1988).
EPSTEIN = 0.055


@dataclass(frozen=True, slots=True)
class AirFlow:
    """Flows between cells and with the room, as heat capacity flows and conductances in W/K.

    ``up`` (nx, nz + 1) through the lower face of each level and the top, positive upwards;
    ``right`` (nx + 1, nz) through the left face of each column, positive to the right; ``vent_in`` and
    ``vent_out`` (nx, nz); ``mix_x`` (nx − 1, nz) and ``mix_z`` (nx, nz − 1) conductances; ``exchange``
    (nx, nz) conductance to the room through open faces.
    """

    up: Floats
    right: Floats
    vent_in: Floats
    vent_out: Floats
    mix_x: Floats
    mix_z: Floats
    exchange: Floats

    @property
    def fresh_m3_s(self) -> float:
        """Room air that comes into the enclosure."""
        top = float(np.sum(np.maximum(-self.up[:, -1], 0.0)))
        vents = float(np.sum(self.vent_in))
        return (top + vents + float(np.sum(self.exchange))) / AIR_VOLUMETRIC_J_M3K


def leak_m3_s(enclosure: Enclosure) -> float:
    """What passes the joints and cables of a closed enclosure.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure.

    Returns
    -------
    float
        Volume flow, m³/s.
    """
    return LEAKS_PER_H * enclosure.length_m * enclosure.depth_m * enclosure.height_m / 3600.0


def vent_flow(enclosure: Enclosure, grid: AirGrid, air_c: Floats, room_c: float) -> tuple[Floats, Floats]:
    """Stack flow through the vents as volume flows into and out of cells (nx, nz), m³/s.

    Each vent passes Q = C_d A √(2 Δp/ρ); the pressure level inside is the one at which as much
    comes in as goes out. Two equal vents H apart give the textbook Q = C_d A* √(2 g H ΔT/T).

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure, for its vents.
    grid : AirGrid
        Its air cells.
    air_c : (nx, nz) float64
        Air temperatures, °C.
    room_c : float
        Air of the room, °C.

    Returns
    -------
    tuple of (nx, nz) float64
        Flows into and out of the cells, m³/s, of the same sum.
    """
    into = np.zeros((grid.nx, grid.nz))
    out = np.zeros((grid.nx, grid.nz))
    difference = float(np.mean(air_c)) - room_c
    if len(enclosure.vents) < 2 or abs(difference) < 1e-6:
        return into, out
    kelvin = float(np.mean(air_c)) + KELVIN_AT_0_C
    level = neutral_level_m(enclosure.vents)
    z = np.array([v.z_m for v in enclosure.vents])
    area = np.array([v.area_m2 for v in enclosure.vents])
    drop = GRAVITY_M_S2 * difference / kelvin * (z - level)  # Δp/ρ, positive outwards, m²/s²
    flows = DISCHARGE_COEFFICIENT * area * np.sign(drop) * np.sqrt(2.0 * np.abs(drop))
    total = float(np.sum(np.abs(flows)))
    if total <= 0.0:
        return into, out
    flows -= np.sum(flows) * np.abs(flows) / total
    for vent, flow in zip(enclosure.vents, flows, strict=True):
        x = {"left": 0.0, "right": enclosure.length_m}.get(vent.side, vent.x_m)
        column = grid.column(x)
        low, high = vent.z_m - VENT_REACH_M, vent.z_m + VENT_REACH_M
        if flow > 0:
            out[column] += flow * _levels_between(grid, low, high)
        elif difference > 0:
            # Cooler air that comes in falls to the floor, mixing on its way; warmer air rises.
            into[column] -= flow * _levels_between(grid, float(grid.z_edges[0]), high)
        else:
            into[column] -= flow * _levels_between(grid, low, float(grid.z_edges[-1]))
    return into, out


def _levels_between(grid: AirGrid, low: float, high: float) -> Floats:
    """Share (nz,) of each level in an interval of height; the nearest level if it is outside."""
    share = overlap(grid.z_edges, low, high)
    total = float(np.sum(share))
    if total <= 0.0:
        share[grid.level((low + high) / 2)] = total = 1.0
    return share / total


@lru_cache(maxsize=64)
def neutral_level_m(vents: tuple[Vent, ...]) -> float:
    """Height at which the pressure inside equals the room's, m.

    As much flows out above it as in below, Σ A √|z − level| sign(z − level) = 0, so it depends on
    where the vents are and not on how warm the enclosure is.

    Parameters
    ----------
    vents : tuple of Vent
        The vents, at least one.

    Returns
    -------
    float
        The height, m.
    """
    low, high = min(v.z_m for v in vents), max(v.z_m for v in vents)
    # Bisection by hand: scipy.optimize would add a second to every start.
    for _ in range(50):
        middle = (low + high) / 2
        net = sum(v.area_m2 * math.copysign(math.sqrt(abs(v.z_m - middle)), v.z_m - middle) for v in vents)
        if net > 0:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def beside_flow(mixing: Floats, flow: Floats) -> Floats:
    """Mixing conductance to use beside an upwind flow, W/K.

    What the exact profile of mixing and flow between two cell centres asks for: the exponential scheme
    of Patankar, Numerical Heat Transfer and Fluid Flow (1980). An upwind flow smears by itself, so the
    full mixing on top of it would be too much, and more so the larger the cells.

    Parameters
    ----------
    mixing : float64
        Conductance of mixing between cells, W/K.
    flow : float64
        Heat capacity flow between them, W/K, of either sign.

    Returns
    -------
    float64
        Conductances, W/K, of the same shape.
    """
    peclet = np.clip(np.abs(flow) / mixing, 1e-6, 500.0)
    share: Floats = peclet / np.expm1(peclet)
    return mixing * share


def open_faces(
    enclosure: Enclosure, grid: AirGrid, air_c: Floats, room_c: float, openings: tuple[Opening, ...]
) -> Floats:
    """Conductance to the room through what is open.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure, for its lid.
    grid : AirGrid
        Its air cells.
    air_c : (nx, nz) float64
        Air temperatures, °C.
    room_c : float
        Air of the room, °C.
    openings : tuple of Opening
        Those of the sides.

    Returns
    -------
    (nx, nz) float64
        Conductances, W/K.
    """
    kelvin = room_c + KELVIN_AT_0_C
    exchange = np.zeros(grid.size)
    warmer = np.abs(air_c - room_c).ravel()
    for opening in openings:
        # Air goes out above and comes in below: Q = C_d A/3 √(g H ΔT/T) of a doorway.
        speed = np.sqrt(GRAVITY_M_S2 * opening.height_m * warmer[opening.cells] / kelvin)
        speed *= DISCHARGE_COEFFICIENT / 3.0
        if opening.draughty:
            speed += 0.5 * ROOM_DRAUGHT_M_S
        exchange[opening.cells] += AIR_VOLUMETRIC_J_M3K * speed * opening.area_m2
    found = exchange.reshape(grid.nx, grid.nz)
    share = enclosure.lid_open_fraction
    if share > 0:
        warmth = max(float(np.mean(air_c[:, -1])) - room_c, 0.0)
        area = enclosure.length_m * enclosure.depth_m
        diameter = math.sqrt(4.0 * area / math.pi)
        swap = EPSTEIN * math.sqrt(GRAVITY_M_S2 * warmth / kelvin * diameter**5)
        swap += TOP_DRAUGHT_SHARE * ROOM_DRAUGHT_M_S * area
        found[:, -1] += AIR_VOLUMETRIC_J_M3K * share * swap / grid.nx
    return found
