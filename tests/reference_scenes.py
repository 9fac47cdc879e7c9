"""Scenes of ``tests/reference/light`` as plans, and their tables."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.sources import emitter, reference_response
from noonshade.core.plan import (
    FACES,
    BeamSource,
    Branch,
    Enclosure,
    Face,
    Fixture,
    Furnishing,
    Hide,
    LineSource,
    PanelSource,
    Plan,
    Slab,
    SolidMaterial,
    SourceGeometry,
    UvReference,
    Wall,
)
from tests.builders import MATERIALS, shining
from tests.builders import plan as plan_of

Floats = NDArray[np.float64]
FOLDER = Path(__file__).parent / "reference" / "light"
NAMES = sorted(p.name.removesuffix(".scene.json") for p in FOLDER.glob("*.scene.json"))
# A cosine source is half as bright at 60°; a strip that is Lambertian has that about its axis.
LAMBERTIAN_FWHM_DEG = 120.0
LAMBERTIAN_EXPONENT = 1.0


@dataclass(frozen=True)
class Reference:
    """Light at the points (n, 3) of a scene, W/m² for 1 W from each source, arrays (n,)."""

    points: Floats
    direct_level: Floats
    direct_facing: Floats
    level: Floats
    facing: Floats


def matt(share: float) -> SolidMaterial:
    return replace(
        MATERIALS["timber"],
        absorptance=1.0 - share,
        transmittance=0.0,
        uvb_reflectance=share,
        visible=share,
    )


def pane() -> SolidMaterial:
    """Clear of light and heat, opaque to UV: so the one has two faces to mirror it and the other one."""
    clear = 0.96**2
    return replace(
        MATERIALS["glass"],
        absorptance=0.0,
        transmittance=clear,
        visible_transmittance=clear,
        uvb_transmittance=0.0,
    )


def wall_of(what: Any) -> Wall:
    if what == "open":
        return Wall()
    if isinstance(what, str):
        return Wall(pane(), 0.004)
    return Wall(matt(what), 0.01)


def thing_of(number: int, t: dict[str, Any]) -> Furnishing:
    values = {k: v for k, v in t.items() if k not in ("kind", "reflectance")}
    material, name = matt(t["reflectance"]), f"thing {number}"
    if t["kind"] == "slab":
        return Slab(name, name, material=material, **values)
    if t["kind"] == "hide":
        return Hide(name, name, material=material, **values)
    start, end = tuple(values.pop("start_m")), tuple(values.pop("end_m"))
    return Branch(name, name, start, end, values["diameter_m"], material)


def geometry_of(source: dict[str, Any]) -> SourceGeometry:
    if source["shape"] == "panel":
        return PanelSource(*source["size_m"])
    if source["shape"] == "strip":
        return LineSource(source["size_m"][0], LAMBERTIAN_EXPONENT, source["size_m"][1])
    return BeamSource(LAMBERTIAN_FWHM_DEG, source["diameter_m"])


def fixture_of(number: int, source: dict[str, Any]) -> Fixture:
    """A lamp of which 1 W is light, UV (UV index for W/m²) and heat alike."""
    geometry = geometry_of(source)
    made = replace(
        shining("radiant-panel-80"),
        geometry=geometry,
        power_w=1.0,
        forward_radiant=1.0,
        other_radiant=0.0,
        lumens_per_radiant_watt=1.0,
        uv=UvReference(reference_response(emitter(geometry), 0.3), 0.3),
        ageing=None,
    )
    name = f"source {number}"
    return Fixture(name, name, made, 1.0, tuple(source["at_m"]), "day")


def read_scene(name: str) -> tuple[Plan, Reference]:
    """A scene as a plan, and its table."""
    scene = json.loads((FOLDER / f"{name}.scene.json").read_text())
    table = json.loads((FOLDER / f"{name}.table.json").read_text())
    length, depth, height = scene["size_m"]
    walls: dict[Face, Wall] = {
        face: wall_of(scene["faces"].get(face, scene["faces"]["ground"])) for face in FACES
    }
    made = plan_of(
        Enclosure(length, depth, height, walls),
        fixtures=tuple(fixture_of(k, s) for k, s in enumerate(scene["sources"])),
        furnishings=tuple(thing_of(k, t) for k, t in enumerate(scene.get("things", []))),
        substrate_m=scene["ground_m"],
    )
    ground = matt(scene["faces"]["ground"])
    made = replace(made, substrate=replace(made.substrate, material=ground))
    arrays = {k: np.array(table[k]) for k in ("direct_level", "direct_facing", "level", "facing")}
    return made, Reference(np.array(scene["points"]), **arrays)
