"""What lamps of the register have burned, by the timers of the plans they hung in."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date, timedelta
from functools import lru_cache

from noonshade.core.care.lamp_output import Installation, hours_burned
from noonshade.core.care.year import plan_at, week_of, weeks_of
from noonshade.core.errors import PlanError
from noonshade.core.plan import hours_on_timer
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import FixtureDocument, PlanDocument, parse_plan
from noonshade.formats.year_document import year_from_document
from noonshade.services.application import Services
from noonshade.store.errors import NotFoundError
from noonshade.store.installations import InstallationRecord
from noonshade.store.plans import PlanRecord

Steps = list[tuple[date, float]]
# What a plan takes for a lamp at most.
MOST_HOURS = 100_000.0


class LampHours:
    """Hours of installed lamps, for one request: lamps and revisions of plans are read once."""

    def __init__(self, services: Services, today: date) -> None:
        self._services = services
        self.today = today
        self.installed_lamps = {u.id: u for u in services.installations.installed_lamps.all(removed=True)}
        self.installations: dict[str, list[InstallationRecord]] = {}
        for installation in services.installations.installations.all(order="began_on, id"):
            self.installations.setdefault(installation.installed_lamp_id, []).append(installation)
        self._steps: dict[str, dict[str, Steps]] = {}

    def total(self, installed_lamp_id: str) -> float:
        """What a lamp burned in all, before it was registered and since."""
        return self.installed_lamps[installed_lamp_id].hours_before + sum(
            self.of_installation(h) for h in self.installations.get(installed_lamp_id, ())
        )

    def in_plan(self, plan_id: str) -> dict[str, float]:
        """Hours of the registered lamps that hang in a plan, by fixture."""
        return {
            installation.fixture_id: self.total(installed_lamp_id)
            for installed_lamp_id, some in self.installations.items()
            for installation in some
            if installation.plan_id == plan_id and installation.ended_on is None
        }

    def of_installation(self, installation: InstallationRecord) -> float:
        """What a lamp burned while it hung somewhere, up to the beginning of today."""
        end = None if installation.ended_on is None else date.fromisoformat(installation.ended_on)
        span = Installation(
            installation.plan_id, installation.fixture_id, date.fromisoformat(installation.began_on), end
        )
        return hours_burned(span, self.steps(installation.plan_id, installation.fixture_id), self.today)

    def steps(self, plan_id: str, fixture_id: str) -> Steps:
        """From which day on a fixture burned how many hours a day, earliest first."""
        if plan_id not in self._steps:
            self._steps[plan_id] = _steps_of(self._services, plan_id, self.today)
        return self._steps[plan_id].get(fixture_id, [])


def _steps_of(services: Services, plan_id: str, today: date) -> dict[str, Steps]:
    try:
        listed = services.plans.revisions(plan_id)
    except NotFoundError:
        # Archived: its lamps burn no more, and what they burned follows from its last days.
        return {}
    # The last revision of a day is the one that counts for it.
    last_of_day = {r.created_at[:10]: r.number for r in reversed(listed) if r.kind == "saved"}
    found: dict[str, Steps] = {}
    days = sorted(last_of_day)
    for day, following in zip(days, [*days[1:], None], strict=True):
        text = services.plans.revision(plan_id, last_of_day[day]).document
        begin = date.fromisoformat(day)
        end = today if following is None else date.fromisoformat(following)
        for at, hours in _settings_between(services, text, begin, end):
            for fixture_id, a_day in hours.items():
                steps = found.setdefault(fixture_id, [])
                if not steps or steps[-1][1] != a_day:
                    steps.append((at, a_day))
    return found


def _settings_between(
    services: Services, text: str, begin: date, end: date
) -> Iterator[tuple[date, Mapping[str, float]]]:
    """Hours a day by fixture from each day on which they are set, by the year of a plan if it has one."""
    yearly = by_week(services, text)
    if len(yearly) == 1:
        yield begin, yearly[0]
        return
    day = begin
    while day <= max(begin, end):
        yield day, yearly[week_of(day) - 1]
        day += timedelta(days=1)


@lru_cache(maxsize=512)
def by_week(services: Services, text: str) -> tuple[Mapping[str, float], ...]:
    """Hours a day each fixture of a plan document burns by its timer: once, or for each week of its year.

    Nothing of a document that cannot be read.
    """
    try:
        document = parse_plan(text)
        if document.year is None:
            return ({f.id: hours_on(f, document) for f in document.fixtures},)
        plan = services.evaluation.plan(document)
    except (DocumentError, PlanError):
        return ({},)
    year = year_from_document(document.year)
    found = []
    for week in weeks_of(plan, year):
        there = plan_at(plan, year, week)
        lit = {f.id: f.hours_a_day(there.photoperiod_h) for f in there.fixtures}
        found.append({f.id: lit.get(f.id, 0.0) for f in plan.fixtures})
    return tuple(found)


def hours_on(fixture: FixtureDocument, document: PlanDocument) -> float:
    """Hours a day a fixture of a document burns by its timer."""
    timer = tuple((t.on_h, t.off_h) for t in fixture.timer)
    return hours_on_timer(fixture.lit, timer, document.photoperiod_h)


def plan_with_hours(plan: PlanRecord, counted: LampHours) -> PlanDocument:
    """A plan as stored, its registered lamps with the hours of the register."""
    document = parse_plan(plan.document)
    hours = {f: round(min(h, MOST_HOURS), 1) for f, h in counted.in_plan(plan.id).items()}
    fixtures = [
        f.model_copy(update={"hours": hours[f.id]}) if f.id in hours else f for f in document.fixtures
    ]
    return document.model_copy(update={"fixtures": fixtures})
