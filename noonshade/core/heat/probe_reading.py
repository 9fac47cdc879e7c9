"""What a temperature probe reads: a small bead between the air, the surfaces it sees and the lamps.

Three temperatures are kept apart: that of the air, the reading of a probe in it, and the operative
temperature of an animal (``heat.operative``). A shaded probe is out of the lamps' beams and sees the same
surfaces.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import BEAD_M
from noonshade.core.heat.films import AIR_CONDUCTIVITY_W_MK, AIR_VISCOSITY_M2_S, PRANDTL
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.seen import NodeMean, view_from
from noonshade.core.plan import Plan

Floats = NDArray[np.float64]

# Calm air moves past it by this much, m/s. Estimate.
STIRRED_M_S = 0.015
# Longwave exchange of black plastic near 25 °C, W/(m² K), and the share of lamp radiation it absorbs.
# Estimates.
BEAD_RADIATION = 5.5
BEAD_ABSORPTANCE = 0.85
# A sphere catches a quarter of a beam's irradiance.
SPHERE_SHARE = 0.25
# Closer to a surface than this, a probe is taken to lie on it and reads the surface.
CONTACT_M = 0.01


def bead_film(bead_m: float = BEAD_M) -> float:
    """Convection coefficient of a bead in calm air.

    Parameters
    ----------
    bead_m : float
        Its diameter, m.

    Returns
    -------
    float
        Coefficient, W/(m² K).

    References
    ----------
    .. [1] Ranz & Marshall (1952), Chem. Eng. Prog. 48:141: Nu = 2 + 0.6 Re^(1/2) Pr^(1/3).
    """
    reynolds = STIRRED_M_S * bead_m / AIR_VISCOSITY_M2_S
    nusselt = 2.0 + 0.6 * reynolds**0.5 * PRANDTL ** (1 / 3)
    return float(nusselt * AIR_CONDUCTIVITY_W_MK / bead_m)


def beam_rise_per_irradiance(bead_m: float = BEAD_M) -> float:
    """Rise of a bead that lamps shine on, K for each W/m² of beam.

    Parameters
    ----------
    bead_m : float
        Its diameter, m.

    Returns
    -------
    float
        The rise per irradiance, K m²/W.
    """
    return BEAD_ABSORPTANCE * SPHERE_SHARE / (bead_film(bead_m) + BEAD_RADIATION)


def shaded_reading(plan: Plan, grid: EnclosureGrid, points: Floats, bead_m: float = BEAD_M) -> NodeMean:
    """What a shaded probe reads, on the mean over points.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : EnclosureGrid
        Its nodes.
    points : (n, 3) float64
        Points in the air, m.
    bead_m : float
        Diameter of the bead, m.

    Returns
    -------
    NodeMean
        Shares of nodes and of the room.
    """
    film = bead_film(bead_m)
    of_air = film / (film + BEAD_RADIATION)
    cells, shares = grid.air.interpolation(points[:, 0], points[:, 2])
    view = view_from(plan, grid, points)
    node = np.concatenate([cells.ravel(), view.node])
    weight = np.concatenate([of_air * shares.ravel() / len(points), (1.0 - of_air) * view.share])
    total = np.bincount(node, weight, grid.size).astype(np.float64)
    used = np.flatnonzero(total)
    return NodeMean(used, total[used], (1.0 - of_air) * view.room)
