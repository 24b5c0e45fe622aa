"""From untrusted text or dictionaries to a valid document, with the path of what is wrong."""

from __future__ import annotations

import json
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from nest_crate.core.errors import DocumentError, DocumentTooLarge, FieldProblem
from nest_crate.core.sound.curve import Curve
from nest_crate.core.sound.document import SCHEMA_VERSION, Sound
from nest_crate.core.sound.kinds import KINDS
from nest_crate.core.sound.parameters import DocumentModel
from nest_crate.core.sound.playing import Hit
from nest_crate.core.sound.processors import Chain, Processor
from nest_crate.core.sound.sources import PartialSet
from nest_crate.core.sound.tempo import beats_of, in_seconds, tempo_of
from nest_crate.core.sound.upgrades import UPGRADES

__all__ = [
    "MAX_DOCUMENT_BYTES",
    "dump_sound",
    "json_object",
    "load_chain",
    "load_curve",
    "load_hit",
    "load_partials",
    "load_sound",
    "load_sound_text",
    "validated",
]

MAX_DOCUMENT_BYTES = 1_000_000

_LISTS_OF_KINDS = ("chain", "low_chain", "movers", "branches")

Model = TypeVar("Model", bound=BaseModel)


def load_sound(data: object) -> Sound:
    """A valid sound from decoded JSON, upgraded from any older version.

    Raises
    ------
    DocumentError
        with the path and rule of every field that is wrong.
    DocumentTooLarge
        where its JSON is over ``MAX_DOCUMENT_BYTES``.
    """
    found = json_object(data, "a sound document", MAX_DOCUMENT_BYTES)
    try:
        return validated(Sound, in_seconds(_upgraded(found)))
    except RecursionError as error:
        raise DocumentError([FieldProblem("", "nested too deeply", "depth")]) from error


def load_sound_text(text: str | bytes) -> Sound:
    """A valid sound from JSON text; raises as ``load_sound`` does."""
    _require_size(len(text), MAX_DOCUMENT_BYTES)
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise DocumentError([FieldProblem("", f"this is not JSON: {error}", "json")]) from error
    return load_sound(data)


def load_hit(data: object) -> Hit:
    """A valid hit from decoded JSON; paths in errors start with ``hit``."""
    if not isinstance(data, dict):
        raise DocumentError([FieldProblem("hit", "a hit is a JSON object", "type")])
    return validated(Hit, data, prefix="hit")


def load_partials(data: object) -> PartialSet:
    """A valid set of partials from decoded JSON; paths in errors start with ``curve``."""
    if not isinstance(data, dict):
        raise DocumentError([FieldProblem("curve", "a set of partials is a JSON object", "type")])
    return validated(PartialSet, data, prefix="curve")


def load_curve(data: object) -> Curve:
    """A valid curve from decoded JSON; paths in errors start with ``curve``."""
    if not isinstance(data, dict):
        raise DocumentError([FieldProblem("curve", "a curve is a JSON object", "type")])
    return validated(Curve, data, prefix="curve")


class _ChainAlone(DocumentModel):
    chain: Chain


def load_chain(data: object) -> tuple[Processor, ...]:
    """A valid chain from decoded JSON; paths in errors start with ``chain``."""
    return validated(_ChainAlone, {"chain": data}).chain


def dump_sound(sound: Sound) -> dict[str, Any]:
    """The document as plain JSON values, every field written out."""
    return sound.model_dump(mode="json")


def json_object(data: object, what: str, most_bytes: int) -> dict[str, Any]:
    """Decoded JSON that is an object of no more than so many bytes.

    Raises
    ------
    DocumentError
        where it is no object or cannot be JSON.
    DocumentTooLarge
        where its JSON is over ``most_bytes``.
    """
    if not isinstance(data, dict):
        raise DocumentError([FieldProblem("", f"{what} is a JSON object", "type")])
    try:
        size = len(json.dumps(data, separators=(",", ":")))
    except (TypeError, ValueError, RecursionError) as error:
        raise DocumentError([FieldProblem("", "this is not JSON", "json")]) from error
    _require_size(size, most_bytes)
    return data


def _require_size(size: int, most_bytes: int) -> None:
    if size > most_bytes:
        words = f"the document has {size:,} bytes; at most {most_bytes:,}"
        raise DocumentTooLarge([FieldProblem("", words, "too_large")])


def _upgraded(data: dict[str, Any]) -> dict[str, Any]:
    # What says nothing is of the first version, which had the same fields.
    version = data.get("schema_version", 1)
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise DocumentError(
            [FieldProblem("schema_version", "must be a whole number from 1", "version")]
        )
    if version > SCHEMA_VERSION:
        message = f"version {version} is newer than this program's {SCHEMA_VERSION}; update it"
        raise DocumentError([FieldProblem("schema_version", message, "version")])
    while version < SCHEMA_VERSION:
        data = UPGRADES[version](data)
        version += 1
    return data


def validated(model: type[Model], data: dict[str, Any], prefix: str = "") -> Model:
    """A valid part of a document; ``DocumentError`` with paths that start with a prefix."""
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise DocumentError([_problem(item, prefix, data) for item in error.errors()]) from error
    except RecursionError as error:
        raise DocumentError([FieldProblem(prefix, "nested too deeply", "depth")]) from error


def _problem(item: Any, prefix: str, data: Any) -> FieldProblem:
    # pydantic puts the tag of a discriminated union into the path; users never wrote it there.
    # A tag stands where a kind is chosen: after a place in a list of kinds, or after "source".
    where = ("", "", *item["loc"])
    parts = [
        str(part)
        for listed, before, part in zip(where, where[1:], where[2:], strict=False)
        if not (part in KINDS and (listed in _LISTS_OF_KINDS or before == "source"))
    ]
    path = ".".join([prefix, *parts] if prefix else parts)
    context = item.get("ctx", {})
    kind = str(item["type"])
    if kind == "union_tag_invalid":
        message = f"unknown kind {context['tag']!r}; known are {context['expected_tags']}"
        path = f"{path}.kind"
    elif kind in {"greater_than_equal", "less_than_equal"}:
        bound = context.get("ge", context.get("le"))
        side = "at least" if kind.startswith("greater") else "at most"
        message = f"{item['input']} is out of range: {side} {bound:g}"
        beats = _kept_as_beats(data, parts)
        if beats is not None:
            message = (
                f"{beats:g} beats are {item['input']:g} s at {tempo_of(data):g} bpm: "
                f"{side} {bound:g} s"
            )
    elif kind == "finite_number":
        message = "must be a finite number"
    elif kind == "extra_forbidden":
        message = "no such field in this version"
    elif kind == "value_error":
        message = str(context["error"])
    else:
        message = str(item["msg"])
    return FieldProblem(path, message, kind)


def _kept_as_beats(data: Any, parts: list[str]) -> float | None:
    """The beats in which a time at a path is kept; None where it is in seconds."""
    for part in parts[:-1]:
        if isinstance(data, list) and part.isdigit():
            data = data[int(part)]
        elif isinstance(data, dict):
            data = data.get(part)
    beats = data.get("in_beats") if isinstance(data, dict) else None
    return beats_of(beats, parts[-1]) if parts else None
