"""Routes that check what comes in, say what goes out, and document themselves."""

from __future__ import annotations

import inspect
import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from flask import Blueprint, Response, current_app, request
from pydantic import BaseModel, ValidationError

from noonshade.formats.document import TOO_MANY_DIGITS, Problem, problems_of
from noonshade.formats.lamp_document import LampDocument, lamp_document_from
from noonshade.formats.plan_document import PlanDocument, plan_from
from noonshade.formats.species_document import SpeciesDocument, species_document_from
from noonshade.services.application import Services
from noonshade.services.workers import Priority
from noonshade.web.http.delegation import Pool
from noonshade.web.http.problems import RequestProblem

if TYPE_CHECKING:
    from noonshade.web.app import NoonShade


@dataclass(frozen=True, slots=True)
class Operation:
    """One documented route."""

    method: str
    path: str
    name: str
    summary: str
    request: type[BaseModel] | None
    response: type[BaseModel] | None
    status: int
    problems: tuple[int, ...]
    query: type[BaseModel] | None = None
    media: str = "application/json"
    takes: str | None = None
    largest: int | None = None


OPERATIONS: list[Operation] = []

_DOCUMENTS: dict[Any, Callable[[object], object]] = {
    PlanDocument: plan_from,
    LampDocument: lamp_document_from,
    SpeciesDocument: species_document_from,
}


def operation(
    blueprint: Blueprint,
    method: str,
    path: str,
    *,
    response: type[BaseModel] | None,
    request_model: type[BaseModel] | None = None,
    status: int = 200,
    problems: tuple[int, ...] = (),
    query: type[BaseModel] | None = None,
    media: str = "application/json",
    largest: int | None = None,
    takes: str | None = None,
    pool: Pool | None = None,
    priority: Priority = Priority.ASKED,
) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Register a view under ``/api`` with its models.

    A view with a parameter ``services`` gets the application's services, then the checked body if there is
    a request model, or the checked query string if there is a query model. ``largest`` is how many bytes are
    read where files are sent, and ``takes`` the media type of a file that the view reads itself.
    ``pool`` is which processes answer it where there are any; such a view reads stored data but writes none.
    It returns a model, or a Flask response of type ``media``.
    """  # noqa: E501

    def decorate(view: Callable[..., Any]) -> Callable[..., Any]:
        body_problems: tuple[int, ...] = (400, 413, 415, 422) if request_model is not None else ()
        if query is not None:
            body_problems = (422,)
        if takes is not None:
            body_problems = (*body_problems, 413)
        if pool is not None:
            # Too many wait, or it takes too long.
            body_problems = (*body_problems, 503)
        summary = (inspect.getdoc(view) or "").split("\n")[0]
        entry = Operation(
            method,
            path,
            view.__name__,
            summary,
            request_model,
            response,
            status,
            tuple(sorted({*problems, *body_problems})),
            query,
            media,
            takes,
            largest,
        )
        if entry not in OPERATIONS:
            OPERATIONS.append(entry)

        takes_services = "services" in inspect.signature(view).parameters

        def handle(**values: Any) -> Response:
            if largest is not None:
                request.max_content_length = largest
            delegate, services = _app().delegate, _services()
            if pool is not None and delegate is not None:
                return delegate.answer(pool, priority, services.library.generation)
            arguments: tuple[Any, ...] = ()
            if request_model is not None:
                arguments = (read_body(request_model),)
            elif query is not None:
                arguments = (read_query(query),)
            if takes_services:
                arguments = (services, *arguments)
            result = view(*arguments, **values)
            if isinstance(result, Response):
                return result
            if result is None:
                return Response(status=204)
            return Response(result.model_dump_json(), status, content_type="application/json")

        blueprint.add_url_rule(path, view.__name__, handle, methods=[method])
        return view

    return decorate


def _app() -> NoonShade:
    app: NoonShade = current_app._get_current_object()  # type: ignore[attr-defined]
    return app


def _services() -> Services:
    return _app().services


def read_body(model: type[BaseModel]) -> BaseModel:
    """Parse and check the request's JSON body."""
    if request.mimetype != "application/json":
        raise RequestProblem(
            415,
            "content-type",
            "The content type is not understood",
            f"{request.mimetype or 'none'} was sent; application/json is read here.",
        )
    try:
        raw = json.loads(request.get_data(), parse_constant=_refuse_constant)
    except (json.JSONDecodeError, UnicodeDecodeError, RecursionError) as error:
        raise RequestProblem(400, "not-json", "The request is not valid JSON", str(error)[:200]) from error
    except ValueError as error:
        problem = Problem("", TOO_MANY_DIGITS)
        raise RequestProblem(
            422, "invalid-request", "A value cannot be used", TOO_MANY_DIGITS, [problem]
        ) from error
    if isinstance(raw, dict) and "document" in raw and "document" in model.model_fields:
        # First, so that a foreign file or another version is named as such, with its pointers
        # counted from the document.
        _DOCUMENTS[model.model_fields["document"].annotation](raw["document"])
    try:
        # A number is no text, and a switch no number.
        return model.model_validate(raw, strict=True)
    except ValidationError as error:
        found = problems_of(error, raw)
        detail = "; ".join(f"{p.pointer}: {p.message}" for p in found)
        raise RequestProblem(422, "invalid-request", "A value cannot be used", detail, found) from error


def read_query(model: type[BaseModel]) -> BaseModel:
    """Parse and check the query, the part of the address after the question mark."""
    raw: dict[str, object] = dict(request.args)
    try:
        return model.model_validate(raw)
    except ValidationError as error:
        found = problems_of(error, raw)
        detail = "; ".join(f"{p.pointer}: {p.message}" for p in found)
        raise RequestProblem(422, "invalid-request", "A value cannot be used", detail, found) from error


def _refuse_constant(name: str) -> float:
    problem = Problem("", f"{name} is not a JSON number; only finite numbers are allowed")
    raise RequestProblem(422, "invalid-request", "A value cannot be used", problem.message, [problem])
