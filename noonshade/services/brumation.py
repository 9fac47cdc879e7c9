"""Which enclosures are in their winter rest on a day, by the saved years."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from noonshade.core.care.year import Brumation, Phase, phase_of, week_of
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.year_document import year_from_document
from noonshade.services.application import Services
from noonshade.store.errors import NotFoundError
from noonshade.store.tasks import TaskRecord

# On the way into a rest nothing is fed either: what it has eaten must be digested before it is too cold for
# that. Keepers' consensus.
_FED = ("usual", "winding_up")
_FOOD = ("feeding", "dusting")


Paused = Callable[[date], bool]


class BrumationCalendar:
    """Brumation of enclosures, for one request; each plan is read once."""

    def __init__(self, services: Services) -> None:
        self._services = services
        self._known: dict[str, Brumation | None] = {}

    def phase(self, plan_id: str | None, day: date) -> Phase:
        """Where an enclosure is in its year on a day."""
        if plan_id is None:
            return "usual"
        if plan_id not in self._known:
            self._known[plan_id] = _brumation_of(self._services, plan_id)
        return phase_of(self._known[plan_id], week_of(day))[0]

    def pause(self, task: TaskRecord) -> Paused | None:
        """On which days a task rests with its animal; None if on none: all but food goes on."""
        if task.kind not in _FOOD or task.plan_id is None:
            return None
        return lambda day: self.phase(task.plan_id, day) not in _FED


def _brumation_of(services: Services, plan_id: str) -> Brumation | None:
    try:
        document = parse_plan(services.plans.get(plan_id).document)
    except (NotFoundError, DocumentError):
        return None
    return None if document.year is None else year_from_document(document.year).brumation
