"""What the running application holds, for its operations, and files as they are handed out."""

from __future__ import annotations

import re
from typing import TypeVar

from flask import Response, current_app

from noonshade.instruments.true_enclosure import TrueEnclosure
from noonshade.services.evaluation import (
    DayService,
    EvaluationService,
    FixService,
    ForecastService,
    IntervalService,
    Library,
    MonthService,
    SensitivityService,
)
from noonshade.store.backups import Backups
from noonshade.store.commissioning_tests import CommissioningTestStore
from noonshade.store.installations import InstallationStore
from noonshade.store.logbook import LogbookStore
from noonshade.store.loggers import LoggerStore
from noonshade.store.plans import PlanStore
from noonshade.store.readings import ReadingStore
from noonshade.store.settings import SettingsStore
from noonshade.store.sightings import SightingStore
from noonshade.store.tasks import TaskStore

Held = TypeVar("Held")


def _held(name: str, kind: type[Held]) -> Held:
    found = current_app.extensions[name]
    assert isinstance(found, kind)
    return found


def plans() -> PlanStore:
    """Plans as they are stored."""
    return _held("plans", PlanStore)


def settings() -> SettingsStore:
    """What is set once for the whole room."""
    return _held("settings", SettingsStore)


def library() -> Library:
    """Lamps and species, those that ship and the keeper's own."""
    return _held("library", Library)


def evaluator() -> EvaluationService:
    """Evaluations, kept for a while."""
    return _held("evaluator", EvaluationService)


def days() -> DayService:
    """Simulated days, kept for a while."""
    return _held("days", DayService)


def forecasts() -> ForecastService:
    """Plans over the year, kept for a while."""
    return _held("forecasts", ForecastService)


def months() -> MonthService:
    """MonthService of years, kept for a while."""
    return _held("months", MonthService)


def intervals() -> IntervalService:
    """Intervals, kept for a while."""
    return _held("intervals", IntervalService)


def changes() -> FixService:
    """FixService that put something right, kept for a while."""
    return _held("changes", FixService)


def sensitivities() -> SensitivityService:
    """How evaluations depend on what is not known, kept for a while."""
    return _held("sensitivities", SensitivityService)


def readings() -> ReadingStore:
    """Instruments, rounds and readings as they are stored."""
    return _held("readings", ReadingStore)


def loggers() -> LoggerStore:
    """Loggers and what they recorded."""
    return _held("loggers", LoggerStore)


def commissioning_tests() -> CommissioningTestStore:
    """Enclosures under test."""
    return _held("commissioning_tests", CommissioningTestStore)


def sightings() -> SightingStore:
    """What animals were seen to do."""
    return _held("sightings", SightingStore)


def logbook() -> LogbookStore:
    """Animals, the logbook and its photographs."""
    return _held("logbook", LogbookStore)


def backups() -> Backups:
    """Backups that were made."""
    return _held("backups", Backups)


def tasks() -> TaskStore:
    """Tasks and their marks."""
    return _held("tasks", TaskStore)


def installations() -> InstallationStore:
    """Lamps as things, and where each hung."""
    return _held("installations", InstallationStore)


def true_enclosures() -> dict[str, TrueEnclosure]:
    """Hidden enclosures of the practice bench that were read already."""
    found: dict[str, TrueEnclosure] = _held("true_enclosures", dict)
    return found


def file_name(name: str, otherwise: str) -> str:
    """A name as part of a file name, ``otherwise`` if no letter can be kept."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or otherwise


def as_file(content: str | bytes, media: str, name: str) -> Response:
    """An answer that the browser keeps as a file of a name."""
    response = Response(content, content_type=media)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def json_file(text: str | bytes, name: str, otherwise: str, ending: str) -> Response:
    """A document as a file ``name.ending.json``, called ``otherwise`` if no letter can be kept."""
    return as_file(text, "application/json; charset=utf-8", f"{file_name(name, otherwise)}.{ending}.json")
