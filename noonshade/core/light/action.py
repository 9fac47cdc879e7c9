"""Action spectra, and what a lamp's spectrum says about it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from noonshade.core.plan import STRAY_SHARE

Floats = NDArray[np.float64]

UVI_PER_W_M2 = 40.0  # WHO/WMO global solar UV index, ISO/CIE 17166:2019
# Sunlight at the ground holds nothing of shorter wavelength; a lamp that gives any gets a warning.
SHORTEST_OF_SUN_NM = 290.0

# CIE 174:2006, action spectrum for the production of previtamin D₃ in human skin: 252 to 330 nm by 1 nm.
_D3_FIRST_NM = 252
_D3 = np.array(
    [
        *(0.036, 0.039, 0.043, 0.047, 0.051, 0.056, 0.061, 0.066, 0.075, 0.084),
        *(0.093, 0.102, 0.112, 0.122, 0.133, 0.146, 0.16, 0.177, 0.195, 0.216),
        *(0.238, 0.263, 0.289, 0.317, 0.346, 0.376, 0.408, 0.44, 0.474, 0.543),
        *(0.583, 0.617, 0.652, 0.689, 0.725, 0.763, 0.805, 0.842, 0.878, 0.903),
        *(0.928, 0.952, 0.976, 0.983, 0.99, 0.996, 1, 0.977, 0.951, 0.917),
        *(0.878, 0.771, 0.701, 0.634, 0.566, 0.488, 0.395, 0.306, 0.22, 0.156),
        *(0.119, 0.083, 0.049, 0.034, 0.02, 0.0141, 0.00976, 0.00652, 0.00436, 0.00292),
        *(0.00195, 0.00131, 0.000873, 0.000584, 0.00039, 0.000261, 0.000175, 0.000117, 7.8e-05),
    ]
)
_FINEST_NM = 0.25


def erythema(wavelength_nm: ArrayLike) -> Floats:
    """Erythema action spectrum s(λ), dimensionless (ISO/CIE 17166:2019).

    Parameters
    ----------
    wavelength_nm : array_like
        Wavelengths in nm, any shape.

    Returns
    -------
    ndarray
        Same shape; 1 up to 298 nm, falling to 400 nm, 0 below 250 nm and beyond 400 nm.
    """
    nm = np.asarray(wavelength_nm, dtype=np.float64)
    value = np.where(
        nm <= 298.0,
        1.0,
        np.where(nm <= 328.0, 10.0 ** (0.094 * (298.0 - nm)), 10.0 ** (0.015 * (140.0 - nm))),
    )
    return np.where((nm < 250.0) | (nm > 400.0), 0.0, value)


def vitamin_d3(wavelength_nm: ArrayLike) -> Floats:
    """Action spectrum of previtamin D₃ production, dimensionless (CIE 174:2006).

    1 at 298 nm; between the 1 nm steps of the table on a logarithmic scale; 0 outside 252–330 nm.

    Parameters
    ----------
    wavelength_nm : ArrayLike
        Wavelengths, nm, rising.

    Returns
    -------
    Floats
        Weights of the shape of the wavelengths, 0 outside the tabulated range.
    """
    nm = np.asarray(wavelength_nm, dtype=np.float64)
    steps = _D3_FIRST_NM + np.arange(_D3.size)
    value = np.exp(np.interp(nm, steps, np.log(_D3)))
    return np.where((nm < steps[0]) | (nm > steps[-1]), 0.0, value)


@dataclass(frozen=True, slots=True)
class SpectrumFigures:
    """What a spectrum weighs. For a relative spectrum only the two ratios have a meaning.

    ``d3_effective_w_m2`` is irradiance weighted for previtamin D₃, ``d3_ratio`` that to the irradiance
    weighted for erythema, ``below_290_share`` the share of the UV index from below 290 nm.
    """

    uvi: float
    d3_effective_w_m2: float
    d3_ratio: float
    below_290_share: float

    @property
    def unlike_sunlight(self) -> bool:
        """Whether it has more energy below 290 nm than stray light explains."""
        return self.below_290_share > STRAY_SHARE


def uv_index(wavelength_nm: ArrayLike, irradiance_w_m2_nm: ArrayLike) -> float:
    """UV index of a spectrum: 40 m²/W × ∫ E(λ) s(λ) dλ from 250 to 400 nm; see ``spectrum_figures``.

    Parameters
    ----------
    wavelength_nm : ArrayLike
        Wavelengths, nm, rising.
    irradiance_w_m2_nm : ArrayLike
        Spectral irradiance, W/(m² nm).

    Returns
    -------
    float
        UV index of a spectrum.
    """
    return spectrum_figures(wavelength_nm, irradiance_w_m2_nm).uvi


def spectrum_figures(wavelength_nm: ArrayLike, irradiance_w_m2_nm: ArrayLike) -> SpectrumFigures:
    """Weigh a spectrum by both action spectra.

    Irradiance is taken as linear between rows, and weighed on a grid of at most 0.25 nm, as the action
    spectra bend between rows that are further apart.

    Parameters
    ----------
    wavelength_nm : array_like, shape (n,)
        Strictly rising wavelengths, nm.
    irradiance_w_m2_nm : array_like, shape (n,)
        Spectral irradiance, W/m²/nm, not negative; any unit for a relative spectrum.

    Returns
    -------
    SpectrumFigures
        UV index, D₃-effective irradiance, W/m², their ratio, and the share below 290 nm.

    Raises
    ------
    ValueError
        If shapes differ, wavelengths do not rise, an irradiance is negative or not finite, or nothing
        is left after weighing.
    """
    nm = np.asarray(wavelength_nm, dtype=np.float64)
    e = np.asarray(irradiance_w_m2_nm, dtype=np.float64)
    if nm.ndim != 1 or nm.shape != e.shape or nm.size < 2:
        raise ValueError("a spectrum needs two equally long columns of at least two rows")
    if not (np.all(np.isfinite(nm)) and np.all(np.diff(nm) > 0)):
        raise ValueError("wavelengths must be finite and rise from row to row")
    if not np.all(np.isfinite(e)) or np.any(e < 0):
        raise ValueError("spectral irradiance must be finite and not negative")
    low, high = max(nm[0], 250.0), min(nm[-1], 400.0)
    if low >= high:
        raise ValueError("the spectrum has nothing between 250 and 400 nm")
    inside = nm[(nm > low) & (nm < high)]
    even = np.linspace(low, high, int(np.ceil((high - low) / _FINEST_NM)) + 1)
    grid = np.unique(np.concatenate([inside, even, [SHORTEST_OF_SUN_NM] if low < 290.0 < high else []]))
    fine = np.interp(grid, nm, e)
    weighed = fine * erythema(grid)
    burning = float(np.trapezoid(weighed, grid))
    if burning <= 0:
        raise ValueError("the spectrum has no energy between 250 and 400 nm")
    d3 = float(np.trapezoid(fine * vitamin_d3(grid), grid))
    short = grid <= SHORTEST_OF_SUN_NM
    below = float(np.trapezoid(weighed[short], grid[short])) if np.sum(short) > 1 else 0.0
    return SpectrumFigures(UVI_PER_W_M2 * burning, d3, d3 / burning, below / burning)
