"""What wire mesh and panes of glass or plastic let through."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import SCREEN_MESH, SCREEN_PANE, SCREEN_WOVEN, WOVEN_ANGLES
from noonshade.core.light.shade import Obstacles, face_blocks
from noonshade.core.light.woven import woven_table
from noonshade.core.plan import Enclosure, Face, Finish, Fixture, Lamp, Mesh, Plan, Point, Screen, Wall
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]

NO_SCREENS = np.zeros((0, 4 + WOVEN_ANGLES**2))
# What round wires do with the light on them, from what they reflect (estimates: bright 0.65, matt 0.45,
# black 0.05). A shiny cylinder turns light that hits it beyond R/√2 of its middle by less than a right
# angle: it sends 0.29 of what it reflects forward; a matt one 0.107 (integral of a Lambertian cylinder's
# phase function).
FORWARD: dict[Finish, float] = {"bright": 0.19, "matt": 0.05, "black": 0.005}
BACKWARD: dict[Finish, float] = {"bright": 0.46, "matt": 0.40, "black": 0.045}
# Panes of glass, acrylic or polycarbonate pass next to nothing beyond 5 µm, where heaters of some 300 °C
# send most of what they send (handbook spectra).
PANE_INFRARED = 0.0
REFRACTIVE_INDEX = 1.5  # glass 1.52, acrylic 1.49, polycarbonate 1.58 (handbook values, visible)


@dataclass(frozen=True, slots=True)
class Bands:
    """Shares of UV, of a lamp's radiant heat, of visible light and of a dark heater's infrared, 0–1."""

    uv: float = 1.0
    radiant: float = 1.0
    visible: float = 1.0
    infrared: float = 1.0

    def heat_of(self, lamp: Lamp) -> float:
        """What passes of a lamp's radiant heat: what does not glow sends it out at long waves.

        Parameters
        ----------
        lamp : Lamp
            The lamp or heater.

        Returns
        -------
        float
            A share, 0–1.
        """
        return self.radiant if lamp.gives_light else self.infrared

    def times(self, other: Bands) -> Bands:
        """One after the other.

        Parameters
        ----------
        other : Bands
            The other bands.

        Returns
        -------
        Bands
            The product in each band.
        """
        return Bands(
            self.uv * other.uv,
            self.radiant * other.radiant,
            self.visible * other.visible,
            self.infrared * other.infrared,
        )


@dataclass(frozen=True, slots=True)
class LightPath:
    """One way from a lamp into the enclosure: the screens it crosses and what else is closed to it.

    ``rows`` (q, 4) are as the kernel takes them: how a screen depends on the angle. ``bands`` are the
    factors that do not.
    """

    rows: Floats
    bands: Bands
    obstacles: Obstacles


def mesh_transmittance(mesh: Mesh, zenith_deg: float, bearing_deg: float = 0.0) -> float:
    """Share of light that passes a horizontal square mesh, 0–1.

    Each family of parallel wires of diameter w and pitch p throws shadow stripes; with θ₁, θ₂ the
    incidence angle projected on the planes across each family, the open share is

        max(0, 1 − w/(p cos θ₁)) · max(0, 1 − w/(p cos θ₂)).

    Along a wire direction this is (1 − w/p)(1 − w/(p cos θ)); at normal incidence the open-area fraction. A
    woven mesh differs from about 50° on: see ``woven_table``. The kernel in ``kernel.py`` repeats it per
    ray; a test holds them together.

    Parameters
    ----------
    mesh : Mesh
        The mesh.
    zenith_deg : float
        Angle of incidence from the mesh normal, 0 ≤ θ < 90.
    bearing_deg : float
        Direction of arrival about the normal, measured from one wire direction.

    Returns
    -------
    float
        The share, 0–1, of the shape of the directions.
    """
    ratio = mesh.wire_m / mesh.pitch_m
    tangent = math.tan(math.radians(zenith_deg))
    along = tangent * math.cos(math.radians(bearing_deg))
    across = tangent * math.sin(math.radians(bearing_deg))
    if mesh.woven:
        angles = np.linspace(0.0, 90.0, WOVEN_ANGLES)
        here = [math.degrees(math.atan(abs(t))) for t in (along, across)]
        table = woven_table(ratio)
        return float(np.interp(here[0], angles, [np.interp(here[1], angles, row) for row in table]))
    first = max(0.0, 1.0 - ratio * math.hypot(1.0, along))
    second = max(0.0, 1.0 - ratio * math.hypot(1.0, across))
    return first * second


def forward_scatter(mesh: Mesh) -> float:
    """Share of the light that hits the wires of a mesh which they send on to its other side, 0–1.

    Parameters
    ----------
    mesh : Mesh
        The mesh.

    Returns
    -------
    float
        The share.
    """
    return FORWARD[mesh.finish]


def straight_through(screen: Screen | None, measured_uv: float | None = None) -> Bands:
    """What passes a screen at normal incidence.

    A keeper's measured share replaces the catalogue's for UV. A mesh is blind to colour, so there it
    holds for heat and light too.

    Parameters
    ----------
    screen : Screen | None
        Mesh or pane in front of the lamp, None for none.
    measured_uv : float | None
        UV transmittance the keeper measured, None for the screen's own.

    Returns
    -------
    Bands
        Shares of each band, 0–1.
    """
    if screen is None:
        return Bands()
    if isinstance(screen, Mesh):
        share = screen.open_fraction if measured_uv is None else measured_uv
        return Bands(share, share, share, share)
    uv = screen.uvb_transmittance if measured_uv is None else measured_uv
    return Bands(uv, screen.transmittance, screen.visible_transmittance, PANE_INFRARED)


# How a part of each face lies, as the kernel tells them apart; a lamp's own screen turns with it.
_TURNS = 1.0
_LIES: dict[Face, float] = {"top": 0.0, "left": 2.0, "right": 3.0, "front": 4.0, "back": 5.0}


def screen_row(
    kind: float, value: float, factor: float, lies: float, table: Floats | None = None
) -> Floats:
    """One screen (1, k) as the kernel takes it; see ``transmitted_share``.

    Parameters
    ----------
    kind : float
        Mesh, pane, mirror or woven mesh.
    value : float
        Wire ratio or refractive index.
    factor : float
        What multiplies what passes.
    lies : float
        How it lies.
    table : Floats, optional
        What passes a woven mesh by angle.

    Returns
    -------
    Floats
        The row.
    """
    row = np.zeros((1, 4 + WOVEN_ANGLES**2))
    row[0, :4] = kind, value, factor, lies
    if table is not None:
        row[0, 4:] = table.ravel()
    return row


def screen_rows(
    screen: Screen | None, measured_uv: float | None, face: Face | None = None
) -> tuple[Floats, Bands]:
    """A screen as the kernel takes it, and the factors by band left over.

    Parameters
    ----------
    screen : Screen | None
        Mesh or pane in front of the lamp, None for none.
    measured_uv : float | None
        UV transmittance the keeper measured, None for the screen's own.
    face : Face, optional
        Where it lies; without one it turns with the lamp.

    Returns
    -------
    tuple[Floats, Bands]
        A row for the kernel, and factors by band that the kernel does not apply.
    """
    if screen is None:
        return NO_SCREENS, Bands()
    lies = _TURNS if face is None else _LIES[face]
    if isinstance(screen, Mesh):
        factor = 1.0 if measured_uv is None else measured_uv / screen.open_fraction
        ratio = screen.wire_m / screen.pitch_m
        if screen.woven:
            return screen_row(SCREEN_WOVEN, ratio, factor, lies, woven_table(ratio)), Bands()
        return screen_row(SCREEN_MESH, ratio, factor, lies), Bands()
    return screen_row(SCREEN_PANE, REFRACTIVE_INDEX, 1.0, lies), straight_through(screen, measured_uv)


# Obstacles with a face but for one part of it, for a few plans.
_CLOSED = Remembered[Obstacles](32)


def _with_face(inside: Obstacles, enclosure: Enclosure, face: Face, part: int) -> Obstacles:
    return inside.with_solids(face_blocks(enclosure, face, part))


def light_paths(plan: Plan, fixture: Fixture, inside: Obstacles) -> tuple[LightPath, ...]:
    """Paths of a lamp's light into the enclosure: one from inside, else one a part of the face before it.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The fixture.
    inside : Obstacles
        Obstacles inside the enclosure.

    Returns
    -------
    tuple[LightPath, ...]
        Paths of a lamp's light into the enclosure.
    """
    own_rows, own_bands = screen_rows(fixture.screen, fixture.screen_measured)
    enclosure = plan.enclosure
    face = enclosure.beyond(fixture.position_m)
    if face is None:
        return (LightPath(own_rows, own_bands, inside),)
    ways = []
    for part, (wall, share) in enumerate(enclosure.parts(face)):
        if share <= 0 or not wall.lets_light_in:
            continue
        rows, bands = screen_rows(wall.screen, wall.measured_uv, face)
        closed = _CLOSED.get(
            (inside, enclosure), (face, part), partial(_with_face, inside, enclosure, face, part)
        )
        ways.append(LightPath(np.concatenate([own_rows, rows]), own_bands.times(bands), closed))
    return tuple(ways)


def part_before(enclosure: Enclosure, face: Face, at: Point) -> Wall:
    """The part of a face before a point outside it.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure.
    face : Face
        A face of it.
    at : Point
        The point, m.

    Returns
    -------
    Wall
        The wall of the inset there, or of the face itself.
    """
    x, y, z = at
    along = y if face in ("left", "right") else x
    across = y if face == "top" else z
    for inset in enclosure.insets_of(face):
        if inset.x0_m <= along <= inset.x1_m and inset.y0_m <= across <= inset.y1_m:
            return inset.wall
    return enclosure.walls[face]


def screens_before(plan: Plan, fixture: Fixture) -> tuple[tuple[Screen, float | None], ...]:
    """Every screen straight before a fixture, with its measured share: its own, and the lid or side.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The fixture.

    Returns
    -------
    tuple[tuple[Screen, float | None], ...]
        Every screen between it and the enclosure, with its measured share.
    """
    found = [(fixture.screen, fixture.screen_measured)]
    face = plan.enclosure.beyond(fixture.position_m)
    if face is not None:
        wall = part_before(plan.enclosure, face, fixture.position_m)
        found.append((wall.screen, wall.measured_uv))
    return tuple((screen, measured) for screen, measured in found if screen is not None)


def screen_loss(plan: Plan, fixture: Fixture) -> Bands:
    """Shares of a lamp's light that its screens stop straight before it, 0–1.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The fixture.

    Returns
    -------
    Bands
        Shares of each band, 0–1.
    """
    passed = Bands()
    for screen, measured in screens_before(plan, fixture):
        passed = passed.times(straight_through(screen, measured))
    return Bands(1.0 - passed.uv, 1.0 - passed.radiant, 1.0 - passed.visible, 1.0 - passed.infrared)
