"""What a running application works on: the stores of one data file and the services upon them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Any, Concatenate, ParamSpec, TypeVar

from noonshade.catalog import Catalog, load_catalog
from noonshade.instruments.true_enclosure import TrueEnclosure
from noonshade.services.design import DesignService
from noonshade.services.evaluation import (
    DayService,
    EvaluationService,
    FixService,
    ForecastService,
    IntervalService,
    MonthService,
    ResultCaches,
    SensitivityService,
)
from noonshade.services.library import Library
from noonshade.services.live import LivePlans
from noonshade.services.results import ResultService
from noonshade.services.workers import Workers
from noonshade.store.backups import Backups
from noonshade.store.commissioning_tests import CommissioningTestStore
from noonshade.store.database import Database, Transaction
from noonshade.store.installations import InstallationStore
from noonshade.store.library import LibraryStore
from noonshade.store.logbook import LogbookStore
from noonshade.store.loggers import LoggerStore
from noonshade.store.photo_files import PhotoFiles
from noonshade.store.pictures import PictureStore
from noonshade.store.plans import PlanStore
from noonshade.store.readings import ReadingStore
from noonshade.store.results import ResultStore
from noonshade.store.settings import SettingsStore
from noonshade.store.sightings import SightingStore
from noonshade.store.tasks import TaskStore

P = ParamSpec("P")
R = TypeVar("R")

# Calls a function of a module with the services of another process and arguments, and returns its result.
Elsewhere = Callable[[Callable[..., Any], tuple[Any, ...]], Any]


@dataclass(slots=True)
class Computing:
    """Where what takes long is computed: in another process if ``elsewhere`` is set, else here."""

    elsewhere: Elsewhere | None = None


DATA_FILE, PHOTO_FOLDER, BACKUP_FOLDER = "noonshade.db", "photos", "backups"


@dataclass(frozen=True, slots=True, eq=False)
class Services:
    """Everything the interfaces call, passed to each of them explicitly."""

    database: Database
    plans: PlanStore
    settings: SettingsStore
    readings: ReadingStore
    loggers: LoggerStore
    commissioning_tests: CommissioningTestStore
    sightings: SightingStore
    logbook: LogbookStore
    tasks: TaskStore
    installations: InstallationStore
    backups: Backups
    library: Library
    evaluation: EvaluationService
    days: DayService
    forecasts: ForecastService
    months: MonthService
    sensitivities: SensitivityService
    intervals: IntervalService
    fixes: FixService
    designs: DesignService
    results: ResultService
    pictures: PictureStore
    live: LivePlans = field(default_factory=LivePlans)
    computing: Computing = field(default_factory=Computing)
    # Hidden enclosures of the practice bench, by puzzle.
    true_enclosures: dict[str, TrueEnclosure] = field(default_factory=dict)

    def write(
        self, action: Callable[Concatenate[Transaction, P], R], *args: P.args, **kwargs: P.kwargs
    ) -> R:
        """Run one function of a store in its own transaction."""
        return self.database.write(action, *args, **kwargs)

    def computed(
        self, function: Callable[Concatenate[Services, P], R], *args: P.args, **kwargs: P.kwargs
    ) -> R:
        """What a function of a module computes from stored data: in another process where there is one.

        It may not write, and its arguments and result are copied.

        Raises
        ------
        WorkersError
            If the other process gives no result; else as the function.
        """
        if self.computing.elsewhere is None:
            return function(self, *args, **kwargs)
        found: R = self.computing.elsewhere(partial(function, **kwargs), args)
        return found

    def forget(self) -> None:
        """Drop what was computed or parsed from data that were replaced."""
        self.library.clear()
        self.fixes.clear()


def open_services(
    data_file: Path,
    backups: Path | None = None,
    catalog: Catalog | None = None,
    caches: ResultCaches | None = None,
    reads_only: bool = False,
) -> Services:
    """Open a data file with its photographs and backups.

    ``backups`` is the folder of backups, one beside the data file if None. ``caches`` may be shared with
    other applications. With ``reads_only`` nothing can be written.

    Raises
    ------
    StoreError
        If the data file cannot be used.
    """
    database = Database.open(data_file, reads_only)
    caches = caches or ResultCaches()
    library = Library(
        catalog or load_catalog(), LibraryStore(database, "lamp"), LibraryStore(database, "species")
    )
    evaluation = EvaluationService(library, caches)
    sensitivities = SensitivityService(caches)
    forecasts = ForecastService(evaluation)
    photos = PhotoFiles(data_file.parent / PHOTO_FOLDER)
    plans = PlanStore(database)
    return Services(
        database=database,
        plans=plans,
        settings=SettingsStore(database),
        readings=ReadingStore(database),
        loggers=LoggerStore(database),
        commissioning_tests=CommissioningTestStore(database),
        sightings=SightingStore(database),
        logbook=LogbookStore(database, photos),
        tasks=TaskStore(database),
        installations=InstallationStore(database),
        backups=Backups(database, photos, backups or data_file.parent / BACKUP_FOLDER),
        library=library,
        evaluation=evaluation,
        days=DayService(evaluation),
        forecasts=forecasts,
        months=MonthService(evaluation),
        sensitivities=sensitivities,
        intervals=IntervalService(sensitivities, caches),
        fixes=FixService(caches),
        designs=DesignService(library, Workers()),
        results=ResultService(plans, ResultStore(database), evaluation, forecasts),
        pictures=PictureStore(database),
    )
