"""Makes the tables of this folder: light at points of simple scenes, by path tracing with Mitsuba 3.

Run by hand where the tables are to be made anew, never by the tests: ``python mitsuba_tables.py [NAME …]``
with ``mitsuba`` and ``numpy`` installed. Every ``NAME.scene.json`` gives a ``NAME.table.json``.

All sources are Lambertian: a panel, a disc, or a narrow strip, each of 1 W, that stand in nobody's way. For
each point the table has the level irradiance and that of a meter turned to the brightest light, W/m²:
straight from the sources, by quadrature over them with rays for what is in the way, and with all bounces,
by paths in random directions.
"""

from __future__ import annotations

import json
import math
import sys
from pathlib import Path
from typing import Any

import mitsuba as mi
import numpy as np

HERE = Path(__file__).parent
SAMPLES = 1 << 19
BATCH = 1 << 22
MOST_BOUNCES = 200
PIECES = 48
TURNS = 6


def diffuse(share: float) -> dict[str, Any]:
    return {"type": "diffuse", "reflectance": {"type": "rgb", "value": [share] * 3}}


def rectangle(origin: list[float], along: list[float], across: list[float]) -> Any:
    """Transform of Mitsuba's square (−1 to 1) to a rectangle."""
    a, b = np.array(along) / 2, np.array(across) / 2
    n = np.cross(a, b)
    m = np.eye(4)
    m[:3, 0], m[:3, 1], m[:3, 2] = a, b, n / np.linalg.norm(n)
    m[:3, 3] = np.array(origin) + a + b
    return mi.ScalarTransform4f(m)


def box(low: list[float], high: list[float], share: float) -> dict[str, Any]:
    middle, half = (np.array(low) + high) / 2, (np.array(high) - low) / 2
    to_world = mi.ScalarTransform4f().translate(middle.tolist()).scale(half.tolist())
    return {"type": "cube", "to_world": to_world, "bsdf": diffuse(share)}


def faces(scene: dict[str, Any]) -> dict[str, Any]:
    length, depth, height = scene["size_m"]
    ground = scene["ground_m"]
    tall = height - ground
    lies = {
        "ground": ([0, 0, ground], [length, 0, 0], [0, depth, 0]),
        "top": ([0, 0, height], [0, depth, 0], [length, 0, 0]),
        "left": ([0, 0, ground], [0, depth, 0], [0, 0, tall]),
        "right": ([length, 0, ground], [0, 0, tall], [0, depth, 0]),
        "front": ([0, 0, ground], [0, 0, tall], [length, 0, 0]),
        "back": ([0, depth, ground], [length, 0, 0], [0, 0, tall]),
    }
    made: dict[str, Any] = {}
    for name, what in scene["faces"].items():
        if what == "open":
            continue
        shape = {"type": "rectangle", "to_world": rectangle(*lies[name])}
        if what == "pane":
            bsdf: dict[str, Any] = {"type": "thindielectric", "int_ior": 1.5, "ext_ior": 1.0}
        elif what == "one-face pane":
            # A body of glass that lets nothing back out: light goes in, and meets black.
            bsdf = {"type": "dielectric", "int_ior": 1.5, "ext_ior": 1.0}
            origin, along, across = (np.array(v, dtype=float) for v in lies[name])
            normal = np.cross(along, across)
            normal /= np.linalg.norm(normal)
            behind = rectangle((origin - 1e-3 * normal).tolist(), along.tolist(), across.tolist())
            made[f"behind {name}"] = {"type": "rectangle", "to_world": behind, "bsdf": diffuse(0.0)}
        else:
            bsdf = {"type": "twosided", "bsdf": diffuse(what)}
        made[f"face {name}"] = {**shape, "bsdf": bsdf}
    return made


def hide_boxes(t: dict[str, Any], ground: float) -> list[tuple[list[float], list[float]]]:
    """A box without a floor, with a doorway in its right or left side."""
    x0, x1 = t["x_m"] - t["length_m"] / 2, t["x_m"] + t["length_m"] / 2
    y0, y1 = t["y_m"] - t["width_m"] / 2, t["y_m"] + t["width_m"] / 2
    w, top = t["wall_m"], ground + t["height_m"]
    eaves = top - w
    door = x1 - w if t["opening"] == "right" else x0
    blind = x0 if t["opening"] == "right" else x1 - w
    a, b = t["y_m"] - t["opening_width_m"] / 2, t["y_m"] + t["opening_width_m"] / 2
    lintel = ground + t["opening_height_m"]
    return [
        ([x0, y0, eaves], [x1, y1, top]),
        ([x0, y0, ground], [x1, y0 + w, eaves]),
        ([x0, y1 - w, ground], [x1, y1, eaves]),
        ([blind, y0, ground], [blind + w, y1, eaves]),
        ([door, y0, ground], [door + w, a, eaves]),
        ([door, b, ground], [door + w, y1, eaves]),
        ([door, a, lintel], [door + w, b, eaves]),
    ]


def things(scene: dict[str, Any]) -> dict[str, Any]:
    made: dict[str, Any] = {}
    ground = scene["ground_m"]
    for number, t in enumerate(scene.get("things", [])):
        share, name = t["reflectance"], f"thing {number}"
        if t["kind"] == "slab":
            x, y, z = t["x_m"], t["y_m"], ground + t["underside_m"]
            a, b = t["length_m"] / 2, t["width_m"] / 2
            made[name] = box([x - a, y - b, z], [x + a, y + b, z + t["thickness_m"]], share)
        elif t["kind"] == "hide":
            for k, (low, high) in enumerate(hide_boxes(t, ground)):
                made[f"{name} {k}"] = box(low, high, share)
        else:
            start, end = np.array(t["start_m"]), np.array(t["end_m"])
            made[name] = {
                "type": "cylinder",
                "p0": start.tolist(),
                "p1": end.tolist(),
                "radius": t["diameter_m"] / 2,
                "bsdf": {"type": "twosided", "bsdf": diffuse(share)},
            }
    return made


def sources(scene: dict[str, Any]) -> tuple[dict[str, Any], list[tuple[np.ndarray, np.ndarray]]]:
    """Shapes, and for each the middles (k, 3) of its pieces with their areas (k,); all look down."""
    made: dict[str, Any] = {}
    pieces = []
    for number, s in enumerate(scene["sources"]):
        x, y, z = s["at_m"]
        grid = (np.arange(PIECES) + 0.5) / PIECES
        if s["shape"] == "disc":
            radius = s["diameter_m"] / 2
            area = math.pi * radius**2
            m = np.eye(4)
            m[:3, :3] = np.diag([radius, -radius, -1.0])
            m[:3, 3] = s["at_m"]
            shape = {"type": "disk", "to_world": mi.ScalarTransform4f(m)}
            r, angle = np.meshgrid(radius * np.sqrt(grid), 2 * math.pi * grid)
            u, v = (r * np.cos(angle)).ravel(), (r * np.sin(angle)).ravel()
        else:
            long, wide = s["size_m"]
            area = long * wide
            shape = {
                "type": "rectangle",
                "to_world": rectangle([x - long / 2, y - wide / 2, z], [0, wide, 0], [long, 0, 0]),
            }
            u, v = (m.ravel() for m in np.meshgrid((grid - 0.5) * long, (grid - 0.5) * wide))
        light = {"type": "area", "radiance": {"type": "rgb", "value": [1.0 / (math.pi * area)] * 3}}
        made[f"source {number}"] = {**shape, "emitter": light, "bsdf": {"type": "null"}}
        at = np.stack([x + u, y + v, np.full(u.shape, z)], axis=1)
        pieces.append((at, np.full(len(at), area / len(at))))
    return made, pieces


def straight(solid: Any, point: np.ndarray, pieces: list[tuple[np.ndarray, np.ndarray]]) -> np.ndarray:
    """Directions to pieces of all sources and what a meter facing each reads: (k, 4)."""
    rows = []
    for at, area in pieces:
        way = at - point
        d2 = (way**2).sum(axis=1)
        far = np.sqrt(d2)
        way = way / far[:, None]
        light = np.maximum(way[:, 2], 0.0) * area / (math.pi * area.sum()) / d2
        ray = mi.Ray3f(
            mi.Point3f(*(np.full(len(at), c) for c in point)),
            mi.Vector3f(way[:, 0], way[:, 1], way[:, 2]),
        )
        ray.maxt = mi.Float(far * (1 - 1e-6))
        clear = ~np.array(solid.ray_test(ray))
        rows.append(np.column_stack([way, light * clear]))
    return np.concatenate(rows)


def all_around(scene: Any, integrator: Any, point: np.ndarray, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """Random directions (k, 3) and the radiance from there, sources seen straight left out."""
    sampler = mi.load_dict({"type": "independent"})
    sampler.seed(seed, SAMPLES)
    way = mi.warp.square_to_uniform_sphere(sampler.next_2d())
    ray = mi.RayDifferential3f(mi.Ray3f(mi.Point3f(point.tolist()), way))
    light, _, _ = integrator.sample(scene, sampler, ray)
    return np.array(way).T, np.array(light)[0]


def meter(direction: np.ndarray, ways: np.ndarray, light: np.ndarray) -> float:
    return float((np.maximum(ways @ direction, 0.0) * light).sum())


def table(scene: dict[str, Any]) -> dict[str, Any]:
    shining, pieces = sources(scene)
    solids = {**faces(scene), **things(scene)}
    opaque = {k: v for k, v in solids.items() if k.startswith("thing")}
    # Rays to the sources end before any face of the enclosure.
    solid = mi.load_dict({"type": "scene", **opaque}) if opaque else None
    whole = mi.load_dict({"type": "scene", **solids, **shining})
    integrator = mi.load_dict(
        {"type": "path", "max_depth": MOST_BOUNCES, "rr_depth": 6, "hide_emitters": True}
    )
    up = np.array([0.0, 0.0, 1.0])
    found: dict[str, list[float]] = {k: [] for k in ("direct_level", "direct_facing", "level", "facing")}
    for number, point in enumerate(np.array(scene["points"])):
        empty = mi.load_dict({"type": "scene", "far": {"type": "sphere", "center": [1e3, 0, 0]}})
        rows = straight(solid or empty, point, pieces)
        ways, light = all_around(whole, integrator, point, number)
        light = light * 4.0 * math.pi / len(light)
        vector = (rows[:, :3] * rows[:, 3:]).sum(axis=0)
        back = (ways * light[:, None]).sum(axis=0)
        looks = [up, vector + 0.5 * back]
        for at, _ in pieces:
            looks.append(at.mean(axis=0) - point)
        looks = [k / np.linalg.norm(k) for k in looks if np.linalg.norm(k) > 0]
        # Turned as the reading rises, from the best of these.
        every, lights = np.concatenate([rows[:, :3], ways]), np.concatenate([rows[:, 3], light])
        best = max(looks, key=lambda k: meter(k, every, lights))
        for _ in range(TURNS):
            before = every @ best > 0
            best = (every[before] * lights[before, None]).sum(axis=0)
            best /= np.linalg.norm(best)
        looks.append(best)
        direct = [meter(k, rows[:, :3], rows[:, 3]) for k in looks]
        bounced = [meter(k, ways, light) for k in looks]
        found["direct_level"].append(direct[0])
        found["direct_facing"].append(max(direct))
        found["level"].append(direct[0] + bounced[0])
        found["facing"].append(max(d + b for d, b in zip(direct, bounced, strict=True)))
    return {k: [float(f"{x:.5g}") for x in v] for k, v in found.items()}


def main() -> None:
    mi.set_variant("llvm_ad_rgb")
    for path in sorted(HERE.glob("*.scene.json")):
        name = path.name.removesuffix(".scene.json")
        if sys.argv[1:] and name not in sys.argv[1:]:
            continue
        made = table(json.loads(path.read_text()))
        text = json.dumps({"mitsuba": mi.__version__, "samples": SAMPLES, **made})
        (HERE / f"{name}.table.json").write_text(text + "\n")
        print(name, flush=True)


if __name__ == "__main__":
    main()
