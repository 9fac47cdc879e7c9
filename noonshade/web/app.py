"""The application factory."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from flask import Flask, Response, abort, g, send_from_directory

from noonshade.catalog import Catalog, load_catalog
from noonshade.services.evaluation import (
    DayService,
    EvaluationService,
    FixService,
    ForecastService,
    IntervalService,
    Library,
    MonthService,
    ResultCaches,
    SensitivityService,
)
from noonshade.store.backups import Backups
from noonshade.store.commissioning_tests import CommissioningTestStore
from noonshade.store.database import Database
from noonshade.store.installations import InstallationStore
from noonshade.store.library import LibraryStore
from noonshade.store.logbook import LogbookStore
from noonshade.store.loggers import LoggerStore
from noonshade.store.photo_files import PhotoFiles
from noonshade.store.plans import PlanStore
from noonshade.store.readings import ReadingStore
from noonshade.store.settings import SettingsStore
from noonshade.store.sightings import SightingStore
from noonshade.store.tasks import TaskStore
from noonshade.web.assessment.routes import assessment_api
from noonshade.web.backups.routes import backup_api
from noonshade.web.behaviour.routes import behaviour_api
from noonshade.web.building.routes import building_api
from noonshade.web.commissioning.routes import commissioning_api
from noonshade.web.compare.routes import compare_api
from noonshade.web.days.routes import day_api
from noonshade.web.growth.routes import growth_api
from noonshade.web.http import problems, security
from noonshade.web.installed_lamps.routes import installed_lamp_api
from noonshade.web.lamps.routes import lamps_api
from noonshade.web.logbook.routes import logbook_api
from noonshade.web.loggers.routes import logger_api
from noonshade.web.outputs.routes import output_api
from noonshade.web.plans.routes import api
from noonshade.web.practice.routes import practice_api
from noonshade.web.quarantine.routes import arrival_api
from noonshade.web.readings.fit_routes import fit_api
from noonshade.web.readings.routes import reading_api
from noonshade.web.room.routes import room_api
from noonshade.web.species.routes import species_api
from noonshade.web.starter.routes import starter_api
from noonshade.web.tasks.routes import task_api
from noonshade.web.timeline.routes import timeline_api
from noonshade.web.year.routes import year_api

BODY_LIMIT_BYTES = 1_000_000
FRONT_END = Path(__file__).resolve().parents[2] / "frontend" / "dist"
NONCE_MARK = "__STYLE_NONCE__"


@dataclass(frozen=True, slots=True)
class AppSettings:
    """How the application is set up.

    ``allowed_hosts`` None accepts any host name; then ``passphrase`` must be set. ``backups`` is the folder
    backups are made in, one beside the data file if None.
    """

    data_file: Path
    front_end: Path = FRONT_END
    demo: bool = False
    allowed_hosts: frozenset[str] | None = security.LOOPBACK
    passphrase: str | None = None
    backups: Path | None = None


def create_app(
    settings: AppSettings, catalog: Catalog | None = None, memory: ResultCaches | None = None
) -> Flask:
    """Build the application; ``memory`` may be shared with others.

    Raises
    ------
    StoreError
        If the data file cannot be used.
    ValueError
        If any host is accepted without a passphrase.
    """
    if settings.allowed_hosts is None and not settings.passphrase:
        raise ValueError("a passphrase is needed when any host name is served")
    app = Flask(__name__, static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = BODY_LIMIT_BYTES
    app.config["DEMO"] = settings.demo
    app.extensions.update(open_data(settings, catalog, memory))
    problems.register(app)
    security.register(app, settings.allowed_hosts, settings.passphrase)
    for part in (
        *(api, lamps_api, day_api, species_api, assessment_api, starter_api),
        *(building_api, output_api, compare_api, room_api, reading_api, logger_api, commissioning_api),
        *(behaviour_api, practice_api, fit_api, logbook_api, timeline_api, backup_api),
        *(task_api, installed_lamp_api, year_api, growth_api, arrival_api),
    ):
        app.register_blueprint(part)
    _serve_front_end(app, settings.front_end)
    return app


def open_data(
    settings: AppSettings, catalog: Catalog | None = None, memory: ResultCaches | None = None
) -> dict[str, object]:
    """What the application works on, by the names it is found under: the stores of a data file and what is
    worked out from them.

    Raises
    ------
    StoreError
        If the data file cannot be used.
    """
    database = Database.open(settings.data_file)
    library = Library(
        catalog or load_catalog(), LibraryStore(database, "lamp"), LibraryStore(database, "species")
    )
    memory = memory or ResultCaches()
    evaluator, sensitivities = EvaluationService(library, memory), SensitivityService(memory)
    photos = PhotoFiles(settings.data_file.parent / "photos")
    folder = settings.backups or settings.data_file.parent / "backups"
    return {
        "plans": PlanStore(database),
        "settings": SettingsStore(database),
        "library": library,
        "evaluator": evaluator,
        "days": DayService(evaluator),
        "forecasts": ForecastService(evaluator),
        "months": MonthService(evaluator),
        "sensitivities": sensitivities,
        "changes": FixService(memory),
        "intervals": IntervalService(sensitivities, memory),
        "readings": ReadingStore(database),
        "loggers": LoggerStore(database),
        "commissioning_tests": CommissioningTestStore(database),
        "sightings": SightingStore(database),
        "logbook": LogbookStore(database, photos),
        "tasks": TaskStore(database),
        "installations": InstallationStore(database),
        "backups": Backups(database, photos, folder),
        "true_enclosures": {},
    }


def _serve_front_end(app: Flask, folder: Path) -> None:
    index = folder / "index.html"

    @app.get("/assets/<path:name>")
    def _asset(name: str) -> Response:
        response = send_from_directory(folder / "assets", name)
        # File names carry a hash of their contents.
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @app.get("/sw.js")
    def _worker() -> Response:
        response = send_from_directory(folder, "sw.js", mimetype="text/javascript")
        response.headers["Cache-Control"] = "no-cache"
        return response

    @app.get("/favicon.svg")
    def _icon() -> Response:
        return send_from_directory(folder, "favicon.svg")

    @app.get("/")
    @app.get("/<path:page>")
    def _page(page: str = "") -> Response:
        if page.startswith("api/"):
            abort(404, f"There is nothing at /{page}.")
        if not index.is_file():
            return Response(
                "The front end is not built. Run 'make build', then start again.\n",
                status=503,
                content_type="text/plain; charset=utf-8",
            )
        html = index.read_text(encoding="utf-8").replace(NONCE_MARK, g.nonce)
        return Response(
            html, content_type="text/html; charset=utf-8", headers={"Cache-Control": "no-cache"}
        )
