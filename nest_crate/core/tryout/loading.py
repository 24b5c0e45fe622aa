"""From untrusted dictionaries to a valid try-out, with the path of what is wrong."""

from __future__ import annotations

from typing import Any

from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.sound.loading import json_object, validated
from nest_crate.core.sound.tempo import in_seconds
from nest_crate.core.tryout.document import TRYOUT_VERSION, TryOut

__all__ = ["MAX_TRYOUT_BYTES", "dump_tryout", "load_tryout"]

MAX_TRYOUT_BYTES = 4_000_000


def load_tryout(data: object) -> TryOut:
    """A valid try-out from decoded JSON.

    Raises
    ------
    DocumentError
        with the path and rule of every field that is wrong.
    DocumentTooLarge
        where its JSON is over ``MAX_TRYOUT_BYTES``.
    """
    found = json_object(data, "a try-out", MAX_TRYOUT_BYTES)
    version = found.get("schema_version", TRYOUT_VERSION)
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DocumentError(
            [FieldProblem("schema_version", "must be a whole number from 1", "version")]
        )
    if version > TRYOUT_VERSION:
        words = f"version {version} is newer than this program's {TRYOUT_VERSION}; update it"
        raise DocumentError([FieldProblem("schema_version", words, "version")])
    try:
        return validated(TryOut, in_seconds(found))
    except RecursionError as error:
        raise DocumentError([FieldProblem("", "nested too deeply", "depth")]) from error


def dump_tryout(tryout: TryOut) -> dict[str, Any]:
    """The document as plain JSON values, every field written out."""
    return tryout.model_dump(mode="json")
