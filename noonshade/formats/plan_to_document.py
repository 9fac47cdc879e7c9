"""A plan made by the core, as a plan document."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from noonshade.core.plan import Parts, Plan, SolidMaterial
from noonshade.formats.plan_document import FORMAT, VERSION, PlanDocument, plan_from
from noonshade.formats.plan_parts import part_document, wall_document


def plan_document_of(plan: Plan) -> PlanDocument:
    """The document that ``resolve`` makes this plan of, with the same catalogue.

    Own lamps and species are named by id only; who stores the document packs them.
    """
    enclosure = plan.enclosure
    animal = asdict(plan.animal)
    animal["species_id"] = animal.pop("species")["id"]
    animal["members"] = list(animal["members"])
    return plan_from(
        {
            "format": FORMAT,
            "version": VERSION,
            "name": plan.name,
            "animal": animal,
            "room": {**asdict(plan.room), "months": [asdict(m) for m in plan.room.months]},
            "enclosure": {
                "length_m": enclosure.length_m,
                "depth_m": enclosure.depth_m,
                "height_m": enclosure.height_m,
                "walls": {face: wall_document(wall) for face, wall in enclosure.walls.items()},
                "vents": [part_document(vent) for vent in enclosure.vents],
                "insets": [part_document(inset) for inset in enclosure.insets],
                "neighbours": [{"face": face, **asdict(n)} for face, n in enclosure.neighbours.items()],
            },
            "substrate": {
                **_mix(plan.substrate.material, plan.substrate.parts),
                "depth_m": plan.substrate.depth_m,
                "wetness": plan.substrate.wetness,
                "below": [
                    {
                        **_mix(layer.material, layer.parts),
                        "depth_m": layer.depth_m,
                        "barrier": layer.barrier,
                        "wetness": layer.wetness,
                    }
                    for layer in plan.substrate.below
                ],
                "zones": [asdict(zone) for zone in plan.substrate.zones],
                "burrows": [asdict(burrow) for burrow in plan.substrate.burrows],
            },
            "furnishings": [part_document(f) for f in plan.furnishings],
            "fixtures": [part_document(f) for f in plan.fixtures],
            "thermostats": [part_document(t) for t in plan.thermostats],
            "photoperiod_h": plan.photoperiod_h,
            "fog_per_m": plan.fog_per_m,
            "fog_kg_h": plan.fog_kg_h,
            "mistings": [{"hours": list(m.hours), "litres": m.litres} for m in plan.mistings],
            "fans": [part_document(f) for f in plan.fans],
            "cold_packs": [part_document(p) for p in plan.cold_packs],
        }
    )


def _mix(material: SolidMaterial, parts: Parts) -> dict[str, Any]:
    if not parts:
        return {"material_id": material.id}
    (first, count), *others = parts
    return {
        "material_id": first.id,
        "parts": count,
        "mixed": [{"material_id": m.id, "parts": n} for m, n in others],
    }
