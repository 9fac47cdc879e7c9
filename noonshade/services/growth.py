"""Growth of the animals of an enclosure, and the plan to build next."""

from __future__ import annotations

from datetime import date, datetime

from noonshade.core.care.growth import Growth, predict_growth
from noonshade.core.plan import Animal
from noonshade.services.application import Services
from noonshade.store.logbook import Wanted


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
