"""Lamps that panes and water mirror, as if they hung behind them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import SCREEN_MIRROR, face_reflectance, sheet_reflectance
from noonshade.core.light.screens import LightPath, screen_row
from noonshade.core.light.shade import LID_M, Obstacles, blocks_around, face_blocks
from noonshade.core.light.surfaces import Pane
from noonshade.core.plan import Enclosure, Plan
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]

# How a mirror lies, as the kernel tells it: across x, y or z.
_LIES = (2.0, 4.0, 0.0)
_STEPS = np.linspace(0.01, 1.0, 100)


@dataclass(frozen=True, slots=True, eq=False)
class Image:
    """One lamp by one way and one mirror.

    ``way`` has the mirror among its screens and, among its obstacles, what the mirror shows. The lamp stays
    where it is: points are looked at where the mirror shows them.
    """

    pane: Pane
    way: LightPath

    def behind(self, points: Floats) -> Floats:
        """Where the mirror shows points.

        Parameters
        ----------
        points : Floats
            Points, shape (n, 3), m.

        Returns
        -------
        Floats
            Their images (n, 3).
        """
        found = points.copy()
        found[:, self.pane.axis] = 2.0 * self.pane.at_m - found[:, self.pane.axis]
        return found

    def turned(self, vectors: Floats) -> Floats:
        """Directions or vectors (n, 3) as the mirror shows them.

        Parameters
        ----------
        vectors : Floats
            Vectors, shape (n, 3).

        Returns
        -------
        Floats
            Their images (n, 3).
        """
        found = vectors.copy()
        found[:, self.pane.axis] *= -1.0
        return found

    def band_shares(self, vectors: Floats) -> Floats:
        """How much more the sheet mirrors of each band than its first face, by where light comes from.

        Parameters
        ----------
        vectors : Floats
            Irradiance vectors, shape (n, 3).

        Returns
        -------
        Floats
            Ratios (n, 3) for UV, radiant heat and light, at least 1.
        """
        length = np.maximum(np.linalg.norm(vectors, axis=1), 1e-300)
        cosine = np.abs(vectors[:, self.pane.axis]) / length
        ratios = _ratios(self.pane.refraction, self.pane.through)
        return np.stack([np.interp(cosine, _STEPS, ratio) for ratio in ratios], axis=1)


@lru_cache
def _ratios(refraction: float, through: tuple[float, float, float]) -> tuple[Floats, ...]:
    """How much more a sheet mirrors of each band than its first face, at the cosines ``_STEPS``."""
    one = np.array([face_reflectance(refraction, c) for c in _STEPS])
    return tuple(np.array([sheet_reflectance(refraction, c, t) for c in _STEPS]) / one for t in through)


_BEHIND = Remembered[Obstacles](64)


def images_of(
    plan: Plan, position_m: tuple[float, float, float], way: LightPath, panes: tuple[Pane, ...]
) -> tuple[Image, ...]:
    """The images of a lamp, by one way into the enclosure, in every mirror.

    What is mirrored twice is left out: it is less than 1 % of the light but at a glance.

    Parameters
    ----------
    plan : Plan
        The plan.
    position_m : tuple[float, float, float]
        Where the lamp hangs, m.
    way : LightPath
        The way its light comes in.
    panes : tuple[Pane, ...]
        All mirrors.

    Returns
    -------
    tuple[Image, ...]
        One image for each mirror its light can reach.
    """
    outside = plan.enclosure.beyond(position_m)
    return tuple(
        _image(plan.enclosure, way, pane) for pane in panes if pane.face is None or pane.face != outside
    )


def _image(enclosure: Enclosure, way: LightPath, pane: Pane) -> Image:
    row = screen_row(SCREEN_MIRROR, pane.refraction, 1.0, _LIES[pane.axis])
    behind = _BEHIND.get((way.obstacles, enclosure), pane, partial(_behind, enclosure, way.obstacles, pane))
    return Image(pane, replace(way, rows=np.concatenate([way.rows, row]), obstacles=behind))


def _behind(enclosure: Enclosure, before: Obstacles, pane: Pane) -> Obstacles:
    if pane.face is None:
        around = blocks_around(pane.axis, pane.at_m - LID_M, pane.at_m, pane.rect)
    else:
        around = face_blocks(enclosure, pane.face, pane.part)
    return before.with_image(pane.axis, pane.at_m, around)
