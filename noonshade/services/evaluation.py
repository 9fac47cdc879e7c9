"""Evaluations on request, with the last few remembered; and the lamps there are to choose from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Generic, TypeVar

from noonshade.catalog import Catalog
from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.care.month_checks import MonthCheck, check_month
from noonshade.core.care.year import Year, middle_week, power_in, weeks_of
from noonshade.core.day import Day, simulate_day
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.fixes.candidate import Fix
from noonshade.core.fixes.suggest import suggest_fixes
from noonshade.core.forecast import DueItem, ForecastMonth, due, months
from noonshade.core.light.ageing import LampAge, with_lamp_age
from noonshade.core.needs.species import Species
from noonshade.core.plan import Lamp, Plan, Season
from noonshade.core.uncertainty.intervals import Interval, intervals
from noonshade.core.uncertainty.sensitivity import Sensitivity, sensitivity
from noonshade.formats.lamp_document import LampDocument, lamp_from_document, parse_lamp
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.species_document import SpeciesDocument, parse_species, species_from_document
from noonshade.services.cache import SingleFlightCache
from noonshade.store.library import LibraryRecord, LibraryStore

D = TypeVar("D")
T = TypeVar("T")


class _Own(Generic[D, T]):
    """The keeper's own things of one kind: as stored, as documents, and as the core takes them."""

    def __init__(self, store: LibraryStore, parse: Callable[[str], D], make: Callable[[D], T]) -> None:
        self.store, self._parse, self._make = store, parse, make
        self._parsed: dict[tuple[str, int], tuple[D, T]] = {}

    def forget(self) -> None:
        """Forget what was read, after the data were replaced."""
        self._parsed.clear()

    def all(self) -> dict[str, tuple[LibraryRecord, D, T]]:
        """Every one by id."""
        found = {}
        for record in self.store.all():
            key = (record.id, record.revision)
            if key not in self._parsed:
                document = self._parse(record.document)
                self._parsed[key] = (document, self._make(document))
            found[record.id] = (record, *self._parsed[key])
        return found


class Library:
    """The keeper's own lamps and species beside the shipped ones."""

    def __init__(self, catalog: Catalog, lamps: LibraryStore, species: LibraryStore) -> None:
        self.catalog = catalog
        self.store = lamps
        self.species_store = species
        self._own_lamps = _Own(lamps, parse_lamp, lamp_from_document)
        self._own_species = _Own(species, parse_species, species_from_document)

    def forget(self) -> None:
        """Forget what was read, after the data were replaced."""
        self._own_lamps.forget()
        self._own_species.forget()

    def own(self) -> dict[str, tuple[LibraryRecord, LampDocument, Lamp]]:
        """Every own lamp by id: as stored, as a document, and as the core takes it."""
        return self._own_lamps.all()

    def own_lamps(self) -> dict[str, Lamp]:
        """Own lamps by id."""
        return {key: lamp for key, (_, _, lamp) in self.own().items()}

    def lamps(self) -> dict[str, Lamp]:
        """Shipped and own lamps by id."""
        return {**self.catalog.lamps, **self.own_lamps()}

    def own_species(self) -> dict[str, tuple[LibraryRecord, SpeciesDocument, Species]]:
        """Every own species, and own view of a shipped one, by id."""
        return self._own_species.all()

    def species(self) -> dict[str, Species]:
        """Shipped and own species by id; an own view goes before the shipped one."""
        own = {key: species for key, (_, _, species) in self.own_species().items()}
        return {**self.catalog.species, **own}

    def packed(self, document: PlanDocument) -> PlanDocument:
        """A plan with the own lamps and species it uses inside, so that it stays whole wherever it goes."""
        own = self.own()
        used = {f.lamp_id for f in document.fixtures}
        brought = {lamp.id: lamp for lamp in document.lamps if lamp.id in used}
        brought |= {key: own[key][1] for key in sorted(used & own.keys())}
        kinds = self.own_species()
        wanted = document.animal.species_id
        species = document.species if document.species and document.species.id == wanted else None
        if wanted in kinds:
            species = kinds[wanted][1]
        return document.model_copy(update={"lamps": list(brought.values()), "species": species})


@dataclass
class ResultCaches:
    """What was worked out lately, by what it was worked out from; several applications may share one.

    What is kept by the id of an evaluation holds that evaluation, so that the id stays its own.
    """

    evaluations: SingleFlightCache[str, Evaluation] = field(default_factory=lambda: SingleFlightCache(8))
    days: SingleFlightCache[tuple[int, Season], tuple[Evaluation, Day]] = field(
        default_factory=lambda: SingleFlightCache(4)
    )
    # Asked for all enclosures of a room together.
    forecasts: SingleFlightCache[str, tuple[tuple[ForecastMonth, ...], tuple[DueItem, ...]]] = field(
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
    changes: SingleFlightCache[object, tuple[Evaluation, tuple[Fix, ...]]] = field(
        default_factory=lambda: SingleFlightCache(40)
    )


class EvaluationService:
    """Evaluates plan documents; asking again for the same one costs nothing."""

    def __init__(self, library: Library, memory: ResultCaches) -> None:
        self.library = library
        self.memory = memory

    @property
    def catalog(self) -> Catalog:
        """The shipped reference data."""
        return self.library.catalog

    def plan(self, document: PlanDocument) -> Plan:
        """The core plan of a document; errors as ``resolve``."""
        own = {key: species for key, (_, _, species) in self.library.own_species().items()}
        return resolve(document, self.catalog, self.library.own_lamps(), own)

    def key(self, document: PlanDocument) -> str:
        """What an evaluation depends on, own lamps and species as they are on the library now."""
        return self.library.packed(document).model_dump_json(exclude={"name", "pins", "year"})

    def evaluate(self, document: PlanDocument, lamp_age: LampAge = "present") -> Evaluation:
        """The evaluation of a document; errors as ``resolve`` and ``core.evaluate``."""
        return self.memory.evaluations.of(
            lamp_age + self.key(document), lambda: evaluate(with_lamp_age(self.plan(document), lamp_age))
        )


class DayService:
    """Simulated days of plan documents."""

    def __init__(self, evaluator: EvaluationService) -> None:
        self.evaluator = evaluator

    def day(self, document: PlanDocument, season: Season) -> tuple[Evaluation, Day]:
        """The evaluation and the day of a document; errors as ``evaluate`` and ``simulate_day``."""
        evaluation = self.evaluator.evaluate(document)
        return self.evaluator.memory.days.of(
            (id(evaluation), season), lambda: (evaluation, simulate_day(evaluation, season))
        )


class ForecastService:
    """Plans over the months."""

    def __init__(self, evaluator: EvaluationService) -> None:
        self.evaluator = evaluator

    def of(self, document: PlanDocument) -> tuple[tuple[ForecastMonth, ...], tuple[DueItem, ...]]:
        """The months of a document, and what is due on it; errors as ``resolve``."""

        def made() -> tuple[tuple[ForecastMonth, ...], tuple[DueItem, ...]]:
            plan = self.evaluator.plan(document)
            return months(plan), due(plan)

        return self.evaluator.memory.forecasts.of(self.evaluator.key(document), made)


class MonthService:
    """MonthService of years that were checked."""

    def __init__(self, evaluator: EvaluationService) -> None:
        self.evaluator = evaluator

    def of(self, document: PlanDocument, plan: Plan, year: Year, month: int) -> MonthCheck:
        """One month of a plan's year; errors as ``check_month``."""
        week = weeks_of(plan, year)[middle_week(month) - 1]
        powers = tuple(power_in(f, year, month) for f in plan.fixtures)
        key = (self.evaluator.key(document), month, week, powers, year.brumation)
        return self.evaluator.memory.months.of(key, lambda: check_month(plan, year, month))


class SensitivityService:
    """How evaluations depend on what is not known exactly."""

    def __init__(self, memory: ResultCaches) -> None:
        self._known = memory.sensitivities

    def of(self, evaluation: Evaluation) -> Sensitivity:
        """Of an evaluation's plan; errors as ``sensitivity``."""
        return self._known.of(id(evaluation), lambda: (evaluation, sensitivity(evaluation.plan)))[1]


class FixService:
    """FixService that put checks and findings right."""

    def __init__(self, memory: ResultCaches) -> None:
        self._known = memory.changes

    def forget(self) -> None:
        """Forget what was worked out, after the data were replaced."""
        self._known.forget()

    def of(
        self, evaluation: Evaluation, target: Check | Finding, library: Library, most: int
    ) -> tuple[Fix, ...]:
        """The best changes for a check or finding, with the lamps there are to choose from."""
        own = tuple((record.id, record.revision) for record, _, _ in library.own().values())

        def made() -> tuple[Evaluation, tuple[Fix, ...]]:
            lamps, meshes = tuple(library.lamps().values()), tuple(library.catalog.meshes.values())
            return evaluation, tuple(suggest_fixes(evaluation, target, lamps, meshes, most))

        return self._known.of((id(evaluation), target.id, most, own), made)[1]


class IntervalService:
    """Intervals of evaluations."""

    def __init__(self, sensitivities: SensitivityService, memory: ResultCaches) -> None:
        self._sensitivities = sensitivities
        self._known = memory.intervals

    def intervals(self, evaluation: Evaluation) -> dict[str, Interval]:
        """Interval of every check's figure, by check."""

        def made() -> tuple[Evaluation, dict[str, Interval]]:
            known = self._sensitivities.of(evaluation)
            return evaluation, {i.check_id: i for i in intervals(evaluation, known=known)}

        return self._known.of(id(evaluation), made)[1]
