"""The ground: what it is mixed from, in layers and zones."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from noonshade.core.plan.materials import SolidMaterial

# A material and how many parts of it, by volume as it is poured.
Parts = tuple[tuple[SolidMaterial, float], ...]


@dataclass(frozen=True, slots=True)
class Layer:
    """One layer of the ground.

    ``material`` is what it is as a whole; ``parts`` what that is mixed from, empty for a material alone.
    On a layer with a ``barrier`` lies a sheet that lets water through and holds back what is above.
    ``wetness`` is how damp it is, None as the surface.
    """

    material: SolidMaterial
    depth_m: float
    parts: Parts = ()
    barrier: bool = False
    wetness: float | None = None


@dataclass(frozen=True, slots=True)
class Zone:
    """A part of the surface that is damper or drier than the rest, seen from above."""

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    wetness: float


@dataclass(frozen=True, slots=True)
class Burrow:
    """A chamber in the ground and the way to it, straight from its mouth.

    ``depth_m`` is that of the chamber's middle below the surface, ``diameter_m`` of chamber and way.
    """

    id: str
    label: str
    x_m: float
    y_m: float
    depth_m: float
    mouth_x_m: float
    mouth_y_m: float
    diameter_m: float

    @property
    def run_m(self) -> float:
        """Way from the mouth to the middle of the chamber, m."""
        return math.hypot(self.x_m - self.mouth_x_m, self.y_m - self.mouth_y_m, self.depth_m)


@dataclass(frozen=True, slots=True)
class Substrate:
    """What covers the floor. Its surface is at ``z = depth_m``, the depth of all layers together.

    ``material`` is that of the uppermost layer, mixed from ``parts`` if there are any; ``below`` are the
    layers under it, from the top down. ``wetness`` is how readily the surface gives off water: 0 dry, 1
    like open water; ``zones`` and layers have their own. ``burrows`` are in it.
    """

    material: SolidMaterial
    depth_m: float
    wetness: float = 0.0
    parts: Parts = ()
    below: tuple[Layer, ...] = ()
    zones: tuple[Zone, ...] = ()
    burrows: tuple[Burrow, ...] = ()

    @property
    def layers(self) -> tuple[Layer, ...]:
        """All layers from the top down; the uppermost is as deep as the others leave it."""
        top = self.depth_m - sum(layer.depth_m for layer in self.below)
        return (Layer(self.material, max(top, 0.0), self.parts), *self.below)

    @property
    def is_damp(self) -> bool:
        """Whether any of its surface gives off water."""
        return self.wettest > 0

    @property
    def wettest(self) -> float:
        """Wetness of the dampest part of its surface."""
        return max(self.wetness, *(zone.wetness for zone in self.zones)) if self.zones else self.wetness

    def dampened(self, factor: float) -> Substrate:
        """The same ground, all its wetness times a factor, at most like open water.

        Parameters
        ----------
        factor : float
            Factor, not negative.

        Returns
        -------
        Substrate
            The ground.
        """
        zones = tuple(replace(zone, wetness=min(zone.wetness * factor, 1.0)) for zone in self.zones)
        below = tuple(
            layer if layer.wetness is None else replace(layer, wetness=min(layer.wetness * factor, 1.0))
            for layer in self.below
        )
        return replace(self, wetness=min(self.wetness * factor, 1.0), zones=zones, below=below)

    def wetness_at(self, x_m: float, y_m: float, depth_m: float) -> float:
        """How damp the ground is at a point in it.

        Parameters
        ----------
        x_m, y_m : float
            Where, m.
        depth_m : float
            How far below the surface, m.

        Returns
        -------
        float
            Of the layer there; as the surface above it where that has none of its own.
        """
        bottom = self.layers[0].depth_m
        for layer in self.below:
            if bottom < depth_m <= bottom + layer.depth_m and layer.wetness is not None:
                return layer.wetness
            bottom += layer.depth_m
        for zone in reversed(self.zones):
            inside = abs(x_m - zone.x_m) <= zone.length_m / 2 and abs(y_m - zone.y_m) <= zone.width_m / 2
            if inside:
                return zone.wetness
        return self.wetness

    def dry(self) -> Substrate:
        """The same ground without dampness and burrows, which neither light nor conduction knows of.

        Returns
        -------
        Substrate
            The ground.
        """
        below = tuple(replace(layer, wetness=None) for layer in self.below)
        return replace(self, wetness=0.0, zones=(), below=below, burrows=())

    def between(self, upper_m: float, lower_m: float) -> Iterator[tuple[SolidMaterial, float]]:
        """What lies between two depths.

        Parameters
        ----------
        upper_m, lower_m : float
            Depths below the surface, m, the second not above the first.

        Yields
        ------
        tuple of SolidMaterial and float
            Each material met on the way down, and how much of it, m.
        """
        top = 0.0
        for layer in self.layers:
            bottom = top + layer.depth_m
            length = min(bottom, lower_m) - max(top, upper_m)
            if length > 0:
                yield layer.material, length
            top = bottom

    def resistance_m2k_w(self, upper_m: float, lower_m: float) -> float:
        """Resistance to heat between two depths, one layer after the other.

        Parameters
        ----------
        upper_m, lower_m : float
            Depths below the surface, m.

        Returns
        -------
        float
            Resistance, m² K/W.
        """
        return sum(length / m.conductivity_w_mk for m, length in self.between(upper_m, lower_m))

    def conductance_w_k(self, upper_m: float, lower_m: float) -> float:
        """Conductivity times thickness for heat that passes sideways between two depths.

        Parameters
        ----------
        upper_m, lower_m : float
            Depths below the surface, m.

        Returns
        -------
        float
            Conductance of a sheet, W/K.
        """
        return sum(length * m.conductivity_w_mk for m, length in self.between(upper_m, lower_m))

    def storage_j_m2k(self, upper_m: float, lower_m: float) -> float:
        """Heat capacity between two depths.

        Parameters
        ----------
        upper_m, lower_m : float
            Depths below the surface, m.

        Returns
        -------
        float
            Heat capacity by area, J/(m² K).
        """
        return sum(length * m.storage_j_m3k for m, length in self.between(upper_m, lower_m))
