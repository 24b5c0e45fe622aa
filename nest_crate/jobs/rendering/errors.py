"""Errors of a render worker as they travel to the process that asked."""

from __future__ import annotations

from typing import Any, Literal

from nest_crate.core.cancellation import Cancelled
from nest_crate.core.errors import (
    DocumentError,
    DocumentTooLarge,
    FieldProblem,
    FormatError,
    NestCrateError,
)
from nest_crate.storage import FileMissing, StorageAway, StorageError

__all__ = [
    "RenderFailed",
    "RenderTooLarge",
    "RenderersAway",
    "RenderersBusy",
    "Replaced",
    "Why",
    "ended_early",
    "packed",
    "unpacked",
]


class RenderersBusy(NestCrateError):
    """More waits than can be done soon; ``details["retry_after_s"]`` says when to come back."""

    code = "renderers_busy"
    title = "The server is busy"


class RenderersAway(NestCrateError):
    """No render worker can be reached at the moment."""

    code = "renderers_away"
    title = "Rendering is not possible at the moment"


class Replaced(Cancelled):
    """A newer state of the same sound came before this one was done."""

    code = "replaced"
    title = "A newer state is being rendered"


class RenderTooLarge(NestCrateError):
    """A render passed its limit of memory or time."""

    code = "render_too_large"
    title = "The sound takes too much to render"


class RenderFailed(RuntimeError):
    """A bug in a worker; its log says more."""


_BY_CODE: dict[str, type[NestCrateError]] = {
    kind.code: kind
    for kind in (
        Cancelled,
        FileMissing,
        FormatError,
        RenderTooLarge,
        RenderersAway,
        RenderersBusy,
        Replaced,
        StorageAway,
        StorageError,
    )
}
_OF_DOCUMENTS: dict[str, type[DocumentError]] = {
    kind.code: kind for kind in (DocumentError, DocumentTooLarge)
}


# Why a job is ended before it is done: nobody waits, a newer one came, it takes too long.
Why = Literal["left", "replaced", "late"]


def ended_early(why: Why) -> NestCrateError:
    """What is said where a job was ended early."""
    if why == "replaced":
        return Replaced("A newer state came")
    if why == "late":
        return RenderTooLarge(
            "The sound took longer to render than a render may. Shorten it, or use fewer layers."
        )
    return Cancelled("Nobody waits for this any more")


def packed(error: NestCrateError) -> dict[str, Any]:
    """An error as JSON."""
    problems = error.problems if isinstance(error, DocumentError) else []
    return {
        "code": error.code,
        "message": error.message,
        "details": error.details,
        "problems": [one.as_dict() for one in problems],
    }


def unpacked(given: dict[str, Any]) -> Exception:
    """The error again, to be raised; a bug of the worker is one here too."""
    code, message = given["code"], given["message"]
    if code in _OF_DOCUMENTS:
        return _OF_DOCUMENTS[code]([FieldProblem(**one) for one in given["problems"]])
    if code in _BY_CODE:
        return _BY_CODE[code](message, details=given["details"])
    if code == "internal":
        return RenderFailed(message)
    return NestCrateError(message, details=given["details"])
