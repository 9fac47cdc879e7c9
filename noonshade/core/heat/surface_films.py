"""Films of closed surfaces: what they pass to the air as warmth, and as vapour with the heat it takes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
from noonshade.core.heat.films import convection
from noonshade.core.heat.network import NetworkBuilder
from noonshade.core.heat.patches import SurfacePatches
from noonshade.core.moisture.vapour import (
    LATENT_HEAT_J_KG,
    Exchange,
    buoyant_lift,
    giving_share,
    mass_transfer,
    saturated,
    saturated_slope,
)

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# A wet leaf of some cm in calm air, h of 4 W/(m² K), passes vapour with 3.7 mm/s (see ``mass_transfer``);
# as it cools towards its wet bulb, with 9.5 W/(m² K) of convection and radiation to warm it, about half
# of what a leaf as warm as the air would. Estimate.
SPRAYED_TRANSFER_M_S = 0.0019
# Step of a temperature by which it is found how a film grows with it, K.
_STEP_K = 0.05


@compiled_exactly
def _films(
    temperature: Floats,
    node: Ints,
    cell: Ints,
    higher: Ints,
    upper: Floats,
    orientation: Ints,
    length_m: Floats,
    area_m2: Floats,
    wet: Floats,
    is_moist: bool,
    vapour: float,
) -> tuple[Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
    """Film, W/K, passing for vapour, m³/s, and conductance, W/K, and goal, °C, of evaporation, by patch."""
    count = node.size
    film, passing = np.empty(count), np.zeros(count)
    conductance, towards = np.zeros(count), np.zeros(count)
    for i in range(count):
        surface = temperature[node[i]]
        # What lies between the middles of two levels is between their temperatures.
        air = (1.0 - upper[i]) * temperature[cell[i]] + upper[i] * temperature[higher[i]]
        giving = giving_share(surface, wet[i], vapour) if is_moist else 0.0
        lift = buoyant_lift(surface, giving, vapour) if giving > 0.0 else 0.0
        h = convection(surface + lift, air, orientation[i], length_m[i])
        film[i] = h * area_m2[i]
        if giving <= 0.0:
            continue
        # A surface that cools gives off less also because its air is lifted less.
        cooler = surface - _STEP_K
        lifted = cooler + buoyant_lift(cooler, giving, vapour)
        less = convection(lifted, air, orientation[i], length_m[i])
        steeper = max(h - less, 0.0) / _STEP_K
        passing[i] = giving * mass_transfer(h, wet[i] > 0.0) * area_m2[i]
        growing = giving * mass_transfer(steeper, wet[i] > 0.0) * area_m2[i]
        conductance[i], towards[i] = _taken(surface, passing[i], growing, vapour)
    return film, passing, conductance, towards


@compiled_exactly
def _taken(
    surface_c: float, passing: float, growing: float, vapour: float
) -> tuple[float, float]:  # pragma: no cover - compiled
    """Conductance, W/K, and temperature, °C, of what takes the heat of evaporation from a surface."""
    if passing <= 0.0:
        return 0.0, surface_c
    given = saturated(surface_c) - vapour
    steeper = passing * saturated_slope(surface_c) + growing * max(given, 0.0)
    return LATENT_HEAT_J_KG * steeper, surface_c - passing * given / steeper


@compiled_exactly
def _drops(
    temperature: Floats, cells: int, passing_m3_s: float, vapour: float
) -> tuple[Floats, Floats]:  # pragma: no cover - compiled
    conductance, towards = np.zeros(cells), np.zeros(cells)
    for i in range(cells):
        conductance[i], towards[i] = _taken(temperature[i], passing_m3_s, 0.0, vapour)
    return conductance, towards


class SurfaceFilms:
    """Films of the closed surfaces of an enclosure.

    Parameters
    ----------
    patches : SurfacePatches
        All surfaces.
    wet : (p,) float64
        How readily each gives off water, 0 to 1.
    air_cells : int
        How many cells of air there are; they are the first nodes.
    """

    def __init__(self, patches: SurfacePatches, wet: Floats, air_cells: int) -> None:
        closed = patches.node >= 0
        self._of = (
            patches.node[closed],
            patches.cell[closed],
            patches.higher[closed],
            patches.higher_share[closed],
            patches.orientation[closed],
            patches.length_m[closed],
            patches.area_m2[closed],
            wet[closed],
        )
        self._air_cells = air_cells
        # How much wet surface spraying has left, m².
        self.sprayed_m2 = 0.0
        self.exchange: Exchange | None = None
        self._by_spray = np.zeros(0)

    def connect(self, net: NetworkBuilder, temperature_c: Floats, vapour_kg_m3: float | None) -> Floats:
        """Find all films, and add what evaporation takes, and gives back where vapour condenses.

        Parameters
        ----------
        net : NetworkBuilder
            The network to add to.
        temperature_c : (n,) float64
            Of all nodes, °C.
        vapour_kg_m3 : float or None
            What the air holds, None where moisture plays no part yet.

        Returns
        -------
        (p,) float64
            Film of each closed patch times its area, W/K.
        """
        vapour = vapour_kg_m3 or 0.0
        is_moist = vapour_kg_m3 is not None
        film, passing, conductance, towards = _films(temperature_c, *self._of, is_moist, vapour)
        if not is_moist:
            return film
        taking = np.flatnonzero(passing > 0.0)
        node, wet = self._of[0][taking], self._of[-1][taking] > 0.0
        net.to_boundary(node, conductance[taking], towards[taking])
        if self.sprayed_m2 <= 0.0:
            self.exchange = Exchange(node, passing[taking], wet)
            self._by_spray = np.zeros(taking.size)
            return film
        # Drops on leaves and walls take their heat from the air, so they belong to its cells.
        cells = np.arange(self._air_cells)
        each = SPRAYED_TRANSFER_M_S * self.sprayed_m2 / cells.size
        net.to_boundary(cells, *_drops(temperature_c, cells.size, each, vapour))
        self.exchange = Exchange(
            np.concatenate([node, cells]),
            np.concatenate([passing[taking], np.full(cells.size, each)]),
            np.concatenate([wet, np.ones(cells.size, dtype=np.bool_)]),
        )
        self._by_spray = np.concatenate([np.zeros(taking.size), np.ones(cells.size)])
        return film

    def sprayed_share(self) -> Floats:
        """Share (k,) of what each node of ``exchange`` gives off that is sprayed water.

        Returns
        -------
        Floats
            Shares (k,), 0–1.
        """
        return self._by_spray
