"""Action spectra and the UV index of a spectrum."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

UVI_PER_W_M2 = 40.0  # WHO/WMO global solar UV index, ISO/CIE 17166:2019


def erythema(wavelength_nm: ArrayLike) -> NDArray[np.float64]:
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


def uv_index(wavelength_nm: ArrayLike, irradiance_w_m2_nm: ArrayLike) -> float:
    """UV index of a spectrum: 40 m²/W × ∫ E(λ) s(λ) dλ from 250 to 400 nm, by trapezium rule.

    Parameters
    ----------
    wavelength_nm : array_like, shape (n,)
        Strictly rising wavelengths, nm.
    irradiance_w_m2_nm : array_like, shape (n,)
        Spectral irradiance, W/m²/nm, not negative.

    Raises
    ------
    ValueError
        If shapes differ, wavelengths do not rise, or an irradiance is negative or not finite.
    """
    nm = np.asarray(wavelength_nm, dtype=np.float64)
    e = np.asarray(irradiance_w_m2_nm, dtype=np.float64)
    if nm.ndim != 1 or nm.shape != e.shape or nm.size < 2:
        raise ValueError("a spectrum needs two equally long columns of at least two rows")
    if not (np.all(np.isfinite(nm)) and np.all(np.diff(nm) > 0)):
        raise ValueError("wavelengths must be finite and rise from row to row")
    if not np.all(np.isfinite(e)) or np.any(e < 0):
        raise ValueError("spectral irradiance must be finite and not negative")
    return float(UVI_PER_W_M2 * np.trapezoid(e * erythema(nm), nm))
