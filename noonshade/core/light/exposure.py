"""Exposure classes: which animals a UV index would suit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

# Below this a place counts as free of UV: the last digit of a hand-held meter. Estimate.
UV_FREE_UVI = 0.1


@dataclass(frozen=True, slots=True)
class ExposureClass:
    """A class of Ferguson et al. (2010), Photochem. Photobiol. 86:613, as applied by Baines et al. (2016).

    ``mean_high`` is the upper end of the mean exposure; ``peak_low`` to ``peak_high`` the highest UV
    index such animals seek by themselves.
    """

    number: int
    animals: str
    mean_low: float
    mean_high: float
    peak_low: float
    peak_high: float


CLASSES = (
    ExposureClass(1, "active at dusk or in shade", 0.0, 0.7, 0.6, 1.4),
    ExposureClass(2, "in part sun, basks now and then", 0.7, 1.0, 1.1, 3.0),
    ExposureClass(3, "basks in open or part sun", 1.0, 2.6, 2.9, 7.4),
    ExposureClass(4, "basks in the mid-day sun", 2.6, 3.5, 4.5, 9.5),
)
BEYOND = 5


def exposure_class(uvi: float) -> int:
    """The lowest class whose highest voluntary exposure covers a UV index.

    0 where a place is free of UV, 1 to 4 as in the table, ``BEYOND`` above what any class seeks.
    A place counts by its peak: an animal may leave it, so the mean exposure is its own choice.

    Parameters
    ----------
    uvi : float
        UV index.

    Returns
    -------
    int
        The class: 0 where there is no UV, then 1 to 4, one more beyond them.
    """
    if uvi <= UV_FREE_UVI:
        return 0
    for entry in CLASSES:
        if uvi <= entry.peak_high:
            return entry.number
    return BEYOND


def exposure_classes(uvi: NDArray[np.float64]) -> NDArray[np.int64]:
    """``exposure_class`` of an array of UV indices.

    Parameters
    ----------
    uvi : NDArray[np.float64]
        UV index.

    Returns
    -------
    NDArray[np.int64]
        Classes of the shape of the UV indices.
    """
    edges = [UV_FREE_UVI, *(c.peak_high for c in CLASSES)]
    return np.searchsorted(edges, uvi, side="left").astype(np.int64)


def daily_light_integral(ppfd_umol_m2_s: float, hours: float) -> float:
    """Daily light integral, mol/m², of a steady PPFD over a number of hours.

    Parameters
    ----------
    ppfd_umol_m2_s : float
        Light for plants, µmol/(m² s).
    hours : float
        Hours the lamp has burned, or those by fixture.

    Returns
    -------
    float
        The integral, mol/m².
    """
    return ppfd_umol_m2_s * hours * 3600.0 / 1e6
