"""What air passes between cells and through joints.

A stated simplification: air is well mixed over the depth of the enclosure, and its flow over length and
height is put together from known pieces rather than solved from the momentum equation. Each piece
conserves mass cell by cell, so the energy balance is exact whatever the flow.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K
from noonshade.core.plan import Enclosure

Floats = NDArray[np.float64]

# Damping of mixing by stratification, 1/(1 + 10/3 Ri). Munk & Anderson (1948) have the power −3/2, which
# makes steeper layers mix less heat, so that ever thinner layers would form on ever finer grids.
STABLE_DAMPING = 10.0 / 3.0
MOLECULAR_DIFFUSIVITY_M2_S = 2.2e-5
# A closed enclosure changes its air this often through joints and cables, its doors' own gaps apart, 1/h.
# Estimate.
LEAKS_PER_H = 0.4


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


@compiled_exactly
def beside_flow(mixing: float, flow: float) -> float:  # pragma: no cover - compiled
    """Mixing conductance to use beside an upwind flow, W/K.

    What the exact profile of mixing and flow between two cell centres asks for: the exponential scheme
    of Patankar, Numerical Heat Transfer and Fluid Flow (1980). An upwind flow smears by itself, so the
    full mixing on top of it would be too much, and more so the larger the cells.

    Parameters
    ----------
    mixing : float
        Conductance of mixing between two cells, W/K.
    flow : float
        Heat capacity flow between them, W/K, of either sign.

    Returns
    -------
    float
        The conductance, W/K.
    """
    peclet = min(max(abs(flow) / mixing, 1e-6), 500.0)
    return mixing * peclet / math.expm1(peclet)
