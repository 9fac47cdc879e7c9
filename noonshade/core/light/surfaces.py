"""Everything in an enclosure that sends light back, cut into patches."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import Sheets, covered, sheet_reflectance
from noonshade.core.light.screens import BACKWARD, REFRACTIVE_INDEX
from noonshade.core.light.shade import Obstacles, Solid, obstacles, solids_of
from noonshade.core.plan import Enclosure, Face, Plan, SolidMaterial, Wall, Water

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# About how many patches the faces of the enclosure are cut into: more changed no figure by 1 % (estimate).
PATCHES = 200
# Furnishings have patches of about the same size, but at least two along a side longer than this.
SPLIT_M = 0.08
# More patches than this would take seconds: then furnishings have one patch a face, and the smallest faces
# none.
MOST_PATCHES = 1200
# Sides of furnishings narrower than this send nothing back: the rim of a tile, the end of a board.
LEAST_SIDE_M = 0.015
WATER_INDEX = 1.33  # refractive index of water (handbook value, visible)
QUARTERS = 4
OFF_M = 1e-4
_WALLS: tuple[Face, ...] = ("top", "left", "right", "front", "back")


class Optics(NamedTuple):
    """What a patch does to light: shares of UV, radiant heat and light sent back in all directions.

    ``pane`` is the refractive index of a sheet that mirrors and what passes through it once by band;
    ``part`` the face and the number of its part, for what lies in the faces of the enclosure.
    """

    reflectance: tuple[float, float, float]
    pane: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    part: tuple[Face, int] | None = None


class Pane(NamedTuple):
    """Something flat that mirrors lamps: a part of a face, or a water surface (``part`` None).

    ``axis`` 0, 1 or 2 is at right angles to it, ``at_m`` where it lies along that axis, and ``rect`` its
    extent along the other two axes in order; ``refraction`` its index and ``through`` what is left of
    UV, radiant heat and light after one way through it.
    """

    axis: int
    at_m: float
    rect: tuple[float, float, float, float]
    refraction: float
    through: tuple[float, float, float]
    face: Face | None = None
    part: int = 0


@dataclass(frozen=True, slots=True, eq=False)
class Surfaces:
    """Patches (p,) of everything that sends light back, and where rays find them.

    ``quads`` (p, 4, 3) are their corners, ``normal`` (p, 3), ``area_m2`` (p,); ``quarters`` (p, 4, 3) the
    middles of their quarters just off the surface and ``free`` (p, 4) the share of each that nothing
    covers. ``reflectance`` (p, 3) is of UV, radiant heat and light in all directions, ``mirrored``
    (p, 3) what panes mirror of light from all around. ``parts`` (p,) numbers the part of the enclosure's
    faces a patch lies in, by ``part_names``, and is −1 for others.
    """

    quads: Floats
    normal: Floats
    area_m2: Floats
    quarters: Floats
    free: Floats
    reflectance: Floats
    mirrored: Floats
    parts: Ints
    part_names: tuple[tuple[Face, int], ...]
    panes: tuple[Pane, ...]
    sheets: Sheets

    @property
    def free_m2(self) -> Floats:
        """Area of each patch (p,) that nothing covers, m²."""
        found: Floats = self.area_m2 * self.free.mean(axis=1)
        return found


@dataclass(slots=True)
class _Sheet:
    """A rectangle before it is cut: origin, unit vectors, and the edges of its patches both ways."""

    origin: Floats
    along: Floats
    across: Floats
    normal: Floats
    us: Floats
    vs: Floats
    optics: list[Optics]


def diffuse(material: SolidMaterial) -> tuple[float, float, float]:
    """Shares of UV, radiant heat and light that a material sends back in all directions.

    Parameters
    ----------
    material : SolidMaterial
        The material.

    Returns
    -------
    tuple[float, float, float]
        The shares, 0–1.
    """
    return (material.uvb_reflectance, material.reflectance, material.visible_reflectance)


def pane_through(material: SolidMaterial) -> tuple[float, float, float]:
    """What is left of UV, radiant heat and light after one way through a sheet, without its faces.

    Parameters
    ----------
    material : SolidMaterial
        A clear material.

    Returns
    -------
    tuple[float, float, float]
        The shares, 0–1.
    """
    faces = (1.0 - ((REFRACTIVE_INDEX - 1.0) / (REFRACTIVE_INDEX + 1.0)) ** 2) ** 2
    passed = (material.uvb_transmittance, material.transmittance, material.visible_transmittance)
    uv, heat, light = (min(1.0, share / faces) for share in passed)
    return (uv, heat, light)


@lru_cache
def mirrored_all_around(index: float, through: tuple[float, float, float]) -> tuple[float, float, float]:
    """Shares of UV, radiant heat and light from all around that a clear sheet mirrors.

    Parameters
    ----------
    index : float
        Refractive index; 0 where there is no sheet.
    through : tuple[float, float, float]
        What is left of each after one way through it.

    Returns
    -------
    tuple[float, float, float]
        The shares, 0–1.
    """
    if index == 0.0:
        return (0.0, 0.0, 0.0)
    x, w = np.polynomial.legendre.leggauss(24)
    cosine = 0.5 * (x + 1.0)
    uv, heat, light = (
        float(sum(sheet_reflectance(index, c, t) * c * v for c, v in zip(cosine, w, strict=True)))
        for t in through
    )
    return (uv, heat, light)


def cut(length: float, size: float, marks: Sequence[float] = (), least: int = 1) -> Floats:
    """Edges of patches along a side, from 0 to its length, with edges at some marks.

    Parameters
    ----------
    length : float
        The side, m.
    size : float
        How long a patch should be, m.
    marks : sequence of float
        Where edges must be, m.
    least : int
        Patches between two marks, at least.

    Returns
    -------
    Floats
        The edges, rising, m.
    """
    inner = [m for m in marks if OFF_M < m < length - OFF_M]
    edges = [0.0, *sorted(set(inner)), length]
    found: list[float] = []
    for a, b in pairwise(edges):
        if b - a > OFF_M:
            pieces = max(least, round((b - a) / size))
            found += [a + (b - a) * k / pieces for k in range(pieces)]
    return np.array([*found, length])


def find_surfaces(plan: Plan, inner_reflectance: float | None = None) -> Surfaces:
    """Cut everything in an enclosure that sends light back into patches.

    Parameters
    ----------
    plan : Plan
        The plan.
    inner_reflectance : float, optional
        What every closed inner face of the enclosure and the ground send back of every band, in place of
        their materials.

    Returns
    -------
    Surfaces
        The patches.
    """
    inside = obstacles(plan)
    size = _patch_size(plan.enclosure, plan.substrate.depth_m)
    panes: list[Pane] = []
    sheets = [_ground(plan, size, panes, inner_reflectance)]
    sheets += [_wall(plan, face, size, panes, inner_reflectance) for face in _WALLS]
    own = sum(len(sheet.optics) for sheet in sheets)
    found = _things(plan, inside, size)
    if own + sum(len(sheet.optics) for _, sheet in found) > MOST_PATCHES:
        found = _largest(_things(plan, inside, math.inf), MOST_PATCHES - own)
    of_plane = np.full(len(inside.occluders.planes), -1, dtype=np.int64)
    for number, (face, _) in enumerate(found):
        of_plane[face] = len(sheets) + number
    sheets += [sheet for _, sheet in found]
    return _collected(plan, inside, sheets, of_plane, tuple(panes))


def _things(plan: Plan, inside: Obstacles, size: float) -> list[tuple[int, _Sheet]]:
    """Every face of a furnishing that sends light back, with its number among the occluders' faces."""
    return [
        (first + face, made)
        for solid, first, material in _solids(plan, inside)
        for face, made in enumerate(_faces_of(solid, size, material))
        if made is not None
    ]


def _largest(found: list[tuple[int, _Sheet]], most: int) -> list[tuple[int, _Sheet]]:
    """The largest faces, as many as have some number of patches together."""
    area = [float(sheet.us[-1] * sheet.vs[-1]) for _, sheet in found]
    kept: list[tuple[int, _Sheet]] = []
    for k in np.argsort(area)[::-1]:
        most -= len(found[k][1].optics)
        if most < 0:
            break
        kept.append(found[k])
    return kept


def _patch_size(box: Enclosure, ground: float) -> float:
    tall = box.height_m - ground
    area = 2.0 * (box.length_m * box.depth_m + (box.length_m + box.depth_m) * tall)
    return math.sqrt(area / PATCHES)


def _ground(plan: Plan, size: float, panes: list[Pane], inner: float | None) -> _Sheet:
    box, ground, soil = plan.enclosure, plan.substrate.depth_m, plan.substrate.material
    waters = [w for w in plan.furnishings if isinstance(w, Water)]
    rects = [
        (w.x_m - w.length_m / 2, w.y_m - w.width_m / 2, w.x_m + w.length_m / 2, w.y_m + w.width_m / 2)
        for w in waters
    ]
    us = cut(box.length_m, size, [m for r in rects for m in (r[0], r[2])])
    vs = cut(box.depth_m, size, [m for r in rects for m in (r[1], r[3])])
    dry = diffuse(soil) if inner is None else (inner, inner, inner)
    if inner is None:
        wet = [*rects, (0.0, 0.0, box.length_m, box.depth_m)] if soil.id == "water-bed" else rects
        panes += [Pane(2, ground, r, WATER_INDEX, (0.0, 0.0, 0.0)) for r in wet]
    optics = []
    for x in (us[:-1] + us[1:]) / 2:
        for y in (vs[:-1] + vs[1:]) / 2:
            inside = [w for w, r in zip(waters, rects, strict=True) if r[0] < x < r[2] and r[1] < y < r[3]]
            optics.append(Optics(diffuse(inside[0].material) if inside else dry))
    return _Sheet(
        np.array([0.0, 0.0, ground]),
        np.array([1.0, 0.0, 0.0]),
        np.array([0.0, 1.0, 0.0]),
        np.array([0.0, 0.0, 1.0]),
        us,
        vs,
        optics,
    )


def _wall(plan: Plan, face: Face, size: float, panes: list[Pane], inner: float | None) -> _Sheet:
    box, ground = plan.enclosure, plan.substrate.depth_m
    low = 0.0 if face == "top" else ground
    long, high = box.size_of(face)
    insets = box.insets_of(face)
    us = cut(long, size, [m for i in insets for m in (i.x0_m, i.x1_m)])
    vs = cut(high - low, size, [m - low for i in insets for m in (i.y0_m, i.y1_m)])
    x = np.array([1.0, 0.0, 0.0])
    y = np.array([0.0, 1.0, 0.0])
    z = np.array([0.0, 0.0, 1.0])
    lies: dict[Face, tuple[Floats, Floats, Floats, Floats]] = {
        "top": (np.array([0.0, 0.0, box.height_m]), x, y, -z),
        "left": (np.array([0.0, 0.0, low]), y, z, x),
        "right": (np.array([box.length_m, 0.0, low]), y, z, -x),
        "front": (np.array([0.0, 0.0, low]), x, z, y),
        "back": (np.array([0.0, box.depth_m, low]), x, z, -y),
    }
    origin, along, across, normal = lies[face]
    walls = [box.walls[face], *(i.wall for i in insets)]
    optics = []
    for u in (us[:-1] + us[1:]) / 2:
        for v in (vs[:-1] + vs[1:]) / 2 + low:
            part = 0
            for number, i in enumerate(insets):
                if i.x0_m < u < i.x1_m and i.y0_m < v < i.y1_m:
                    part = number + 1
            optics.append(_optics(walls[part], (face, part), inner))
    if inner is None:
        axis = 2 if face == "top" else 0 if face in ("left", "right") else 1
        at = float(origin[axis])
        for part, (wall, share) in enumerate(box.parts(face)):
            sheet = wall.material
            if share > 0 and sheet is not None and sheet.is_clear:
                rect = (0.0, low, long, high)
                if part > 0:
                    i = insets[part - 1]
                    rect = (i.x0_m, max(i.y0_m, low), i.x1_m, i.y1_m)
                panes.append(Pane(axis, at, rect, REFRACTIVE_INDEX, pane_through(sheet), face, part))
    return _Sheet(origin, along, across, normal, us, vs, optics)


def _optics(wall: Wall, part: tuple[Face, int], inner: float | None) -> Optics:
    if wall.material is None:
        share = 0.0
        if wall.mesh is not None:
            share = BACKWARD[wall.mesh.finish] * (1.0 - wall.mesh.open_fraction)
        return Optics((share, share, share), part=part)
    if inner is not None:
        return Optics((inner, inner, inner), part=part)
    if wall.material.is_clear:
        return Optics((0.0, 0.0, 0.0), (REFRACTIVE_INDEX, *pane_through(wall.material)), part)
    return Optics(diffuse(wall.material), part=part)


def _solids(plan: Plan, inside: Obstacles) -> list[tuple[Solid, int, SolidMaterial]]:
    """Every solid but hulls, the number of its first face among the occluders, and its material."""
    found = []
    number = 0
    items = [i for i in plan.furnishings if solids_of(i, plan.enclosure, plan.substrate.depth_m)]
    for item, group in zip(items, inside.groups, strict=True):
        for k, solid in enumerate(group.solids):
            if not (group.hull and k == 0):
                first = int(inside.occluders.plane_starts[number])
                found.append((solid, first, item.material))
            number += 1
    return found


def _faces_of(solid: Solid, size: float, material: SolidMaterial) -> list[_Sheet | None]:
    """A sheet for every face of a solid that has four corners, in their order; None for the rest."""
    on = np.abs(solid.corners @ solid.planes[:, :3].T - solid.planes[:, 3]) < 1e-9
    optics = Optics(diffuse(material))
    return [
        _face_of(solid.corners[on[:, k]], solid.planes[k, :3], size, optics, solid.rod is not None)
        for k in range(len(solid.planes))
    ]


def _face_of(corners: Floats, normal: Floats, size: float, optics: Optics, narrow: bool) -> _Sheet | None:
    """A rectangle by its corners in any order; None if it is none, or too narrow to count."""
    if len(corners) != 4:
        return None
    ways = corners[1:] - corners[0]
    far = np.sqrt((ways * ways).sum(axis=1))
    # The farthest corner is opposite the first; the other two are its neighbours.
    short, long, _ = np.argsort(far)
    if far[short] < LEAST_SIDE_M and not narrow:
        return None
    least = [2 if far[k] > SPLIT_M and size < math.inf else 1 for k in (long, short)]
    us, vs = (cut(float(far[k]), size, least=n) for k, n in zip((long, short), least, strict=True))
    count = (len(us) - 1) * (len(vs) - 1)
    return _Sheet(
        corners[0], ways[long] / far[long], ways[short] / far[short], normal, us, vs, [optics] * count
    )


def _crossed(us: Floats, vs: Floats) -> Floats:
    """Every pair (n · m, 2) of some values along and some across."""
    return np.column_stack([np.repeat(us, len(vs)), np.tile(vs, len(us))])


def _collected(
    plan: Plan, inside: Obstacles, sheets: list[_Sheet], of_plane: Ints, panes: tuple[Pane, ...]
) -> Surfaces:
    box = plan.enclosure
    bounds = np.array([0.0, 0.0, plan.substrate.depth_m, box.length_m, box.depth_m, box.height_m])
    counts = np.array([(len(s.us) - 1, len(s.vs) - 1) for s in sheets], dtype=np.int64)
    of = np.repeat(np.arange(len(sheets)), counts[:, 0] * counts[:, 1])
    low = np.concatenate([_crossed(s.us[:-1], s.vs[:-1]) for s in sheets])
    high = np.concatenate([_crossed(s.us[1:], s.vs[1:]) for s in sheets])
    origin, along, across, normals = (
        np.array([getattr(s, name) for s in sheets])[of] for name in ("origin", "along", "across", "normal")
    )

    def places(s: Floats, t: Floats, off: float) -> Floats:
        """Points (p, k, 3) at shares s, t (k,) of both sides of every patch."""
        u = low[:, :1] + (high - low)[:, :1] * s
        v = low[:, 1:] + (high - low)[:, 1:] * t
        start = (origin + off * normals)[:, None, :]
        return np.asarray(start + u[:, :, None] * along[:, None, :] + v[:, :, None] * across[:, None, :])

    def middles(n: int) -> Floats:
        s = (np.arange(n) + 0.5) / n
        return places(np.repeat(s, n), np.tile(s, n), OFF_M)

    optics = [o for s in sheets for o in s.optics]
    corners = places(np.array([0.0, 1.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0, 1.0]), 0.0)
    spots = middles(4)
    hit = covered(np.ascontiguousarray(spots.reshape(-1, 3)), bounds, inside.occluders)
    # Quarters in the order of their middles: first along, then across.
    free = 1.0 - hit.reshape(-1, 2, 2, 2, 2).mean(axis=(2, 4)).reshape(-1, QUARTERS)
    kept = free.sum(axis=1) > 0.0
    names = sorted({o.part for o in optics if o.part is not None})
    number = {name: k for k, name in enumerate(names)}
    quad = np.ascontiguousarray(corners[kept])
    sides = np.linalg.norm(quad[:, [1, 3]] - quad[:, [0]], axis=2)
    chosen = [o for o, keep in zip(optics, kept, strict=True) if keep]
    cuts = [c for s in sheets for c in (s.us, s.vs)]
    starts = np.cumsum([0, *(len(c) for c in cuts)])[:-1].reshape(-1, 2)
    packed = Sheets(
        frames=np.array([[s.origin, s.along, s.across] for s in sheets]),
        cuts=np.concatenate(cuts),
        starts=starts.astype(np.int64),
        counts=counts,
        patches=np.where(kept, np.cumsum(kept) - 1, -1).astype(np.int64),
        firsts=np.cumsum([0, *(counts[:, 0] * counts[:, 1])])[:-1].astype(np.int64),
        of_plane=of_plane,
        box=bounds,
        panes=np.array([o.pane for o in chosen]),
    )
    return Surfaces(
        quads=quad,
        normal=np.ascontiguousarray(normals[kept]),
        area_m2=sides[:, 0] * sides[:, 1],
        quarters=np.ascontiguousarray(middles(2)[kept]),
        free=free[kept],
        reflectance=np.array([o.reflectance for o in chosen]),
        mirrored=np.array([mirrored_all_around(o.pane[0], o.pane[1:]) for o in chosen]),
        parts=np.array([-1 if o.part is None else number[o.part] for o in chosen], dtype=np.int64),
        part_names=tuple(names),
        panes=panes,
        sheets=packed,
    )
