"""Errors as problem documents (RFC 9457)."""

from __future__ import annotations

import logging
import sqlite3

from flask import Flask, Response, json, request
from pydantic import BaseModel, ConfigDict
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from noonshade.core.errors import ConvergenceError, PlanError
from noonshade.core.readings import FitError
from noonshade.formats.document import DocumentError
from noonshade.formats.document import Problem as FieldProblem
from noonshade.formats.text_file import FileFormatError
from noonshade.services.evaluation import CostlyError
from noonshade.store.archive import ArchiveError
from noonshade.store.database import (
    StoreBusyError,
    StoreError,
    StoreFullError,
    StoreReadOnlyError,
)
from noonshade.store.errors import NotFoundError
from noonshade.store.library import ItemTakenError, StaleItemError
from noonshade.store.plans import StaleRevisionError

# Of a quick process that leaves a request to the others; never leaves the program.
COSTLY_STATUS = 598
MEDIA_TYPE = "application/problem+json"
log = logging.getLogger(__name__)


class FieldModel(BaseModel):
    """One field that is wrong: JSON Pointer into the document, and what is allowed."""

    model_config = ConfigDict(extra="forbid")
    pointer: str
    message: str


class ProblemModel(BaseModel):
    """A problem document (RFC 9457)."""

    model_config = ConfigDict(extra="forbid")
    type: str
    title: str
    status: int
    detail: str
    fields: list[FieldModel] = []
    head_revision: int | None = None
    refused_as: int | None = None


class RequestProblem(Exception):
    """Raised by a view to answer with a problem."""

    def __init__(
        self,
        status: int,
        kind: str,
        title: str,
        detail: str,
        fields: list[FieldProblem] | None = None,
    ) -> None:
        super().__init__(detail)
        self.model = problem_model(status, kind, title, detail, fields)


def problem_model(
    status: int, kind: str, title: str, detail: str, fields: list[FieldProblem] | None = None
) -> ProblemModel:
    """Build a problem; ``kind`` becomes a relative reference as its type."""
    return ProblemModel(
        type=f"/problems/{kind}",
        title=title,
        status=status,
        detail=detail,
        fields=[FieldModel(pointer=f.pointer, message=f.message) for f in fields or []],
    )


def too_large_problem(most: int) -> ProblemModel:
    """The problem of a request with more bytes than are read."""
    return problem_model(
        413, "too-large", "The request is too large", f"At most {most // 1000} kB are read."
    )


def respond(model: ProblemModel) -> Response:
    """The HTTP response for a problem."""
    body = json.dumps(model.model_dump(exclude_none=True))
    return Response(body, status=model.status, content_type=MEDIA_TYPE)


def register(app: Flask) -> None:
    """Turn every error a view may raise into a problem document."""

    @app.errorhandler(RequestProblem)
    def _request(error: RequestProblem) -> Response:
        return respond(error.model)

    @app.errorhandler(DocumentError)
    def _document(error: DocumentError) -> Response:
        many = len(error.problems)
        title = "A value cannot be used" if many == 1 else f"{many} values cannot be used"
        return respond(problem_model(422, "invalid-plan", title, str(error), error.problems))

    @app.errorhandler(PlanError)
    def _plan(error: PlanError) -> Response:
        field = FieldProblem(error.path, error.message)
        return respond(problem_model(422, "invalid-plan", "The plan cannot be built", str(error), [field]))

    @app.errorhandler(CostlyError)
    def _costly(_: CostlyError) -> Response:
        return Response(status=COSTLY_STATUS)

    @app.errorhandler(ConvergenceError)
    def _convergence(error: ConvergenceError) -> Response:
        return respond(problem_model(422, "no-steady-state", "No steady climate was found", str(error)))

    @app.errorhandler(NotFoundError)
    def _not_found(error: NotFoundError) -> Response:
        title = f"This {error.kind} does not exist"
        return respond(problem_model(404, "not-found", title, str(error)))

    @app.errorhandler(FitError)
    def _fit(error: FitError) -> Response:
        return respond(problem_model(422, "no-fit", "The readings cannot be fitted", str(error)))

    @app.errorhandler(ItemTakenError)
    def _taken(error: ItemTakenError) -> Response:
        return respond(problem_model(409, "id-taken", "There is one of that id", str(error)))

    @app.errorhandler(StaleItemError)
    def _stale_item(error: StaleItemError) -> Response:
        model = problem_model(
            409,
            "stale-revision",
            "It was changed elsewhere",
            f"Your change was {error}. Nothing was changed; look at the newest, then save again.",
        )
        model.head_revision = error.head
        return respond(model)

    @app.errorhandler(FileFormatError)
    def _file(error: FileFormatError) -> Response:
        return respond(problem_model(422, "invalid-file", "The file cannot be used", str(error)))

    @app.errorhandler(StaleRevisionError)
    def _stale(error: StaleRevisionError) -> Response:
        model = problem_model(
            409,
            "stale-revision",
            "The plan was changed elsewhere",
            f"Your change was {error}. Both are stored: the newest, and yours as revision "
            f"{error.refused_as}.",
        )
        model.head_revision, model.refused_as = error.head, error.refused_as
        return respond(model)

    @app.errorhandler(ArchiveError)
    def _archive(error: ArchiveError) -> Response:
        detail = f"{error}. Nothing was changed."
        return respond(problem_model(422, "invalid-archive", "The backup cannot be used", detail))

    @app.errorhandler(StoreError)
    def _store(error: StoreError) -> Response:
        status, kind = 503, "storage"
        if isinstance(error, StoreFullError):
            status, kind = 507, "disk-full"
        elif isinstance(error, StoreReadOnlyError):
            kind = "read-only"
        elif isinstance(error, StoreBusyError):
            kind = "busy"
        log.error("storage: %s", error)
        return respond(problem_model(status, kind, "The data file cannot be used", str(error)))

    @app.errorhandler(sqlite3.Error)
    def _sqlite(error: sqlite3.Error) -> Response:
        log.exception("storage")
        return respond(problem_model(503, "storage", "The data file cannot be used", str(error)))

    @app.errorhandler(RequestEntityTooLarge)
    def _large(_: RequestEntityTooLarge) -> Response:
        limit = request.max_content_length or app.config["MAX_CONTENT_LENGTH"]
        return respond(too_large_problem(limit))

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        status = error.code or 500
        response = respond(problem_model(status, "http", error.name, error.description or error.name))
        for name, value in error.get_headers():
            if name.lower() in ("allow", "www-authenticate", "retry-after"):
                response.headers[name] = value
        return response

    @app.errorhandler(Exception)
    def _unexpected(error: Exception) -> Response:
        log.exception("unexpected error: %s", type(error).__name__)
        return respond(
            problem_model(500, "unexpected", "Something went wrong in Noon Shade", "See the program's log.")
        )
