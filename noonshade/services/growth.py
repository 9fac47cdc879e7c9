"""Growth of the animals of an enclosure, and the plan to build next."""

from __future__ import annotations

from datetime import date, datetime

from noonshade.core.care.growth import Growth, next_plan, predict_growth
from noonshade.core.plan import Animal
from noonshade.formats.plan_document import PlanDocument
from noonshade.services.application import Services
from noonshade.store.logbook import Wanted


def next_plan_document(services: Services, document: PlanDocument) -> PlanDocument:
    """The plan to build next, as a variant of the present one; nothing is stored."""
    made = next_plan(services.evaluation.plan(document))
    heights = {f.id: f.position_m[2] for f in made.fixtures}
    animal = document.animal.model_copy(
        update={
            "stage": made.animal.stage,
            "body_length_m": made.animal.body_length_m,
            "back_height_m": made.animal.back_height_m,
        }
    )
    sides = {side: getattr(made.enclosure, side) for side in ("length_m", "depth_m", "height_m")}
    fixtures = [
        f.model_copy(update={"position_m": f.position_m.model_copy(update={"z_m": heights[f.id]})})
        for f in document.fixtures
    ]
    return document.model_copy(
        update={
            "name": f"{document.name[:72]}, grown",
            "animal": animal,
            "enclosure": document.enclosure.model_copy(update=sides),
            "fixtures": fixtures,
            "measured": None,
        }
    )


def growth_of_enclosure(
    services: Services, plan_id: str, animal: Animal, today: date
) -> tuple[str | None, Growth]:
    """The predicted growth of the longest animal of an enclosure, and its name if it is in the logbook."""
    best: tuple[str | None, Growth] = (None, predict_growth(animal, today))
    for one in services.logbook.animals.all("plan_id = ? AND left_on IS NULL", (plan_id,), "hatched_on"):
        if one.species_id != animal.species.id:
            continue
        found = services.logbook.find(Wanted(animal_id=one.id, kinds=("length",))).entries
        lengths = [(datetime.fromisoformat(e.at).date(), e.value) for e in found if e.value is not None]
        hatched = None if one.hatched_on is None else date.fromisoformat(one.hatched_on)
        course = predict_growth(animal, today, lengths, hatched)
        # The longest of a group decides: it outgrows the enclosure first.
        if best[0] is None or course.length_m > best[1].length_m:
            best = (one.name, course)
    return best
