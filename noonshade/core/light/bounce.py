"""One diffuse bounce of light from the floor and the walls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.plan import Background, Enclosure, Face, Plan, Point, Side, SolidMaterial
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]

# Patches per side of the enclosure that scatter light back. Few are enough for a few per cent of the
# light.
PATCH_M = 0.2
MOST_PATCHES = 6
_JUST_OFF_M = 1e-4
_QUARTER = (-0.25, 0.25)


@dataclass(frozen=True, slots=True)
class BouncePatches:
    """Diffuse patches: centres and normals (p, 3), areas (p,), reflectance of UV and of the rest (p,).

    ``quarters`` (p, 4, 3) are the middles of each patch's quarters, at which the light on it is taken, so
    that a lamp close to one point of it does not count for all of it.
    """

    centre: Floats
    quarters: Floats
    normal: Floats
    area_m2: Floats
    uvb_reflectance: Floats
    reflectance: Floats


_PATCHES = Remembered[BouncePatches]()


def bounce_patches(plan: Plan) -> BouncePatches:
    """The floor, the lid and the side walls as patches; open faces and mesh send nothing back."""
    return _PATCHES.get((plan.enclosure, plan.substrate, plan.furnishings), None, lambda: _patches(plan))


def _patches(plan: Plan) -> BouncePatches:
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    length, depth, height = enclosure.length_m, enclosure.depth_m, enclosure.height_m
    lining = {f.side: f for f in plan.furnishings if isinstance(f, Background)}
    rows: list[Floats] = []
    quarters: list[Floats] = []

    def face(
        origin: Point,
        along: Point,
        up: Point,
        normal: Point,
        material: SolidMaterial,
        share: float = 1.0,
    ) -> None:
        a, b = np.array(along), np.array(up)
        sides = float(np.linalg.norm(a)), float(np.linalg.norm(b))
        n, m = (int(np.clip(round(side / PATCH_M), 2, MOST_PATCHES)) for side in sides)
        s, t = ((np.arange(k) + 0.5) / k for k in (n, m))
        grid = np.array(origin) + s[:, None, None] * a + t[None, :, None] * b
        centre = grid.reshape(-1, 3) + _JUST_OFF_M * np.array(normal)
        quarters.append(
            centre[:, None, :] + np.array([u * a / n + v * b / m for u in _QUARTER for v in _QUARTER])
        )
        count = n * m
        optics = [
            sides[0] * sides[1] / count,
            material.uvb_reflectance * share,
            material.reflectance * share,
        ]
        rows.append(np.column_stack([centre, np.tile(normal, (count, 1)), np.tile(optics, (count, 1))]))

    face((0, 0, ground), (length, 0, 0), (0, depth, 0), (0, 0, 1), plan.substrate.material)
    tall = height - ground
    for material, share in _closed(enclosure, "top"):
        face((0, 0, height), (length, 0, 0), (0, depth, 0), (0, 0, -1), material, share)
    lined_up: dict[Side, tuple[Point, Point, Point, Point]] = {
        "left": ((0, 0, ground), (0, depth, 0), (0, 0, tall), (1, 0, 0)),
        "right": ((length, 0, ground), (0, depth, 0), (0, 0, tall), (-1, 0, 0)),
        "front": ((0, 0, ground), (length, 0, 0), (0, 0, tall), (0, 1, 0)),
        "back": ((0, depth, ground), (length, 0, 0), (0, 0, tall), (0, -1, 0)),
    }
    for name, ((x, y, z), along, up, normal) in lined_up.items():
        lined = lining.get(name)
        sheets = [(lined.material, 1.0)] if lined is not None else _closed(enclosure, name)
        for material, share in sheets:
            inwards = lined.thickness_m if lined is not None else 0.0
            start = (x + inwards * normal[0], y + inwards * normal[1], z)
            face(start, along, up, normal, material, share)
    table = np.concatenate(rows)
    return BouncePatches(
        table[:, 0:3], np.concatenate(quarters), table[:, 3:6], table[:, 6], table[:, 7], table[:, 8]
    )


def _closed(enclosure: Enclosure, face: Face) -> list[tuple[SolidMaterial, float]]:
    """Materials of the closed parts of a face with the share each has of it."""
    return [
        (w.material, share) for w, share in enclosure.parts(face) if w.material is not None and share > 0
    ]
