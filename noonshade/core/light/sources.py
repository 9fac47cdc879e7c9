"""Lamps as flat bright shapes."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import (
    PATTERN_BEAM,
    PATTERN_LINE,
    PATTERN_TABLE,
    SHAPE_DISC,
    SHAPE_PANEL,
    SHAPE_STRIP,
    Source,
    cells_of,
    intensities,
    screened,
    trace,
    trace_lattice,
)
from noonshade.core.light.shade import NOTHING, Obstacles
from noonshade.core.plan import (
    BeamSource,
    Fixture,
    LineSource,
    PanelSource,
    Point,
    SourceGeometry,
    TableSource,
)

Floats = NDArray[np.float64]

UP = np.array([0.0, 0.0, 1.0])
NO_SCREENS = np.zeros((0, 4))
# A lamp that hangs untilted: along x, across, and straight down.
HANGING = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, -1.0]])
_MOST_NODES = 12
_LEAST_WIDTH_M = 1e-4
_POWER_STEPS = 4096


@dataclass(frozen=True, slots=True)
class Emitter:
    """A source about its centre, untilted, emitting 1 W in all.

    ``half_m`` are its half sizes along and across; ``density`` is its intensity on the aim axis in W/sr
    and emitted watt, per metre of a strip or per m² of a disc or panel. ``shape``, ``pattern``,
    ``exponent`` and the table are as ``kernel.Source`` takes them; ``fineness`` multiplies the nodes of
    every quadrature.
    """

    shape: int
    half_m: tuple[float, float]
    density: float
    pattern: int
    exponent: float
    fineness: int = 1
    c_deg: Floats = field(default_factory=lambda: np.zeros(1))
    gamma_deg: Floats = field(default_factory=lambda: np.zeros(1))
    table: Floats = field(default_factory=lambda: np.zeros((1, 1)))

    def at(
        self,
        centre: Point,
        points: Floats,
        normals: Floats,
        screens: Floats = NO_SCREENS,
        obstacles: Obstacles = NOTHING,
        frame: Floats = HANGING,
    ) -> tuple[Floats, Floats]:
        """Vector irradiance (n, 3) and irradiance on normals (n,), in W/m² per emitted watt.

        Parameters
        ----------
        centre : Point
            Centre, m.
        points : Floats
            Points, shape (n, 3), m.
        normals : Floats
            Unit normals, shape (n, 3).
        screens : Floats
            Screens: kind, ratio or index, factor, turns; shape (q, 4).
        obstacles : Obstacles
            What casts shade.
        frame : Floats
            Unit vectors along, across and ahead of the source, shape (3, 3).

        Returns
        -------
        tuple[Floats, Floats]
            Vector irradiance (n, 3) and irradiance on the normals (n,).
        """
        vector, on_normal = trace(
            np.ascontiguousarray(points, dtype=np.float64),
            np.ascontiguousarray(normals, dtype=np.float64),
            self.hung(centre, frame),
            screens,
            obstacles.occluders,
        )
        return vector, on_normal

    def on_lattice(
        self,
        centre: Point,
        points: Floats,
        shape: tuple[int, int],
        screens: Floats = NO_SCREENS,
        obstacles: Obstacles = NOTHING,
        frame: Floats = HANGING,
        slack: Floats | None = None,
    ) -> Floats:
        """Vector and level irradiance (rows · columns, 4) on a plane lattice of points given row by row.

        ``slack`` by cell as ``trace_lattice`` takes it; nothing: this is the only lamp.

        Parameters
        ----------
        centre : Point
            Centre, m.
        points : Floats
            Points, shape (n, 3), m.
        shape : tuple[int, int]
            Rows and columns of the lattice.
        screens : Floats
            Screens: kind, ratio or index, factor, turns; shape (q, 4).
        obstacles : Obstacles
            What casts shade.
        frame : Floats
            Unit vectors along, across and ahead of the source, shape (3, 3).
        slack : Floats | None
            How much more light all lamps give than this one, at least 1.

        Returns
        -------
        Floats
            x, y, z of the vector irradiance and the level irradiance, W/m² per emitted watt.
        """
        if slack is None:
            slack = np.ones(cells_of(shape))
        found: Floats = trace_lattice(
            np.ascontiguousarray(points, dtype=np.float64),
            *shape,
            self.hung(centre, frame),
            screens,
            obstacles.occluders,
            slack,
        )
        return found

    def hung(self, centre: Point, frame: Floats = HANGING) -> Source:
        """The source at a place, turned.

        Parameters
        ----------
        centre : Point
            Centre, m.
        frame : Floats
            Unit vectors along, across and ahead of the source, shape (3, 3).

        Returns
        -------
        Source
            The source with its position and directions in the enclosure.
        """
        middle = np.asarray(centre, dtype=np.float64)
        u, v = self.half_m
        if self.shape == SHAPE_DISC:
            reach = u * np.sqrt(np.maximum(0.0, 1.0 - frame[2] ** 2))
        else:
            reach = u * np.abs(frame[0]) + v * np.abs(frame[1])
        return Source(
            centre=middle,
            frame=np.ascontiguousarray(frame, dtype=np.float64),
            half=np.array([u, v]),
            shape=self.shape,
            density=self.density,
            pattern=self.pattern,
            exponent=self.exponent,
            curve=_powers(self.exponent),
            c_deg=self.c_deg,
            gamma_deg=self.gamma_deg,
            table=self.table,
            gauss=_rules(_MOST_NODES * self.fineness),
            fineness=self.fineness,
            sharp=self._sharp(),
            bright=np.concatenate([middle - reach, middle + reach]),
        )

    def _sharp(self) -> float:
        """How much more nodes than a small cosine source it needs, found by trial."""
        if self.shape == SHAPE_PANEL:
            return 1.6
        if self.pattern == PATTERN_TABLE:
            return 2.0
        return math.sqrt(max(1.0, self.exponent / 4.0)) * max(1.0, self.half_m[0] / 0.12)

    def intensity(self, directions: Floats) -> Floats:
        """Relative intensity (n,) of an element in lamp directions (n, 3): along, across, ahead.

        Parameters
        ----------
        directions : Floats
            Unit vectors, shape (n, 3).

        Returns
        -------
        Floats
            Relative intensity (n,) of an element in lamp directions (n, 3).
        """
        found: Floats = intensities(np.ascontiguousarray(directions), self.hung((0.0, 0.0, 0.0)))
        return found


@lru_cache
def _powers(exponent: float) -> Floats:
    """xⁿ for x from 0 to 1; linear between, within 1e-4 of 1 for n up to 100."""
    return np.asarray(np.linspace(0.0, 1.0, _POWER_STEPS + 1) ** max(exponent, 0.0))


@lru_cache
def _rules(most: int) -> Floats:
    """Gauss–Legendre rules on 0–1: nodes and weights (most + 1, 2, most), rule n in row n."""
    table = np.zeros((most + 1, 2, most))
    for n in range(1, most + 1):
        x, w = np.polynomial.legendre.leggauss(n)
        table[n, 0, :n], table[n, 1, :n] = (x + 1.0) / 2.0, w / 2.0
    return table


def frame_of(fixture: Fixture) -> Floats:
    """Unit vectors (3, 3) of a fixture: along its axis, across, and where it aims.

    Parameters
    ----------
    fixture : Fixture
        The fixture.

    Returns
    -------
    Floats
        Unit vectors (3, 3) of a fixture.
    """
    turn, lean, tilt = (math.radians(a) for a in (fixture.turn_deg, fixture.lean_deg, fixture.tilt_deg))
    cosine, sine = math.cos(turn), math.sin(turn)
    about = np.array([[cosine, -sine, 0.0], [sine, cosine, 0.0], [0.0, 0.0, 1.0]])
    axis = about @ np.array([math.cos(lean), 0.0, math.sin(lean)])
    ahead = about @ np.array([math.sin(lean), 0.0, -math.cos(lean)])
    across = about @ np.array([0.0, 1.0, 0.0])
    aim = math.cos(tilt) * ahead + math.sin(tilt) * across
    side = math.cos(tilt) * across - math.sin(tilt) * ahead
    return np.ascontiguousarray(np.array([axis, side, aim]))


def beam_exponent(fwhm_deg: float) -> float:
    """Exponent m of I₀ cosᵐθ from the full width at half maximum: ln ½ / ln cos(FWHM/2).

    Parameters
    ----------
    fwhm_deg : float
        Full width of the beam at half its peak, degrees.

    Returns
    -------
    float
        Exponent m of I₀ cosᵐθ from the full width at half maximum.
    """
    return math.log(0.5) / math.log(math.cos(math.radians(fwhm_deg) / 2.0))


def emitter(geometry: SourceGeometry, fineness: int = 1) -> Emitter:
    """A source of the catalogue as the kernel takes it.

    A tube is a strip whose middle line has an intensity proportional to sin φ to the axis, which makes the
    closed form E ∝ (α + sin α cos α)/d under its centre; its width only softens the edges of shade. Bulbs
    are discs, panels rectangles, both of even brightness.

    Parameters
    ----------
    geometry : SourceGeometry
        Shape and beam of the source.
    fineness : int
        Multiplies the number of quadrature nodes, for reference solutions.

    Returns
    -------
    Emitter
        Shape, size, beam and table of the source.

    Raises
    ------
    TypeError
        If the geometry is of no known kind.
    """
    if isinstance(geometry, LineSource):
        exponent = -1.0 if geometry.reflector_exponent is None else geometry.reflector_exponent
        # ∫ sin²φ dφ = π/2 along the axis; ∫ cosⁿβ dβ (or 2π) around it.
        around = 2.0 * math.pi if exponent < 0 else _cosine_integral(exponent)
        half = (geometry.length_m / 2, max(geometry.width_m, _LEAST_WIDTH_M) / 2)
        density = 1.0 / ((math.pi / 2.0) * around * geometry.length_m)
        return Emitter(SHAPE_STRIP, half, density, PATTERN_LINE, exponent, fineness)
    if isinstance(geometry, PanelSource):
        half = (geometry.length_m / 2, geometry.width_m / 2)
        density = 1.0 / (math.pi * geometry.length_m * geometry.width_m)
        return Emitter(SHAPE_PANEL, half, density, PATTERN_BEAM, 1.0, fineness)
    if not isinstance(geometry, BeamSource | TableSource):
        raise TypeError(f"unknown source geometry {type(geometry).__name__}")
    radius = geometry.diameter_m / 2
    area = math.pi * radius**2
    if isinstance(geometry, BeamSource):
        m = beam_exponent(geometry.fwhm_deg)
        density = (m + 1.0) / (2.0 * math.pi) / area
        return Emitter(SHAPE_DISC, (radius, radius), density, PATTERN_BEAM, m, fineness)
    c_deg = np.array(geometry.c_deg)
    gamma_deg = np.array(geometry.gamma_deg)
    table = np.ascontiguousarray(geometry.intensity)
    density = 1.0 / table_flux(c_deg, gamma_deg, table) / area
    return Emitter(
        SHAPE_DISC, (radius, radius), density, PATTERN_TABLE, 0.0, fineness, c_deg, gamma_deg, table
    )


def table_flux(c_deg: Floats, gamma_deg: Floats, table: Floats) -> float:
    """∫ I dΩ of an angular table (c, g), exact for intensity linear between its angles.

    Parameters
    ----------
    c_deg : Floats
        Angles about the aim of the table, degrees.
    gamma_deg : Floats
        Angles from the aim of the table, degrees.
    table : Floats
        Intensities over the angles.

    Returns
    -------
    float
        The flux, in the table's intensity times sr.
    """
    gamma = np.radians(gamma_deg)
    g0, g1 = gamma[:-1], gamma[1:]
    # ∫ (a + b γ) sin γ dγ with I linear in γ: by parts.
    i0, i1 = table[:, :-1], table[:, 1:]
    slope = (i1 - i0) / (g1 - g0)
    zone = i0 * np.cos(g0) - i1 * np.cos(g1) + slope * (np.sin(g1) - np.sin(g0))
    per_plane: Floats = zone.sum(axis=1)
    if len(c_deg) == 1:
        return float(2.0 * math.pi * per_plane[0])
    return float(np.trapezoid(per_plane, np.radians(c_deg)))


def reference_response(source: Emitter, distance_m: float) -> float:
    """What a meter facing the lamp under its centre reads at a distance, per emitted watt, W/m².

    Parameters
    ----------
    source : Emitter
        The source.
    distance_m : float
        Distance from the lamp, m.

    Returns
    -------
    float
        The response, W/m² per emitted watt.
    """
    return float(on_axis(source, np.array([distance_m]))[0])


def on_axis(source: Emitter, distance_m: Floats, screens: Floats = NO_SCREENS) -> Floats:
    """Readings (n,) straight under the lamp's centre at distances (n,), facing it, per emitted watt.

    Parameters
    ----------
    source : Emitter
        The source.
    distance_m : Floats
        Distance from the lamp, m.
    screens : Floats
        Screens: kind, ratio or index, factor, turns; shape (q, 4).

    Returns
    -------
    Floats
        The responses (n,), W/m² per emitted watt.
    """
    points = np.zeros((len(distance_m), 3))
    points[:, 2] = -np.asarray(distance_m)
    _, on_normal = source.at((0.0, 0.0, 0.0), points, np.tile(UP, (len(points), 1)), screens)
    return on_normal


@lru_cache
def sphere(count: int) -> Floats:
    """Directions (n, 3) evenly over the sphere: a spiral of golden angles.

    Parameters
    ----------
    count : int
        How many.

    Returns
    -------
    Floats
        Unit vectors.
    """
    index = np.arange(count) + 0.5
    z = 1.0 - 2.0 * index / count
    bearing = index * math.pi * (1.0 + math.sqrt(5.0))
    r = np.sqrt(1.0 - z * z)
    return np.ascontiguousarray(np.column_stack([r * np.cos(bearing), r * np.sin(bearing), z]))


def screened_share(source: Emitter, rows: Floats, frame: Floats, directions: int = 4000) -> float:
    """Share of a source's radiation that passes its screens, by quadrature over the sphere.

    Parameters
    ----------
    source : Emitter
        The source.
    rows : Floats
        Its screens, as the kernel takes them.
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    directions : int
        How many directions.

    Returns
    -------
    float
        The share, 0–1.
    """
    if len(rows) == 0:
        return 1.0
    local = sphere(directions)
    strength = source.intensity(local)
    passed = screened(np.ascontiguousarray(local @ frame), frame, rows)
    return float(np.sum(strength * passed) / np.sum(strength))


def _cosine_integral(n: float) -> float:
    """∫ cosⁿβ dβ from −π/2 to π/2 = √π Γ((n+1)/2) / Γ(n/2 + 1)."""
    return math.sqrt(math.pi) * math.gamma((n + 1.0) / 2.0) / math.gamma(n / 2.0 + 1.0)
