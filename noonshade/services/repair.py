"""Fix everything: the fewest changes that together fix a plan, each of which can be skipped."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import jsonpatch

from noonshade.catalog import Catalog, load_catalog
from noonshade.core.design.aims import OF_THE_ROOM, cost_of, failures_of
from noonshade.core.design.brief import Brief
from noonshade.core.design.designer import design
from noonshade.core.design.search import computed
from noonshade.core.design.shells import Stock
from noonshade.core.errors import ConvergenceError, DesignError, PlanError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.fixes.stepwise import next_step
from noonshade.core.heat.geometry import COARSE
from noonshade.core.needs.species import Species
from noonshade.core.phrase import Measure, Phrase, uncapitalized
from noonshade.core.plan import Lamp, Plan
from noonshade.formats.plan_document import PlanDocument, locked_in, plan_from
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.plan_to_document import plan_document_of
from noonshade.formats.results.evaluation import patch_of
from noonshade.formats.results.models import PatchStep

# Changes at most: more than these are another enclosure.
MOST_CHANGES = 8
# Taking a change back must not cost more than this.
SLACK = 0.3
# Lists a document may leave out.
_LISTS = ("furnishings", "fixtures", "thermostats", "mistings", "fans", "cold_packs")


# One change in words, and as steps on the document with the changes before it.
Change = tuple[Phrase, tuple[PatchStep, ...]]


@dataclass(frozen=True, slots=True)
class Repair:
    """What was found: changes in words and as patches, and the plan before and with all of them."""

    changes: tuple[Change, ...]
    before: Evaluation
    after: Evaluation


class Repairer:
    """Repairs one document; made anew in the process that does it."""

    def __init__(self, lamps: Mapping[str, Lamp], species: Mapping[str, Species]) -> None:
        self.catalog: Catalog = load_catalog()
        self.own_lamps, self.own_species = dict(lamps), dict(species)

    def repair(self, document: PlanDocument) -> Repair:
        """The changes for a document; errors as ``resolve`` and ``evaluate``."""
        before = evaluate(self._plan(document))
        lamps = (*self.catalog.lamps.values(), *self.own_lamps.values())
        meshes = tuple(self.catalog.meshes.values())
        locked = locked_in(document)
        found: list[Change] = []
        here = document
        # On large cells first, then on the usual ones.
        for resolution in (COARSE, None):
            now = computed(self._plan(here), resolution)
            while now is not None and failures_of(now) and len(found) < MOST_CHANGES:
                step = next_step(now, lamps, meshes, locked, resolution)
                if step is None:
                    break
                patch = tuple(patch_of(step.candidate.changes, here))
                here = patched(here, patch)
                found.append(((*step.candidate.sentence, "."), patch))
                now = step.evaluation
        found = self._fewest(document, found)
        after = self._after(document, found)
        if failures_of(after):
            anew = self._anew(document, before, locked)
            if anew is not None and len(failures_of(anew[1])) < len(failures_of(after)):
                found, after = [anew[0]], anew[1]
        return Repair(tuple(found), before, after)

    def _anew(
        self, document: PlanDocument, before: Evaluation, locked: frozenset[str]
    ) -> tuple[Change, Evaluation] | None:
        """Lamps, heaters and thermostats chosen anew, walls and things as they are; None if that fails."""
        lamps = {**self.catalog.lamps, **self.own_lamps}
        stock = Stock(self.catalog.materials, self.catalog.meshes, lamps)
        plan = before.plan
        brief = Brief(plan.animal.species, plan.room, given=plan, locked=locked)
        try:
            best = design(brief, stock, quick=True).set_ups[0]
        except (DesignError, PlanError, IndexError):
            return None
        made = plan_document_of(best.plan).model_dump(mode="json")
        for fixture in made["fixtures"]:
            fixture["locked"] = fixture["id"] in locked
        patch = [
            PatchStep(op="replace", path=f"/{name}", value=made[name])
            for name in ("fixtures", "thermostats", "mistings")
        ]
        damp = made["substrate"]["wetness"]
        patch.append(PatchStep(op="replace", path="/substrate/wetness", value=damp))
        said = ", ".join(f"{uncapitalized(f.lamp.label)} ({f.power_w:g} W)" for f in best.plan.fixtures)
        sentence: Phrase = (f"Choose lamps and heaters anew: {said}",)
        for control in best.plan.thermostats:
            if control.day_set_point_c is not None:
                day = Measure(control.day_set_point_c, "°C")
                sentence = (*sentence, f"; {uncapitalized(control.label)} at ", day, " by day")
            if control.night_set_point_c is not None:
                night = Measure(control.night_set_point_c, "°C")
                sentence = (*sentence, f"; {uncapitalized(control.label)} at ", night, " by night")
        change = ((*sentence, "."), tuple(patch))
        return change, self._after(document, [change])

    def _fewest(self, document: PlanDocument, found: list[Change]) -> list[Change]:
        """Without the changes that the others make needless."""
        best = self._cost(document, found)
        for one in list(found):
            rest = [other for other in found if other is not one]
            cost = self._cost(document, rest)
            if best is not None and cost is not None and cost <= best + SLACK:
                found, best = rest, cost
        return found

    def _cost(self, document: PlanDocument, changes: list[Change]) -> float | None:
        """What a document with some changes costs; None where they need one that is skipped."""
        try:
            after = self._after(document, changes)
        except (ValueError, KeyError, ConvergenceError, jsonpatch.JsonPatchException):
            return None
        return cost_of(after, forgiven=OF_THE_ROOM)

    def _after(self, document: PlanDocument, changes: list[Change]) -> Evaluation:
        for _, patch in changes:
            document = patched(document, patch)
        return evaluate(self._plan(document))

    def _plan(self, document: PlanDocument) -> Plan:
        return resolve(document, self.catalog, self.own_lamps, self.own_species)


def patched(document: PlanDocument, patch: tuple[PatchStep, ...]) -> PlanDocument:
    """A document with the steps of a patch applied."""
    raw = document.model_dump(mode="json")
    for name in _LISTS:
        raw[name] = raw.get(name) or []
    steps = [
        step.model_dump(mode="json", exclude={"value"} if step.op == "remove" else set()) for step in patch
    ]
    for step in steps:
        # A member a document leaves out is added where it would be replaced.
        if step["op"] == "replace":
            step["op"] = "add" if not step["path"].rsplit("/", 1)[1].isdigit() else "replace"
    return plan_from(jsonpatch.apply_patch(raw, steps))
