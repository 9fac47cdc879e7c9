"""Cached evaluation service, and the services for what takes several evaluations."""

from __future__ import annotations

from dataclasses import dataclass, field

from noonshade.catalog import Catalog
from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.care.month_checks import MonthCheck, check_month
from noonshade.core.care.seasonal_settings import power_in
from noonshade.core.care.year import Year, middle_week, weeks_of
from noonshade.core.cost import DAY, evaluation_s, refuse_if_costly
from noonshade.core.day import Day, simulate_day
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.fixes.candidate import Fix
from noonshade.core.fixes.suggest import suggest_fixes
from noonshade.core.forecast import DueItem, ForecastMonth, find_due_items, forecast_months
from noonshade.core.light.ageing import LampAge, with_lamp_age
from noonshade.core.plan import Plan, Season
from noonshade.core.uncertainty.intervals import Interval, compute_intervals
from noonshade.core.uncertainty.multipliers import multipliers_of
from noonshade.core.uncertainty.sensitivity import Sensitivity, compute_sensitivity
from noonshade.formats.plan_document import PlanDocument, locked_in
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.year_document import set_by_month
from noonshade.services.cache import SingleFlightCache
from noonshade.services.library import Library

# Evaluations that looking for one fix takes. Estimate.
FIX_EVALUATIONS = 40


@dataclass
class ResultCaches:
    """Recent results by what they were computed from; several applications may share them.

    An entry keyed by the id of an evaluation holds that evaluation, so that the id is not used again.
    """

    evaluations: SingleFlightCache[str, Evaluation] = field(default_factory=lambda: SingleFlightCache(8))
    days: SingleFlightCache[tuple[int, Season], tuple[Evaluation, Day]] = field(
        default_factory=lambda: SingleFlightCache(4)
    )
    # Asked for all enclosures of a room together.
    forecasts: SingleFlightCache[object, tuple[tuple[ForecastMonth, ...], tuple[DueItem, ...]]] = field(
        default_factory=lambda: SingleFlightCache(100)
    )
    # Many, since an edit of a year changes but some of its months.
    months: SingleFlightCache[object, MonthCheck] = field(default_factory=lambda: SingleFlightCache(120))
    # Few, since each holds many evaluations.
    sensitivities: SingleFlightCache[int, tuple[Evaluation, Sensitivity]] = field(
        default_factory=lambda: SingleFlightCache(3)
    )
    intervals: SingleFlightCache[int, tuple[Evaluation, dict[str, Interval]]] = field(
        default_factory=lambda: SingleFlightCache(8)
    )
    fixes: SingleFlightCache[object, tuple[Evaluation, tuple[Fix, ...]]] = field(
        default_factory=lambda: SingleFlightCache(40)
    )


class CostlyError(RuntimeError):
    """A plan takes longer than is computed here; another process may."""


class EvaluationService:
    """Evaluates plan documents and caches the results."""

    def __init__(self, library: Library, caches: ResultCaches) -> None:
        self.library = library
        self.caches = caches
        # The longest evaluation that is computed here, s; None for any.
        self.most_s: float | None = None

    @property
    def catalog(self) -> Catalog:
        """The shipped reference data."""
        return self.library.catalog

    def plan(self, document: PlanDocument) -> Plan:
        """The core plan of a document; errors as ``resolve``."""
        own = {key: species for key, (_, _, species) in self.library.own_species().items()}
        return resolve(document, self.catalog, self.library.own_lamps(), own)

    def key(self, document: PlanDocument) -> str:
        """What an evaluation depends on, own lamps and species as they are in the library now."""
        return self.library.packed(document).model_dump_json(exclude={"name", "pins", "year"})

    def evaluate(self, document: PlanDocument, lamp_age: LampAge = "present") -> Evaluation:
        """The evaluation of a document; errors as ``resolve`` and ``core.evaluate``.

        Raises
        ------
        CostlyError
            If it takes longer than is computed here.
        """

        def made() -> Evaluation:
            plan = self.plan(document)
            if self.most_s is not None and evaluation_s(plan) > self.most_s:
                raise CostlyError
            return evaluate(with_lamp_age(plan, lamp_age))

        return self.caches.evaluations.get_or_compute(lamp_age + self.key(document), made)


class DayService:
    """Simulated days of plan documents."""

    def __init__(self, evaluation: EvaluationService) -> None:
        self.evaluation = evaluation

    def simulate(self, document: PlanDocument, season: Season) -> tuple[Evaluation, Day]:
        """The evaluation and the day of a document; errors as ``evaluate`` and ``simulate_day``."""
        evaluation = self.evaluation.evaluate(document)
        refuse_if_costly(evaluation.plan, DAY)
        return self.evaluation.caches.days.get_or_compute(
            (id(evaluation), season), lambda: (evaluation, simulate_day(evaluation, season))
        )

    def present_day(self, document: PlanDocument) -> Day | None:
        """The day of a document in the room as it is now; None where no day repeats."""
        try:
            return self.simulate(document, "now")[1]
        except ConvergenceError:
            return None


class ForecastService:
    """Plans over the months, and maintenance that is due."""

    def __init__(self, evaluation: EvaluationService) -> None:
        self.evaluation = evaluation

    def forecast(self, document: PlanDocument) -> tuple[tuple[ForecastMonth, ...], tuple[DueItem, ...]]:
        """The forecast of a document, and its due items; errors as ``resolve``."""

        def made() -> tuple[tuple[ForecastMonth, ...], tuple[DueItem, ...]]:
            plan = self.evaluation.plan(document)
            refuse_if_costly(plan, 12)
            return forecast_months(plan, by_month), find_due_items(plan)

        # Of the year, only what is set by months counts.
        by_month = set_by_month(document.year)
        key = (self.evaluation.key(document), by_month)
        return self.evaluation.caches.forecasts.get_or_compute(key, made)


class MonthService:
    """Checked months of years."""

    def __init__(self, evaluation: EvaluationService) -> None:
        self.evaluation = evaluation

    def check(self, document: PlanDocument, plan: Plan, year: Year, month: int) -> MonthCheck:
        """One month of a plan's year; errors as ``check_month``."""
        week = weeks_of(plan, year)[middle_week(month) - 1]
        powers = tuple(power_in(f, year.swaps, month) for f in plan.fixtures)
        by_month = (powers, year.settings, year.care)
        key = (self.evaluation.key(document), month, week, by_month, year.brumation)
        return self.evaluation.caches.months.get_or_compute(
            key, lambda: check_month(plan, year, month, locked=locked_in(document))
        )


class SensitivityService:
    """How evaluations depend on what is not known exactly."""

    def __init__(self, caches: ResultCaches) -> None:
        self._known = caches.sensitivities

    def compute(self, evaluation: Evaluation) -> Sensitivity:
        """Of an evaluation's plan; errors as ``sensitivity``."""

        def made() -> tuple[Evaluation, Sensitivity]:
            refuse_if_costly(evaluation.plan, len(multipliers_of(evaluation.plan)))
            return evaluation, compute_sensitivity(evaluation.plan)

        return self._known.get_or_compute(id(evaluation), made)[1]


class FixService:
    """Suggested fixes for checks and findings."""

    def __init__(self, caches: ResultCaches) -> None:
        self._known = caches.fixes

    def clear(self) -> None:
        """Drop the suggestions, after the data were replaced."""
        self._known.clear()

    def suggest(
        self,
        evaluation: Evaluation,
        target: Check | Finding,
        library: Library,
        most: int,
        locked: frozenset[str],
    ) -> tuple[Fix, ...]:
        """The best fixes for a check or finding, with the library's lamps and meshes to choose from."""
        refuse_if_costly(evaluation.plan, FIX_EVALUATIONS)
        own = tuple((record.id, record.revision) for record, _, _ in library.own().values())

        def made() -> tuple[Evaluation, tuple[Fix, ...]]:
            lamps, meshes = tuple(library.lamps().values()), tuple(library.catalog.meshes.values())
            return evaluation, tuple(suggest_fixes(evaluation, target, lamps, meshes, most, locked))

        return self._known.get_or_compute((id(evaluation), target.id, most, own, locked), made)[1]


class IntervalService:
    """Intervals of evaluations."""

    def __init__(self, sensitivities: SensitivityService, caches: ResultCaches) -> None:
        self._sensitivities = sensitivities
        self._known = caches.intervals

    def compute(self, evaluation: Evaluation) -> dict[str, Interval]:
        """Interval of every check's figure, by check."""

        def made() -> tuple[Evaluation, dict[str, Interval]]:
            known = self._sensitivities.compute(evaluation)
            return evaluation, {i.check_id: i for i in compute_intervals(evaluation, known=known)}

        return self._known.get_or_compute(id(evaluation), made)[1]
