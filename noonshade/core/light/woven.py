"""What passes a mesh of wires that go over and under each other."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import WOVEN_ANGLES, weave_share

Floats = NDArray[np.float64]

# Rays over a cell of two by two pitches, spread by the number before in Fibonacci's sequence, and places
# along each.
_RAYS, _TWIST = 2584, 1597
_STEPS = 48


@lru_cache
def woven_table(ratio: float) -> Floats:
    """Share of light that passes a plain weave, by the angles of its way along both families of wires.

    Parameters
    ----------
    ratio : float
        Wire diameter over pitch.

    Returns
    -------
    Floats
        The share, 0–1, at angles from 0 to 90° both ways, shape (angles, angles).
    """
    slopes = np.tan(np.radians(np.linspace(0.0, 90.0, WOVEN_ANGLES)[:-1]))
    found = np.zeros((WOVEN_ANGLES, WOVEN_ANGLES))
    for i, tx in enumerate(slopes):
        for j, ty in enumerate(slopes[: i + 1]):
            found[i, j] = found[j, i] = weave_share(ratio, tx, ty, _RAYS, _TWIST, _STEPS)
    # Straight through, the open area is known.
    scaled: Floats = found * ((1.0 - ratio) ** 2 / found[0, 0])
    return scaled
