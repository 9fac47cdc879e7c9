"""One diffuse bounce of light from the floor and the walls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.plan import Background, Plan, Point, Side, SolidMaterial

Floats = NDArray[np.float64]

# Patches per side of the box that scatter light back. Few are enough for a few per cent of the light.
PATCH_M = 0.2
MOST_PATCHES = 6
_JUST_OFF_M = 1e-4


@dataclass(frozen=True, slots=True)
class Patches:
    """Diffuse patches: centres and normals (p, 3), areas (p,), reflectance of UV and of the rest (p,)."""

    centre: Floats
    normal: Floats
    area_m2: Floats
    uvb_reflectance: Floats
    reflectance: Floats


def patches_of(plan: Plan) -> Patches:
    """The floor, the lid and the side walls as patches; open faces and mesh send nothing back."""
    box, ground = plan.box, plan.substrate.depth_m
    length, depth, height = box.length_m, box.depth_m, box.height_m
    lining = {f.side: f for f in plan.furnishings if isinstance(f, Background)}
    rows: list[Floats] = []

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
        count = n * m
        optics = [
            sides[0] * sides[1] / count,
            material.uvb_reflectance * share,
            material.reflectance * share,
        ]
        rows.append(np.column_stack([centre, np.tile(normal, (count, 1)), np.tile(optics, (count, 1))]))

    face((0, 0, ground), (length, 0, 0), (0, depth, 0), (0, 0, 1), plan.substrate.material)
    tall = height - ground
    lid = box.lid_sheet
    if lid is not None and lid.material is not None:
        closed = sum(share for wall, share in box.lid if wall.material is not None)
        face((0, 0, height), (length, 0, 0), (0, depth, 0), (0, 0, -1), lid.material, closed)
    lined_up: dict[Side, tuple[Point, Point, Point, Point]] = {
        "left": ((0, 0, ground), (0, depth, 0), (0, 0, tall), (1, 0, 0)),
        "right": ((length, 0, ground), (0, depth, 0), (0, 0, tall), (-1, 0, 0)),
        "front": ((0, 0, ground), (length, 0, 0), (0, 0, tall), (0, 1, 0)),
        "back": ((0, depth, ground), (length, 0, 0), (0, 0, tall), (0, -1, 0)),
    }
    for name, ((x, y, z), along, up, normal) in lined_up.items():
        lined = lining.get(name)
        material = lined.material if lined is not None else box.walls[name].material
        if material is not None:
            inwards = lined.thickness_m if lined is not None else 0.0
            start = (x + inwards * normal[0], y + inwards * normal[1], z)
            face(start, along, up, normal, material)
    table = np.concatenate(rows)
    return Patches(table[:, 0:3], table[:, 3:6], table[:, 6], table[:, 7], table[:, 8])
