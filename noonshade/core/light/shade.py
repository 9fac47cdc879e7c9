"""Furnishings as convex solids that cast shade, and foliage that thins the light."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import Occluders
from noonshade.core.plan import Background, Branch, Enclosure, Face, Furnishing, Hide, Leaves, Plan, Slab
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Extent = tuple[float, float, float, float, float, float]

BRANCH_SIDES = 8
MOST_SLICES = 8
FAR_M = 10.0
LID_M = 1e-3
LEAST_POROSITY = 1e-6
# How far a rod reaches beyond the sides of its prism, as a share of its radius: 1 − (π/n)/tan(π/n) for n =
# 8.
_BULGE = 0.06


@dataclass(frozen=True, slots=True)
class Solid:
    """A convex body.

    ``planes`` (f, 4) are its faces n·x ≤ c, ``corners`` (k, 3) its corners, ``edges`` (e, 4) for each edge
    two corners and two faces, the first of which has them counter-clockwise seen from outside. ``rod`` (8,)
    is where the axis of a round rod begins, its direction, length and radius: then the faces are those of a
    prism that stands for it where its outline does not matter.
    """

    planes: Floats
    corners: Floats
    edges: Ints
    rod: Floats | None = None

    @property
    def bounds(self) -> Extent:
        """Least and greatest coordinates."""
        if self.rod is not None:
            start, way, length, radius = self.rod[:3], self.rod[3:6], self.rod[6], self.rod[7]
            reach = radius * np.sqrt(np.maximum(0.0, 1.0 - way**2))
            low = np.minimum(start, start + length * way) - reach
            high = np.maximum(start, start + length * way) + reach
            return (
                float(low[0]),
                float(low[1]),
                float(low[2]),
                float(high[0]),
                float(high[1]),
                float(high[2]),
            )
        x0, y0, z0 = self.corners.min(axis=0).tolist()
        x1, y1, z1 = self.corners.max(axis=0).tolist()
        return (x0, y0, z0, x1, y1, z1)

    @property
    def width(self) -> float:
        """How thick it is across the pair of faces that are nearest, m."""
        across = self.corners @ self.planes[:, :3].T
        return float(np.ptp(across, axis=0).min())

    def mirrored(self, axis: int, at_m: float) -> Solid:
        """What a mirror shows of it.

        Parameters
        ----------
        axis : int
            Axis at right angles to the mirror, 0 to 2.
        at_m : float
            Where the mirror lies along it, m.

        Returns
        -------
        Solid
            The image of the body.
        """
        planes, corners = self.planes.copy(), self.corners.copy()
        planes[:, 3] -= 2.0 * at_m * planes[:, axis]
        planes[:, axis] *= -1.0
        corners[:, axis] = 2.0 * at_m - corners[:, axis]
        rod = None if self.rod is None else self.rod.copy()
        if rod is not None:
            rod[axis] = 2.0 * at_m - rod[axis]
            rod[3 + axis] *= -1.0
        return Solid(planes, corners, np.ascontiguousarray(self.edges[:, [0, 1, 3, 2]]), rod)

    def slices(self, count: int) -> list[Extent]:
        """Bounds of equal pieces of it, cut across its longest extent.

        Parameters
        ----------
        count : int
            How many.

        Returns
        -------
        list[Extent]
            Bounds (x0, y0, z0, x1, y1, z1) of each piece, m.
        """
        along = int(np.argmax(np.ptp(self.corners, axis=0)))
        start, end = self.corners[self.edges[:, 0]], self.corners[self.edges[:, 1]]
        cuts = np.linspace(self.corners[:, along].min(), self.corners[:, along].max(), count + 1)
        run = end[:, along] - start[:, along]
        found = []
        for low, high in pairwise(cuts):
            with np.errstate(divide="ignore", invalid="ignore"):
                t = np.stack([(low - start[:, along]) / run, (high - start[:, along]) / run])
            # An edge at right angles lies in the piece as a whole or not at all.
            level = (start[:, along] >= low) & (start[:, along] <= high)
            t = np.where(run == 0.0, np.where(level, [[0.0], [1.0]], 2.0), t)
            enter, leave = np.clip(t.min(axis=0), 0.0, 1.0), np.clip(t.max(axis=0), 0.0, 1.0)
            inside = (t.max(axis=0) >= 0.0) & (t.min(axis=0) <= 1.0)
            ends = np.concatenate([start + s[:, None] * (end - start) for s in (enter, leave)])
            ends = ends[np.tile(inside, 2)]
            # A rod bulges beyond the sides of its prism.
            bulge = 0.0 if self.rod is None else _BULGE * float(self.rod[7])
            found.append((*(ends.min(axis=0) - bulge).tolist(), *(ends.max(axis=0) + bulge).tolist()))
        return found


@dataclass(frozen=True, slots=True)
class Group:
    """Solids that stand together; with ``hull`` the first stands for all seen from outside.

    ``wall`` marks closed parts of the enclosure's faces.
    """

    solids: tuple[Solid, ...]
    hull: bool = False
    wall: bool = False

    @property
    def width(self) -> float:
        """How thick its thinnest solid is, m; 0 for boxes along the axes, whose bounds tell."""
        odd = [s.width for s in self.solids if len(s.planes) != len(_BOX_NORMALS)]
        return min(odd, default=0.0)

    @property
    def slices(self) -> list[Extent]:
        """Closer bounds than its own, if it is one body that lies askew; else none."""
        if len(self.solids) > 1 or len(self.solids[0].planes) == len(_BOX_NORMALS):
            return []
        x0, y0, z0, x1, y1, z1 = self.solids[0].bounds
        extents = sorted((x1 - x0, y1 - y0, z1 - z0))
        width = self.solids[0].width
        # Along an axis, bounds are close already.
        if extents[1] < 2 * width:
            return []
        return self.solids[0].slices(min(MOST_SLICES, math.ceil(extents[1] / width)))


@dataclass(frozen=True, slots=True, eq=False)
class Obstacles:
    """Everything in the way of light; ``occluders`` is the same, packed for the kernel."""

    groups: tuple[Group, ...]
    foliage: tuple[Foliage, ...]
    occluders: Occluders

    @classmethod
    def of(cls, groups: tuple[Group, ...], foliage: tuple[Foliage, ...] = ()) -> Obstacles:
        """Pack groups of solids and foliage.

        Parameters
        ----------
        groups : tuple[Group, ...]
            Bounds of groups of solids, shape (g, 6), m.
        foliage : tuple[Foliage, ...]
            Boxes of leaves.

        Returns
        -------
        Obstacles
            The packed arrays.
        """
        return cls(groups, foliage, _packed(groups, foliage))

    def with_solids(self, solids: list[Solid]) -> Obstacles:
        """These and one more group of solids.

        Parameters
        ----------
        solids : list[Solid]
            Convex solids.

        Returns
        -------
        Obstacles
            The packed arrays with that group last.
        """
        return (
            self
            if not solids
            else Obstacles.of((*self.groups, Group(tuple(solids), wall=True)), self.foliage)
        )

    def with_image(self, axis: int, at_m: float, around: list[Solid]) -> Obstacles:
        """These, what a mirror shows of what is inside, and what is around the mirror.

        Parameters
        ----------
        axis : int
            Axis at right angles to the mirror, 0 to 2.
        at_m : float
            Where the mirror lies along it, m.
        around : list[Solid]
            What stops light beside the mirror.

        Returns
        -------
        Obstacles
            The packed arrays.
        """
        images = tuple(
            Group(tuple(s.mirrored(axis, at_m) for s in group.solids), group.hull)
            for group in self.groups
            if not group.wall
        )
        leaves = tuple(Foliage(f.box.mirrored(axis, at_m), f.per_m) for f in self.foliage)
        groups = (*self.groups, *images, Group(tuple(around), wall=True))
        return Obstacles.of(groups, (*self.foliage, *leaves))

    def contains(self, points: Floats) -> NDArray[np.bool_]:
        """Whether points (n, 3) lie inside any solid; the hollow of a hide is outside.

        Parameters
        ----------
        points : Floats
            Points, shape (n, 3), m.

        Returns
        -------
        NDArray[np.bool_]
            Whether points (n, 3) lie inside any solid.
        """
        inside = np.zeros(len(points), dtype=bool)
        for group in self.groups:
            for solid in group.solids[1 if group.hull else 0 :]:
                inside |= np.all(points @ solid.planes[:, :3].T <= solid.planes[:, 3] - 1e-9, axis=1)
        return inside


@dataclass(frozen=True, slots=True)
class Foliage:
    """A box of leaves, or of fog, and its attenuation per metre."""

    box: Solid
    per_m: float


def _packed(groups: tuple[Group, ...], foliage: tuple[Foliage, ...]) -> Occluders:
    solids = [s for group in groups for s in group.solids] + [f.box for f in foliage]
    planes = np.cumsum([0, *(len(s.planes) for s in solids)])
    corners = np.cumsum([0, *(len(s.corners) for s in solids)])
    edges = np.cumsum([0, *(len(s.edges) for s in solids)])
    shift = [np.array([c, c, p, p]) for c, p in zip(corners, planes, strict=True)]
    ends = np.cumsum([0, *(len(g.solids) for g in groups)])
    bounds = np.array([s.bounds for s in solids], dtype=np.float64).reshape(-1, 6)
    spans = [
        np.concatenate([bounds[a:b, :3].min(axis=0), bounds[a:b, 3:].max(axis=0)])
        for a, b in pairwise(ends)
    ]
    slices = [g.slices for g in groups]
    return Occluders(
        planes=np.concatenate([s.planes for s in solids]) if solids else np.zeros((0, 4)),
        plane_starts=planes.astype(np.int64),
        corners=np.concatenate([s.corners for s in solids]) if solids else np.zeros((0, 3)),
        edges=np.concatenate([s.edges + by for s, by in zip(solids, shift, strict=False)])
        if solids
        else np.zeros((0, 4), dtype=np.int64),
        edge_starts=edges.astype(np.int64),
        bounds=bounds,
        groups=np.array(spans, dtype=np.float64).reshape(-1, 6),
        runs=np.column_stack([ends[:-1], ends[1:]]).astype(np.int64),
        hulls=np.array([g.hull for g in groups], dtype=np.int64),
        leaves=np.array([[*f.box.bounds, f.per_m] for f in foliage]).reshape(-1, 7),
        leaf_solids=ends[-1] + np.arange(len(foliage), dtype=np.int64),
        widths=np.array([g.width for g in groups], dtype=np.float64),
        slices=np.array([e for one in slices for e in one], dtype=np.float64).reshape(-1, 6),
        slice_starts=np.cumsum([0, *(len(one) for one in slices)], dtype=np.int64),
        rounds=np.array(
            [np.zeros(8) if s.rod is None else s.rod for s in solids], dtype=np.float64
        ).reshape(-1, 8),
    )


NOTHING = Obstacles.of(())
_OBSTACLES = Remembered[Obstacles](24)


def obstacles(plan: Plan) -> Obstacles:
    """Everything in the box that stops or thins light.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    Obstacles
        Solids and foliage, packed for the kernel.
    """
    enclosure = plan.enclosure
    size = (enclosure.length_m, enclosure.depth_m, enclosure.height_m)
    values = (size, plan.substrate.depth_m, plan.fog_per_m)
    return _OBSTACLES.get((plan.furnishings,), values, lambda: _obstacles(plan))


def _obstacles(plan: Plan) -> Obstacles:
    ground = plan.substrate.depth_m
    groups: list[Group] = []
    for item in plan.furnishings:
        parts = solids_of(item, plan.enclosure, ground)
        if isinstance(item, Hide):
            # A hollow body with one opening stops every ray that crosses it from outside.
            parts.insert(0, upright(_hull([part.bounds for part in parts])))
        if parts:
            groups.append(Group(tuple(parts), isinstance(item, Hide)))
    foliage = [_foliage(item, ground) for item in plan.furnishings if isinstance(item, Leaves)]
    if plan.fog_per_m > 0:
        box = plan.enclosure
        inside = upright((0.0, 0.0, ground, box.length_m, box.depth_m, box.height_m))
        foliage.append(Foliage(inside, plan.fog_per_m))
    return Obstacles.of(tuple(groups), tuple(foliage))


def _hull(extents: list[Extent]) -> Extent:
    table = np.array(extents)
    x0, y0, z0 = table[:, :3].min(axis=0)
    x1, y1, z1 = table[:, 3:].max(axis=0)
    return (float(x0), float(y0), float(z0), float(x1), float(y1), float(z1))


def solids_of(item: Furnishing, box: Enclosure, ground: float) -> list[Solid]:
    """The convex solids of one furnishing; foliage has none.

    Parameters
    ----------
    item : Furnishing
        The item.
    box : Enclosure
        The enclosure.
    ground : float
        Height of the substrate surface, m.

    Returns
    -------
    list[Solid]
        The convex solids of one furnishing.
    """
    if isinstance(item, Slab):
        return [upright(e) for e in _slab(item, ground)]
    if isinstance(item, Hide):
        return [upright(e) for e in _hide(item, ground)]
    if isinstance(item, Branch):
        return [_prism(item)]
    if isinstance(item, Background):
        return [upright(_background(item, box))]
    return []


# Corners of a box by number: 1 for the far x, 2 for the far y, 4 for the far z; its faces in the order top,
# bottom, right, left, back, front, each with its corners counter-clockwise seen from outside.
_BOX_FACES = ((4, 5, 7, 6), (0, 2, 3, 1), (1, 3, 7, 5), (0, 4, 6, 2), (2, 6, 7, 3), (0, 1, 5, 4))
_BOX_NORMALS = np.array(
    [[0, 0, 1], [0, 0, -1], [1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0]], dtype=np.float64
)


def _edges_of(faces: tuple[tuple[int, ...], ...]) -> Ints:
    """Edges of a body from the corners of its faces, counter-clockwise seen from outside."""
    owner = {
        (a, b): number
        for number, face in enumerate(faces)
        for a, b in zip(face, (*face[1:], face[0]), strict=True)
    }
    return np.array([(a, b, face, owner[b, a]) for (a, b), face in owner.items() if a < b], dtype=np.int64)


_BOX_EDGES = _edges_of(_BOX_FACES)


def upright(extent: Extent) -> Solid:
    """A box with its sides along the axes: x0, y0, z0, x1, y1, z1 in metres.

    Parameters
    ----------
    extent : Extent
        Bounds of the thing, m.

    Returns
    -------
    Solid
        A box with its sides along the axes.
    """
    x0, y0, z0, x1, y1, z1 = extent
    corners = np.array([[(x0, x1)[i & 1], (y0, y1)[i >> 1 & 1], (z0, z1)[i >> 2]] for i in range(8)])
    planes = np.column_stack([_BOX_NORMALS, [z1, -z0, x1, -x0, y1, -y0]])
    return Solid(planes, corners, _BOX_EDGES)


def face_blocks(box: Enclosure, face: Face, part: int) -> list[Solid]:
    """What keeps light from outside a face out of all but one part of it (0 the base, then the insets).

    Light that would pass beside the box counts as stopped by its walls.

    Parameters
    ----------
    box : Enclosure
        The enclosure.
    face : Face
        The lid or a side.
    part : int
        Index of the part of that face.

    Returns
    -------
    list[Solid]
        Solids that cover the rest of the face.
    """
    outwards = {
        "top": (2, box.height_m, box.height_m + LID_M),
        "left": (0, -LID_M, 0.0),
        "right": (0, box.length_m, box.length_m + LID_M),
        "front": (1, -LID_M, 0.0),
        "back": (1, box.depth_m, box.depth_m + LID_M),
    }
    axis, near, far = outwards[face]
    if part > 0:
        inset = box.insets_of(face)[part - 1]
        return blocks_around(axis, near, far, (inset.x0_m, inset.y0_m, inset.x1_m, inset.y1_m))
    windows = [_upright_sheet(axis, near, far, i.x0_m, i.y0_m, i.x1_m, i.y1_m) for i in box.insets_of(face)]
    return blocks_around(axis, near, far, (0.0, 0.0, *box.size_of(face))) + windows


def blocks_around(
    axis: int, near: float, far: float, window: tuple[float, float, float, float]
) -> list[Solid]:
    """Thin solids that stop all light through a plane but in one window.

    Parameters
    ----------
    axis : int
        Axis at right angles to the plane, 0 to 2.
    near, far : float
        Between which heights along it they lie, m.
    window : tuple[float, float, float, float]
        The window, from a0, b0 to a1, b1 along the other two axes, m.

    Returns
    -------
    list[Solid]
        The solids.
    """
    a0, b0, a1, b1 = window
    return [
        _upright_sheet(axis, near, far, -FAR_M, -FAR_M, a0, FAR_M),
        _upright_sheet(axis, near, far, a1, -FAR_M, FAR_M, FAR_M),
        _upright_sheet(axis, near, far, a0, -FAR_M, a1, b0),
        _upright_sheet(axis, near, far, a0, b1, a1, FAR_M),
    ]


def _upright_sheet(axis: int, near: float, far: float, a0: float, b0: float, a1: float, b1: float) -> Solid:
    low, high = [a0, b0], [a1, b1]
    low.insert(axis, near)
    high.insert(axis, far)
    return upright((low[0], low[1], low[2], high[0], high[1], high[2]))


def _slab(slab: Slab, ground: float) -> list[Extent]:
    bottom = ground + slab.underside_m
    rows = [_centred(slab.x_m, slab.y_m, slab.length_m, slab.width_m, bottom, slab.thickness_m)]
    if slab.stack is not None and slab.underside_m > 0:
        rows.append(
            _centred(
                slab.x_m,
                slab.y_m,
                slab.stack.length_m,
                slab.stack.width_m,
                ground,
                slab.underside_m,
            )
        )
    return rows


def _centred(x: float, y: float, length: float, width: float, bottom: float, height: float) -> Extent:
    return (x - length / 2, y - width / 2, bottom, x + length / 2, y + width / 2, bottom + height)


def _hide(hide: Hide, ground: float) -> list[Extent]:
    x0, x1 = hide.x_m - hide.length_m / 2, hide.x_m + hide.length_m / 2
    y0, y1 = hide.y_m - hide.width_m / 2, hide.y_m + hide.width_m / 2
    t, top = hide.wall_m, ground + hide.height_m
    eaves = top - t
    rows: list[Extent] = [(x0, y0, eaves, x1, y1, top)]
    sides: dict[str, Extent] = {
        "left": (x0, y0, ground, x0 + t, y1, eaves),
        "right": (x1 - t, y0, ground, x1, y1, eaves),
        "front": (x0, y0, ground, x1, y0 + t, eaves),
        "back": (x0, y1 - t, ground, x1, y1, eaves),
    }
    for side, wall in sides.items():
        rows += [wall] if side != hide.opening else _with_doorway(wall, hide, ground)
    return rows


def _with_doorway(wall: Extent, hide: Hide, ground: float) -> list[Extent]:
    """The opening's wall as jambs on both sides and a lintel above."""
    x0, y0, z0, x1, y1, z1 = wall
    half = hide.opening_width_m / 2
    lintel = min(ground + hide.opening_height_m, z1)
    if hide.opening in ("left", "right"):
        a, b = hide.y_m - half, hide.y_m + half
        parts = [(x0, y0, z0, x1, a, z1), (x0, b, z0, x1, y1, z1), (x0, a, lintel, x1, b, z1)]
    else:
        a, b = hide.x_m - half, hide.x_m + half
        parts = [(x0, y0, z0, a, y1, z1), (b, y0, z0, x1, y1, z1), (a, y0, lintel, b, y1, z1)]
    return [p for p in parts if p[3] > p[0] and p[4] > p[1] and p[5] > p[2]]


def _prism(branch: Branch) -> Solid:
    """A round rod, and a prism of eight sides with the same mean width."""
    start, end = np.array(branch.start_m), np.array(branch.end_m)
    way = end - start
    axis = way / np.linalg.norm(way)
    aside = np.cross(axis, [0.0, 0.0, 1.0] if abs(axis[2]) < 0.9 else [1.0, 0.0, 0.0])
    aside /= np.linalg.norm(aside)
    other = np.cross(axis, aside)
    angles = 2 * math.pi * np.arange(BRANCH_SIDES) / BRANCH_SIDES
    normals = np.cos(angles)[:, None] * aside + np.sin(angles)[:, None] * other
    # Equal perimeter, hence equal mean width (Cauchy): 2 n a tan(π/n) = 2 π r.
    step = math.pi / BRANCH_SIDES
    inner = branch.diameter_m / 2 * step / math.tan(step)
    planes = np.column_stack([normals, normals @ start + inner])
    caps = np.array([[*axis, axis @ end], [*(-axis), -axis @ start]])
    outer = inner / math.cos(step)
    rim = outer * (np.cos(angles + step)[:, None] * aside + np.sin(angles + step)[:, None] * other)
    # Side k lies between the corners at its own angle plus and minus half a step; seen from outside, going
    # round the axis is to the right when the axis points up.
    n = BRANCH_SIDES
    sides = tuple(((k - 1) % n, k, n + k, n + (k - 1) % n) for k in range(n))
    ends = (tuple(n + k for k in range(n)), tuple(reversed(range(n))))
    return Solid(
        np.concatenate([planes, caps]),
        np.concatenate([rim + start, rim + end]),
        _edges_of((*sides, *ends)),
        np.array([*start, *axis, np.linalg.norm(way), branch.diameter_m / 2]),
    )


def _background(item: Background, box: Enclosure) -> Extent:
    t, length, depth, height = item.thickness_m, box.length_m, box.depth_m, box.height_m
    extents: dict[str, Extent] = {
        "left": (0.0, 0.0, 0.0, t, depth, height),
        "right": (length - t, 0.0, 0.0, length, depth, height),
        "front": (0.0, 0.0, 0.0, length, t, height),
        "back": (0.0, depth - t, 0.0, length, depth, height),
    }
    return extents[item.side]


def _foliage(item: Leaves, ground: float) -> Foliage:
    """Straight down through it, ``porosity`` is left."""
    bounds = _centred(
        item.x_m, item.y_m, item.length_m, item.width_m, ground + item.underside_m, item.height_m
    )
    return Foliage(upright(bounds), -math.log(max(item.porosity, LEAST_POROSITY)) / item.height_m)
