"""Room on the ground: where things stand without standing in each other."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Positions that are tried along each side, and by how much a thing may shrink at a time.
PLACES = 41
SHRINKING = 6


@dataclass(frozen=True, slots=True)
class Area:
    """A rectangle on the ground by its middle and sizes, m."""

    x_m: float
    y_m: float
    length_m: float
    width_m: float


@dataclass
class Floor:
    """The ground of an enclosure and what of it is taken; ``margin_m`` stays free between things."""

    length_m: float
    depth_m: float
    margin_m: float = 0.01
    taken: list[Area] = field(default_factory=list)

    def place(
        self,
        wanted: Area,
        least: tuple[float, float],
        within: tuple[float, float] = (0.0, 1.0),
    ) -> Area | None:
        """Take room for a thing, as near to where it is wanted and as large as there is room for.

        Parameters
        ----------
        wanted : Area
            Where it would stand best, and how large it would best be.
        least : (float, float)
            The least length and width it is of use at, m.
        within : (float, float)
            Between which shares of the length its middle must lie.

        Returns
        -------
        Area or None
            Where it stands, which is taken from then on; None where it has no room.
        """
        for share in np.linspace(1.0, 0.0, SHRINKING):
            long = least[0] + share * max(wanted.length_m - least[0], 0.0)
            wide = least[1] + share * max(wanted.width_m - least[1], 0.0)
            for sizes in ((long, wide), (wide, long)) if abs(long - wide) > 0.02 else ((long, wide),):
                found = self._nearest(wanted, *sizes, within)
                if found is not None:
                    self.taken.append(found)
                    return found
        return None

    def _nearest(self, wanted: Area, long: float, wide: float, within: tuple[float, float]) -> Area | None:
        if long > self.length_m or wide > self.depth_m:
            return None
        x = np.linspace(long / 2, self.length_m - long / 2, PLACES)
        y = np.linspace(wide / 2, self.depth_m - wide / 2, PLACES)
        x = x[(x >= within[0] * self.length_m - 1e-9) & (x <= within[1] * self.length_m + 1e-9)]
        if x.size == 0:
            return None
        gx, gy = np.meshgrid(x, y, indexing="ij")
        free = np.ones(gx.shape, dtype=bool)
        for other in self.taken:
            apart = np.abs(gx - other.x_m) >= (long + other.length_m) / 2 + self.margin_m - 1e-9
            apart |= np.abs(gy - other.y_m) >= (wide + other.width_m) / 2 + self.margin_m - 1e-9
            free &= apart
        if not np.any(free):
            return None
        far = np.where(free, np.hypot(gx - wanted.x_m, gy - wanted.y_m), np.inf)
        i, j = np.unravel_index(int(np.argmin(far)), far.shape)
        return Area(float(gx[i, j]), float(gy[i, j]), long, wide)
