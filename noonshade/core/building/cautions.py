"""The cautions that apply to a plan, with whom to ask."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from noonshade.core.assessment.finding import Ask
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.plan import Plan

# Words in a species' hazards that mark legal limits.
_LAW = ("protected", "papers", "invasive", "restricted")


@dataclass(frozen=True, slots=True)
class Caution:
    """One caution, and whom it defers to."""

    id: str
    text: Phrase
    ask: Ask | None = None


def list_cautions(plan: Plan) -> tuple[Caution, ...]:
    """All that apply, the most dangerous first.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[Caution, ...]
        The cautions; each names who to ask where one must.
    """
    return tuple(_cautions(plan))


def _cautions(plan: Plan) -> Iterator[Caution]:
    lamps = [f.lamp for f in plan.fixtures]
    if any(lamp.is_hot or lamp.kind == "mat" for lamp in lamps):
        yield Caution(
            "fire",
            (
                "Heat lamps start fires and burn animals. Use fixed fittings rated for the lamp, guards "
                "where the animal can reach, distance to everything that burns, and a smoke alarm in the "
                "room.",
            ),
            "electrician",
        )
    if lamps:
        wet = plan.waters or plan.mistings or plan.fog_kg_h > 0
        water = " Water and mains must not meet: a drip loop in every lead, no extension lead under water."
        yield Caution(
            "mains",
            (
                "Electrical work follows your local code and is done by a qualified electrician, with a "
                "residual-current device in the supply." + (water if wet else ""),
            ),
            "electrician",
        )
    if any(lamp.uv is not None for lamp in lamps):
        yield Caution(
            "uv",
            (
                "Do not look into UVB lamps; your own eyes and skin count too. Switch them off before you "
                "work in the enclosure.",
            ),
        )
    if any(lamp.kind in ("tube", "compact", "mercury vapour", "metal halide") for lamp in lamps):
        yield Caution(
            "mercury",
            (
                "These lamps hold mercury. If one breaks: ventilate, keep away, collect it, and dispose of "
                "it by local rule.",
            ),
        )
    if plan.animal.species.heat == "avoided":
        yield Caution(
            "ceiling",
            (
                "Heat kills this animal: above ",
                Measure(plan.animal.species.highest_safe_c, "°C"),
                " it is in danger. Have the means to cool ready, and an alarm.",
            ),
            "veterinarian",
        )
    hazards = plan.animal.species.hazards
    if hazards:
        yield Caution("animal", (f"The animal: {'; '.join(hazards)}.",))
    if any(word in hazard for hazard in hazards for word in _LAW):
        yield Caution("law", ("Local law and licensing go first: ask before you buy, keep the papers.",))
    yield Caution(
        "hygiene", ("Reptiles and amphibians carry salmonella: wash your hands after every contact.",)
    )
    yield Caution(
        "ill",
        (
            "An animal that looks ill or burnt, and any doubt about UV, supplements or cooling, belongs to "
            "a veterinarian with reptile experience.",
        ),
        "veterinarian",
    )
    yield Caution(
        "predicted", ("All figures are predictions until you have measured them in your own enclosure.",)
    )
