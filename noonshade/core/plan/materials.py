"""What enclosures, furnishings and screens are made of."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

# How the wires of a mesh look.
Finish = Literal["bright", "matt", "black"]

# Up to this share sent back a pane is clear: the faces of two sheets send back 0.15 together.
CLEAR = 0.2


@dataclass(frozen=True, slots=True)
class SolidMaterial:
    """A wall, furnishing or substrate material, or a pane in front of a lamp.

    ``conductivity_w_mk`` thermal conductivity, ``density_kg_m3``, ``heat_capacity_j_kgk``,
    ``absorptance`` and ``transmittance`` for lamp radiation (visible and near infrared; the rest
    is reflected), ``emissivity`` for thermal infrared, ``uvb_reflectance`` diffuse,
    ``uvb_transmittance`` and ``visible_transmittance`` of a sheet as it is sold, at normal
    incidence; ``visible`` the share of visible light sent back, where that differs from lamp radiation;
    ``burns`` whether it burns, melts or chars beside a lamp; ``usual_thickness_m`` how thick
    walls of it usually are; ``water_held`` the share of its volume that is water once it was soaked and has
    drained; ``swells_l_kg`` how much a kilogram of a pressed brick becomes, litres, 0 if it is sold loose;
    ``source`` says where the numbers are from.
    """

    id: str
    label: str
    conductivity_w_mk: float
    density_kg_m3: float
    heat_capacity_j_kgk: float
    absorptance: float
    transmittance: float
    emissivity: float
    uvb_reflectance: float
    source: str
    uvb_transmittance: float = 0.0
    visible_transmittance: float = 0.0
    burns: bool = True
    usual_thickness_m: float = 0.004
    visible: float | None = None
    water_held: float = 0.0
    swells_l_kg: float = 0.0

    @property
    def storage_j_m3k(self) -> float:
        """Volumetric heat capacity, J/(m³ K)."""
        return self.density_kg_m3 * self.heat_capacity_j_kgk

    @property
    def is_pane(self) -> bool:
        """Whether lamp light passes through it."""
        return max(self.transmittance, self.visible_transmittance, self.uvb_transmittance) > 0

    @property
    def is_clear(self) -> bool:
        """Whether it is a pane that one sees through, and that mirrors, rather than a milky one."""
        return self.is_pane and self.reflectance <= CLEAR

    @property
    def reflectance(self) -> float:
        """Share of lamp radiation sent back, 0–1."""
        return 1.0 - self.absorptance - self.transmittance

    @property
    def visible_reflectance(self) -> float:
        """Share of visible light sent back, 0–1: as of lamp radiation where it is not known apart."""
        return self.reflectance if self.visible is None else self.visible


def mixture(parts: Sequence[tuple[SolidMaterial, float]]) -> SolidMaterial:
    """What a mix of ground is like, from its parts by volume.

    Mass, heat capacity, water held and what the surface does with light are means of the parts. Heat passes
    as the geometric mean of the conductivities by volume, as for soils of grains in any order (Johansen
    1975, Thermal conductivity of soils). Volumes are added: that fine grains fill the gaps between coarse
    ones is not modelled.

    Parameters
    ----------
    parts : Sequence of SolidMaterial and float
        Materials and how many parts of each, above 0.

    Returns
    -------
    SolidMaterial
        The mix; a material alone stays itself.

    Raises
    ------
    ValueError
        If there are no parts, or one is not above 0.
    """
    if not parts or any(count <= 0 for _, count in parts):
        raise ValueError("a mix needs parts above 0")
    if len(parts) == 1:
        return parts[0][0]
    total = sum(count for _, count in parts)
    shares = [(material, count / total) for material, count in parts]

    def mean(name: str) -> float:
        return sum(share * float(getattr(material, name)) for material, share in shares)

    density = mean("density_kg_m3")
    storage = mean("storage_j_m3k")
    logs = sum(share * math.log(material.conductivity_w_mk) for material, share in shares)
    return replace(
        parts[0][0],
        id=" + ".join(f"{count:g} {material.id}" for material, count in parts),
        label=", ".join(f"{count:g} {_plain(material.label)}" for material, count in parts),
        conductivity_w_mk=math.exp(logs),
        density_kg_m3=density,
        heat_capacity_j_kgk=storage / density,
        absorptance=mean("absorptance"),
        transmittance=0.0,
        emissivity=mean("emissivity"),
        uvb_reflectance=mean("uvb_reflectance"),
        visible=mean("visible_reflectance"),
        water_held=mean("water_held"),
        swells_l_kg=0.0,
        burns=any(material.burns for material, _ in shares),
        source="computed from its parts",
    )


def _plain(label: str) -> str:
    """A label within a list: without what is said of its state, in lower case."""
    return label.partition(",")[0].lower()


@dataclass(frozen=True, slots=True)
class Mesh:
    """Square wire mesh: wire diameter and pitch (centre to centre), both in metres.

    ``woven`` wires go over and under each other, welded ones lie in two layers. ``finish`` is what the
    wires look like.
    """

    id: str
    label: str
    wire_m: float
    pitch_m: float
    source: str
    woven: bool = False
    finish: Finish = "matt"

    @property
    def open_fraction(self) -> float:
        """Open area share at normal incidence, (1 − w/p)²."""
        return (1.0 - self.wire_m / self.pitch_m) ** 2


Screen = Mesh | SolidMaterial
