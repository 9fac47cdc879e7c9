"""What a small animal would settle at somewhere, and how far a warm patch reaches."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import KELVIN_AT_0_C, STEFAN_BOLTZMANN_W_M2K4
from noonshade.core.heat.grids import SheetGrid

Floats = NDArray[np.float64]

# Skin: absorptance for lamp radiation and emissivity, of dry scaled skin of middling colour. Estimates.
SKIN_ABSORPTANCE = 0.80
SKIN_EMISSIVITY = 0.96
# Share of its surface a lizard-shaped body shows to a beam from above. Estimate: 0.25 is a sphere's.
SHOWN_TO_BEAM = 0.28
# Thickness of a body against its length, snout to vent. Estimate.
BODY_THICKNESS = 0.25
# Air a sheltered animal feels moving, m/s. Estimate.
STILL_AIR_M_S = 0.10
AIR_CONDUCTIVITY_W_MK = 0.026  # near room temperature
AIR_VISCOSITY_M2_S = 1.5e-5


def body_film_w_m2k(body_length_m: float) -> float:
    """Convection coefficient of a small animal in calm air: Nu = 0.37 Re^0.6 of Mitchell (1976).

    Parameters
    ----------
    body_length_m : float
        The animal's body length, m.

    Returns
    -------
    float
        Convection coefficient of a small animal in calm air.
    """
    thickness = max(BODY_THICKNESS * body_length_m, 1e-3)
    reynolds = STILL_AIR_M_S * thickness / AIR_VISCOSITY_M2_S
    return float(0.37 * AIR_CONDUCTIVITY_W_MK / thickness * reynolds**0.6)


def operative_temperature(
    air_c: float, ground_c: float, radiant_c: float, irradiance_w_m2: float, body_length_m: float
) -> float:
    """Operative temperature, °C: what a dry body that makes no heat would settle at.

    T_e = (h T_air + h_r T_r + α a E)/(h + h_r), after Bakken (1976), J. Theor. Biol. 60:337. The
    surroundings T_r are half the ground below and half everything else. Conduction into the ground is left
    out.

    Parameters
    ----------
    air_c, ground_c, radiant_c : float
        Air at the body, what it stands on, and the mean of walls and furnishings.
    irradiance_w_m2 : float
        Of lamps on a surface that faces them.
    body_length_m : float
        Snout to vent.

    Returns
    -------
    float
        Operative temperature, °C.
    """
    film = body_film_w_m2k(body_length_m)
    around = 0.5 * (ground_c + radiant_c)
    kelvin = 0.5 * (air_c + around) + KELVIN_AT_0_C
    radiative = 4.0 * SKIN_EMISSIVITY * STEFAN_BOLTZMANN_W_M2K4 * kelvin**3
    absorbed = SKIN_ABSORPTANCE * SHOWN_TO_BEAM * irradiance_w_m2
    return (film * air_c + radiative * around + absorbed) / (film + radiative)


@dataclass(frozen=True, slots=True)
class WarmPatch:
    """The part of a surface that is at least ``above_c`` warm: sides along x and y in m, area in m²."""

    above_c: float
    length_m: float
    width_m: float
    area_m2: float


def warm_patch(sheet: SheetGrid, surface_c: Floats, above_c: float) -> WarmPatch:
    """How far a sheet (nx, ny) is warmer than a temperature.

    The sides are those of its middle row and column through the hottest cell, with the edge found between
    cell centres, so that they move smoothly.

    Parameters
    ----------
    sheet : SheetGrid
        The sheet.
    surface_c : Floats
        Surface temperature, °C.
    above_c : float
        Temperature a surface must exceed to count, °C.

    Returns
    -------
    WarmPatch
        Its extents through the warmest cell, m, and its area, m².
    """
    i, j = np.unravel_index(int(np.argmax(surface_c)), surface_c.shape)
    share = _share_above(surface_c, above_c)
    return WarmPatch(
        above_c,
        _reach(surface_c[:, j], int(i), above_c) * sheet.dx,
        _reach(surface_c[i, :], int(j), above_c) * sheet.dy,
        float(np.sum(share)) * sheet.dx * sheet.dy,
    )


def _share_above(surface_c: Floats, above_c: float) -> Floats:
    """Share (nx, ny) of each cell above a temperature, from the slope across it."""
    slopes = [np.abs(np.gradient(surface_c, axis=axis)) for axis in (0, 1) if surface_c.shape[axis] > 1]
    swing = np.maximum(sum(slopes, np.zeros_like(surface_c)), 1e-6)
    share: Floats = np.clip(0.5 + (surface_c - above_c) / swing, 0.0, 1.0)
    return share


def _reach(row: Floats, middle: int, above_c: float) -> float:
    """Cells from the hottest one outwards both ways until it is cooler."""
    if row[middle] < above_c:
        return 0.0
    total = 0.0
    for way in (1, -1):
        here, k = float(row[middle]), middle
        while True:
            k += way
            if not 0 <= k < row.size:
                total += abs(k - way - middle) + 0.5
                break
            following = float(row[k])
            if following < above_c:
                share = (here - above_c) / max(here - following, 1e-9)
                total += abs(k - way - middle) + min(share, 1.0)
                break
            here = following
    return total
