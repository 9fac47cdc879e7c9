"""Evaluations on request, with the last few remembered; and the lamps there are to choose from."""

from __future__ import annotations

import threading
from collections import OrderedDict

from noonshade.catalog import Catalog
from noonshade.core.day import Day, simulate_day
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.light.ageing import LampAge, seen_at
from noonshade.core.plan import Lamp, Plan, Season
from noonshade.formats.lamp_document import LampDocument, lamp_from_document, parse_lamp
from noonshade.formats.plan_document import PlanDocument, resolve
from noonshade.store.lamps import LampRecord, LampStore

REMEMBERED = 8
DAYS_REMEMBERED = 4


class Shelf:
    """The keeper's own lamps beside the shipped ones."""

    def __init__(self, catalog: Catalog, store: LampStore) -> None:
        self.catalog = catalog
        self.store = store
        self._parsed: dict[tuple[str, int], tuple[LampDocument, Lamp]] = {}

    def own(self) -> dict[str, tuple[LampRecord, LampDocument, Lamp]]:
        """Every own lamp by id: as stored, as a document, and as the core takes it."""
        found = {}
        for record in self.store.all():
            key = (record.id, record.revision)
            if key not in self._parsed:
                document = parse_lamp(record.document)
                self._parsed[key] = (document, lamp_from_document(document))
            found[record.id] = (record, *self._parsed[key])
        return found

    def own_lamps(self) -> dict[str, Lamp]:
        """Own lamps by id."""
        return {key: lamp for key, (_, _, lamp) in self.own().items()}

    def lamps(self) -> dict[str, Lamp]:
        """Shipped and own lamps by id."""
        return {**self.catalog.lamps, **self.own_lamps()}

    def packed(self, document: PlanDocument) -> PlanDocument:
        """A plan with the own lamps it uses inside, so that it stays whole wherever it goes."""
        own = self.own()
        used = {f.lamp_id for f in document.fixtures}
        brought = {lamp.id: lamp for lamp in document.lamps if lamp.id in used}
        brought |= {key: own[key][1] for key in sorted(used & own.keys())}
        return document.model_copy(update={"lamps": list(brought.values())})


class Evaluator:
    """Evaluates plan documents; asking again for the same one costs nothing."""

    def __init__(self, shelf: Shelf) -> None:
        self.shelf = shelf
        self._lock = threading.Lock()
        self._known: OrderedDict[str, Evaluation] = OrderedDict()

    @property
    def catalog(self) -> Catalog:
        """The shipped reference data."""
        return self.shelf.catalog

    def plan(self, document: PlanDocument) -> Plan:
        """The core plan of a document; errors as ``resolve``."""
        return resolve(document, self.catalog, self.shelf.own_lamps())

    def evaluate(self, document: PlanDocument, lamp_age: LampAge = "present") -> Evaluation:
        """The evaluation of a document; errors as ``resolve`` and ``core.evaluate``."""
        whole = self.shelf.packed(document)
        key = lamp_age + whole.model_dump_json(exclude={"name"})
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
                return self._known[key]
        result = evaluate(seen_at(self.plan(document), lamp_age))
        with self._lock:
            self._known[key] = result
            while len(self._known) > REMEMBERED:
                self._known.popitem(last=False)
        return result


class Days:
    """Simulated days of plan documents, with the last few remembered."""

    def __init__(self, evaluator: Evaluator) -> None:
        self.evaluator = evaluator
        self._lock = threading.Lock()
        self._known: OrderedDict[tuple[int, Season], tuple[Evaluation, Day]] = OrderedDict()

    def day(self, document: PlanDocument, season: Season) -> tuple[Evaluation, Day]:
        """The evaluation and the day of a document; errors as ``evaluate`` and ``simulate_day``."""
        evaluation = self.evaluator.evaluate(document)
        # An evaluation that is remembered is the same object; the entry keeps it, so its id stays its own.
        key = (id(evaluation), season)
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
                return self._known[key]
        made = (evaluation, simulate_day(evaluation, season))
        with self._lock:
            self._known[key] = made
            while len(self._known) > DAYS_REMEMBERED:
                self._known.popitem(last=False)
        return made
