"""The application factory."""

from __future__ import annotations

from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import NoReturn

from flask import Flask, Response, abort, g, send_from_directory
from werkzeug.exceptions import HTTPException, MethodNotAllowed
from werkzeug.routing import IntegerConverter

from noonshade.services.application import Services, open_services
from noonshade.services.workers import WorkersError
from noonshade.web.assessment.routes import assessment_api
from noonshade.web.backups.routes import backup_api
from noonshade.web.behaviour.routes import behaviour_api
from noonshade.web.building.routes import building_api
from noonshade.web.commissioning.routes import commissioning_api
from noonshade.web.compare.routes import compare_api
from noonshade.web.days.routes import day_api
from noonshade.web.design.routes import design_api
from noonshade.web.growth.routes import growth_api
from noonshade.web.http import problems, security, sign_in
from noonshade.web.http.delegation import Delegate, failed
from noonshade.web.http.front_door import FrontDoor
from noonshade.web.installed_lamps.routes import installed_lamp_api
from noonshade.web.lamps.routes import lamps_api
from noonshade.web.live.routes import live_api
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
from noonshade.web.tasks.routes import task_api
from noonshade.web.timeline.routes import timeline_api
from noonshade.web.year.routes import year_api

BLUEPRINTS = (
    api,
    live_api,
    lamps_api,
    day_api,
    species_api,
    assessment_api,
    design_api,
    building_api,
    output_api,
    compare_api,
    room_api,
    reading_api,
    logger_api,
    commissioning_api,
    behaviour_api,
    practice_api,
    fit_api,
    logbook_api,
    timeline_api,
    backup_api,
    task_api,
    installed_lamp_api,
    year_api,
    growth_api,
    arrival_api,
)
BODY_LIMIT_BYTES = 1_000_000
FRONT_END = files("noonshade.web") / "static"
METHODS = ("GET", "POST", "PUT", "PATCH", "DELETE")
# What answers whatever nothing else does.
ANYWHERE = ("_page", "_unknown")
NONCE_MARK = "__STYLE_NONCE__"


@dataclass(frozen=True, slots=True)
class AppSettings:
    """How the application is set up.

    ``allowed_hosts`` None accepts any host name; then ``passphrase`` must be set. ``backups`` is the folder
    of backups, one beside the data file if None. ``front_end`` is the folder of the built front end.
    """

    data_file: Path
    front_end: Path = Path(str(FRONT_END))
    demo: bool = False
    allowed_hosts: frozenset[str] | None = security.LOOPBACK
    passphrase: str | None = None
    backups: Path | None = None


class NoonShade(Flask):
    """The Flask application with the services its routes work on."""

    settings: AppSettings
    services: Services
    door: FrontDoor
    # What answers the requests that compute; None to answer them in the web's own threads.
    delegate: Delegate | None = None


class _Counter(IntegerConverter):
    """A whole number in an address that a counter of ours can come to."""

    regex = r"\d{1,9}"


def create_app(settings: AppSettings, services: Services | None = None) -> NoonShade:
    """Build the application on the services given, or on those of the settings' data file.

    Raises
    ------
    StoreError
        If the data file cannot be used.
    ValueError
        If any host is accepted without a passphrase.
    """
    if settings.allowed_hosts is None and not settings.passphrase:
        raise ValueError("a passphrase is needed when any host name is served")
    app = NoonShade(__name__, static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = BODY_LIMIT_BYTES
    app.url_map.converters["int"] = _Counter
    app.config["DEMO"] = settings.demo
    app.settings = settings
    app.services = services or open_services(settings.data_file, settings.backups)
    problems.register(app)
    app.register_error_handler(WorkersError, failed)
    app.door = FrontDoor(settings.passphrase)
    security.register(app, settings.allowed_hosts, app.door)
    sign_in.register(app, app.door)
    for part in BLUEPRINTS:
        app.register_blueprint(part)
    _serve_front_end(app, settings.front_end)
    return app


def _refuse(app: Flask, page: str) -> NoReturn:
    """405 for an address of the interface that knows other methods, 404 for any other."""
    address = app.url_map.bind("")
    methods = set()
    for method in METHODS:
        try:
            rule, _ = address.match(f"/{page}", method, return_rule=True)
        except HTTPException:
            continue
        if rule.endpoint not in ANYWHERE:
            methods.add(method)
    if methods:
        raise MethodNotAllowed(sorted(methods), f"/{page} takes {', '.join(sorted(methods))} only.")
    abort(404, f"There is nothing at /{page}.")


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

    @app.route("/api/<path:page>", methods=[m for m in METHODS if m != "GET"])
    def _unknown(page: str) -> Response:
        _refuse(app, f"api/{page}")

    @app.get("/")
    @app.get("/<path:page>")
    def _page(page: str = "") -> Response:
        if page.startswith("api/"):
            _refuse(app, page)
        if not index.is_file():
            return Response(
                "The front end is not built. In a checkout, run 'make build', then start again.\n",
                status=503,
                content_type="text/plain; charset=utf-8",
            )
        html = index.read_text(encoding="utf-8").replace(NONCE_MARK, g.nonce)
        return Response(
            html, content_type="text/html; charset=utf-8", headers={"Cache-Control": "no-cache"}
        )
