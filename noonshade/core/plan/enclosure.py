"""The enclosure: walls, what is let into them, vents and what stands against it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from noonshade.core.plan.materials import Mesh, Screen, SolidMaterial
from noonshade.core.plan.room import daily_cycle
from noonshade.core.plan.types import Face, Point, VentFace


@dataclass(frozen=True, slots=True)
class Wall:
    """One face of the enclosure: a solid sheet, wire mesh, or nothing at all (open).

    ``measured_uv`` is the share of UV the keeper found to pass straight through, 0–1, when known;
    ``insulation`` an outer layer of ``insulation_m`` over a sheet.
    """

    material: SolidMaterial | None = None
    thickness_m: float = 0.0
    mesh: Mesh | None = None
    measured_uv: float | None = None
    insulation: SolidMaterial | None = None
    insulation_m: float = 0.0

    @property
    def resistance_m2k_w(self) -> float:
        """Thermal resistance of the sheet and its insulation without air films, m² K/W."""
        found = 0.0
        if self.material is not None:
            found += self.thickness_m / self.material.conductivity_w_mk
        if self.insulation is not None:
            found += self.insulation_m / self.insulation.conductivity_w_mk
        return found

    @property
    def screen(self) -> Screen | None:
        """What light passing this face meets: mesh, pane or closed sheet; None when open."""
        return self.material if self.material is not None else self.mesh

    @property
    def lets_light_in(self) -> bool:
        """Whether a lamp outside this face can shine through it."""
        return self.material is None or self.material.is_pane

    @property
    def open_fraction(self) -> float:
        """Share of the face that lets air and light through, 0–1."""
        if self.material is not None:
            return 0.0
        return self.mesh.open_fraction if self.mesh is not None else 1.0


@dataclass(frozen=True, slots=True)
class Vent:
    """An opening in a side or in the lid: its middle in m, free area in m².

    ``holes`` is how many holes make up the area; ``y_m`` is the distance from the front of one in the lid.
    """

    side: VentFace
    x_m: float
    z_m: float
    area_m2: float
    holes: int = 1
    y_m: float = 0.0


@dataclass(frozen=True, slots=True)
class Inset:
    """A rectangle of the lid or a side made otherwise: a mesh window, a closed part of a mesh lid, a door.

    ``x0_m`` to ``x1_m`` along the length, ``y0_m`` to ``y1_m`` across: on the lid from the front, on a side
    from the floor; along the left and right sides x runs from the front. ``gap_m`` is the open slit all
    around a door or a pane that slides.
    """

    x0_m: float
    y0_m: float
    x1_m: float
    y1_m: float
    wall: Wall
    face: Face = "top"
    gap_m: float = 0.0

    @property
    def area_m2(self) -> float:
        """Its area, m²."""
        return (self.x1_m - self.x0_m) * (self.y1_m - self.y0_m)

    @property
    def is_door(self) -> bool:
        """Whether it is a closed part of a side with a gap around it."""
        return self.gap_m > 0 and self.wall.material is not None

    @property
    def gap_m2(self) -> float:
        """Area of the slit around it, m²."""
        return 2.0 * self.gap_m * (self.x1_m - self.x0_m + self.y1_m - self.y0_m)


@dataclass(frozen=True, slots=True)
class Neighbour:
    """What a closed face stands against where that is not the room: another enclosure, an outside wall."""

    label: str
    day_temperature_c: float
    night_temperature_c: float

    def at(self, hour: float) -> float:
        """Temperature at an hour of the day, °C.

        Parameters
        ----------
        hour : float
            Hour of the day, 0 to 24.

        Returns
        -------
        float
            The temperature, °C.
        """
        return daily_cycle(self.day_temperature_c, self.night_temperature_c, hour)


@dataclass(frozen=True, slots=True)
class Enclosure:
    """The enclosure by its inside size in metres; ``insets`` do not overlap.

    ``neighbours`` says what stands against a face in place of the room's air.
    """

    length_m: float
    depth_m: float
    height_m: float
    walls: Mapping[Face, Wall]
    vents: tuple[Vent, ...] = ()
    insets: tuple[Inset, ...] = ()
    neighbours: Mapping[Face, Neighbour] = field(default_factory=dict)

    def size_of(self, face: Face) -> tuple[float, float]:
        """Length along a face and across it, as ``Inset`` counts them, m.

        Parameters
        ----------
        face : Face
            A face of the enclosure.

        Returns
        -------
        tuple[float, float]
            Both lengths, m.
        """
        if face in ("left", "right"):
            return self.depth_m, self.height_m
        return self.length_m, self.height_m if face in ("front", "back") else self.depth_m

    def insets_of(self, face: Face) -> tuple[Inset, ...]:
        """The parts of one face that are made differently from the rest.

        Parameters
        ----------
        face : Face
            A face of the enclosure.

        Returns
        -------
        tuple[Inset, ...]
            The insets, in the order of the plan.
        """
        return tuple(i for i in self.insets if i.face == face)

    def parts(self, face: Face) -> tuple[tuple[Wall, float], ...]:
        """Every part of a face with its share of the area; what is no inset first.

        Parameters
        ----------
        face : Face
            A face of the enclosure.

        Returns
        -------
        tuple[tuple[Wall, float], ...]
            Every part of a face with its share of the area.
        """
        along, across = self.size_of(face)
        parts = [(inset.wall, inset.area_m2 / (along * across)) for inset in self.insets_of(face)]
        base = max(0.0, 1.0 - sum(share for _, share in parts))
        return ((self.walls[face], base), *parts)

    def beyond(self, at: Point) -> Face | None:
        """The face a point lies outside of, the lid before the sides; None inside.

        Parameters
        ----------
        at : Point
            A point, m.

        Returns
        -------
        Face or None
            That face.
        """
        x, y, z = at
        if z > self.height_m:
            return "top"
        if x < 0.0 or x > self.length_m:
            return "left" if x < 0.0 else "right"
        if y < 0.0 or y > self.depth_m:
            return "front" if y < 0.0 else "back"
        return None

    def lets_light_in(self, face: Face) -> bool:
        """Whether some part of a face lets light pass.

        Parameters
        ----------
        face : Face
            A face of the enclosure.

        Returns
        -------
        bool
            True if a lamp outside it can shine in.
        """
        return any(wall.lets_light_in for wall, share in self.parts(face) if share > 0)

    def open_share(self, face: Face, wall: Wall) -> float:
        """Share of a part of a face that air passes: none where something stands against it.

        Parameters
        ----------
        face : Face
            A face of the enclosure.
        wall : Wall
            One of its parts.

        Returns
        -------
        float
            The share, 0–1.
        """
        return 0.0 if face in self.neighbours else wall.open_fraction

    @property
    def lid_open_fraction(self) -> float:
        """Share of the lid that lets air through, 0–1."""
        return sum(self.open_share("top", wall) * share for wall, share in self.parts("top"))
