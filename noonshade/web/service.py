"""Evaluations on request, with the last few remembered."""

from __future__ import annotations

import threading
from collections import OrderedDict

from noonshade.catalog import Catalog
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.light.ageing import LampAge, seen_at
from noonshade.formats.plan_document import PlanDocument, resolve

REMEMBERED = 8


class Evaluator:
    """Evaluates plan documents; asking again for the same one costs nothing."""

    def __init__(self, catalog: Catalog) -> None:
        self.catalog = catalog
        self._lock = threading.Lock()
        self._known: OrderedDict[str, Evaluation] = OrderedDict()

    def evaluate(self, document: PlanDocument, lamp_age: LampAge = "present") -> Evaluation:
        """The evaluation of a document; errors as ``resolve`` and ``core.evaluate``."""
        key = lamp_age + document.model_dump_json(exclude={"name"})
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
                return self._known[key]
        result = evaluate(seen_at(resolve(document, self.catalog), lamp_age))
        with self._lock:
            self._known[key] = result
            while len(self._known) > REMEMBERED:
                self._known.popitem(last=False)
        return result
