"""Errors as problem details (RFC 9457)."""

from __future__ import annotations

from typing import Any

import structlog
from flask import Flask, Response, make_response
from pydantic import BaseModel, ValidationError
from werkzeug.exceptions import HTTPException

from nest_crate.catalogue.db.errors import (
    DatabaseBusy,
    DatabaseGone,
    NotAllowed,
    NotFound,
    NotPossible,
    NotSignedIn,
    StaleSave,
)
from nest_crate.catalogue.people.tries import TooManyTries
from nest_crate.catalogue.work.progress import Stopped
from nest_crate.core.cancellation import Cancelled
from nest_crate.core.errors import DocumentError, DocumentTooLarge, FormatError, NestCrateError
from nest_crate.jobs.rendering.errors import RenderersAway, RenderersBusy, RenderTooLarge
from nest_crate.storage.files import FileMissing, StorageAway, StorageError
from nest_crate.web.infra.hosts import UnknownHost

__all__ = ["Problem", "problem_of", "register_problems", "request_problem"]

_log = structlog.get_logger()


class FieldProblemBody(BaseModel):
    """One field's problem."""

    path: str
    message: str
    code: str


class Problem(BaseModel):
    """RFC 9457 with our own ``code``, the fields' ``problems`` and ``details``."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str
    problems: list[FieldProblemBody] = []
    details: dict[str, Any] = {}


def _answer(problem: Problem) -> Response:
    response = make_response(problem.model_dump(), problem.status)
    response.headers["Content-Type"] = "application/problem+json"
    if "retry_after_s" in problem.details:
        response.headers["Retry-After"] = str(problem.details["retry_after_s"])
    return response


def request_problem(error: ValidationError) -> Response:
    """A request whose body, path or query does not fit the contract."""
    problems = [
        FieldProblemBody(
            path=".".join(str(part) for part in item["loc"]),
            message=str(item["msg"]),
            code=str(item["type"]),
        )
        for item in error.errors()
    ]
    detail = "; ".join(f"{item.path}: {item.message}" for item in problems)
    return _answer(
        Problem(
            title="The request is not valid",
            status=422,
            detail=detail,
            code="request_invalid",
            problems=problems,
        )
    )


# What each error is in the words of HTTP: its own line, or that of its nearest class above.
_STATUS: dict[type[NestCrateError], int] = {
    NestCrateError: 400,
    UnknownHost: 400,
    NotSignedIn: 401,
    NotAllowed: 403,
    NotFound: 404,
    FileMissing: 404,
    Cancelled: 409,
    Stopped: 409,
    NotPossible: 409,
    StaleSave: 409,
    DatabaseBusy: 409,
    DocumentTooLarge: 413,
    DocumentError: 422,
    FormatError: 422,
    RenderTooLarge: 422,
    TooManyTries: 429,
    DatabaseGone: 503,
    RenderersAway: 503,
    RenderersBusy: 503,
    StorageAway: 503,
    StorageError: 507,
}


def _status_of(error: NestCrateError) -> int:
    return next(_STATUS[kind] for kind in type(error).__mro__ if kind in _STATUS)


def problem_of(error: NestCrateError) -> Problem:
    """What is answered for an error."""
    problems = error.problems if isinstance(error, DocumentError) else []
    return Problem(
        title=error.title,
        status=_status_of(error),
        detail=error.message,
        code=error.code,
        problems=[FieldProblemBody(**item.as_dict()) for item in problems],
        details=error.details,
    )


def _expected(error: NestCrateError) -> Response:
    return _answer(problem_of(error))


def _http(error: HTTPException) -> Response:
    if error.code == 429:
        detail = "Too many tries from here. Wait a minute, then try again."
        return _answer(
            Problem(title="Too many tries", status=429, detail=detail, code="too_many_tries")
        )
    return _answer(
        Problem(
            title=error.name,
            status=error.code or 500,
            detail=str(error.description),
            code=error.name.lower().replace(" ", "_"),
        )
    )


def _unexpected(error: Exception) -> Response:
    _log.exception("unexpected_error", error=repr(error))
    return _answer(
        Problem(
            title="Something went wrong here",
            status=500,
            detail="The server made a mistake; it is written in its log. Nothing was changed.",
            code="internal",
        )
    )


def register_problems(app: Flask) -> None:
    """Answer every error as a problem."""
    app.register_error_handler(NestCrateError, _expected)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _unexpected)
