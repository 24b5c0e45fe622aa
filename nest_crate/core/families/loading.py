"""From untrusted dictionaries to a valid plan, with the path of what is wrong."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from nest_crate.core.engine import SAMPLE_RATES
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.families.document import BATCH_VERSION, MAX_MEMBERS, BatchPlan, PlannedSound
from nest_crate.core.sound import Sound
from nest_crate.core.sound.loading import json_object, validated
from nest_crate.core.sound.targets import targets_of

__all__ = ["MAX_BATCH_BYTES", "count_of", "dump_batch", "load_batch", "require_runnable"]

MAX_BATCH_BYTES = 8_000_000


def load_batch(data: object) -> BatchPlan:
    """A valid plan from decoded JSON.

    Raises
    ------
    DocumentError
        with the path and rule of every field that is wrong.
    DocumentTooLarge
        where its JSON is over ``MAX_BATCH_BYTES``.
    """
    found = json_object(data, "a batch plan", MAX_BATCH_BYTES)
    version = found.get("schema_version", BATCH_VERSION)
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DocumentError(
            [FieldProblem("schema_version", "must be a whole number from 1", "version")]
        )
    if version > BATCH_VERSION:
        words = f"version {version} is newer than this program's {BATCH_VERSION}; update it"
        raise DocumentError([FieldProblem("schema_version", words, "version")])
    try:
        return validated(BatchPlan, found)
    except RecursionError as error:
        raise DocumentError([FieldProblem("", "nested too deeply", "depth")]) from error


def dump_batch(plan: BatchPlan) -> dict[str, Any]:
    """The document as plain JSON values, every field written out."""
    return plan.model_dump(mode="json")


def count_of(planned: PlannedSound) -> int:
    """How many members a sound of a plan has, without making any."""
    count = planned.draws if planned.spreads else 1
    for axis in planned.axes:
        count *= axis.count
    return count


def require_runnable(plan: BatchPlan, sounds: Mapping[str, Sound]) -> None:
    """Refuse a plan that has too many members or names what its sounds do not have.

    Raises
    ------
    DocumentError
        with the path of each field.
    """
    problems: list[FieldProblem] = []
    total = 0
    for index, planned in enumerate(plan.sounds):
        total += count_of(planned)
        sound = sounds.get(planned.id)
        path = f"sounds.{index}"
        if sound is None:
            words = "this sound is gone, or you may no longer see it"
            problems.append(FieldProblem(path, words, "sound"))
            continue
        macros = {mover.id for mover in sound.movers if mover.kind == "macro"}
        for n, axis in enumerate(planned.axes):
            if axis.kind == "macro" and axis.macro not in macros:
                words = f"{sound.name} has no macro {axis.macro!r}; remove the axis"
                problems.append(FieldProblem(f"{path}.axes.{n}", words, "macro"))
            rates = axis.steps() if axis.kind == "rate" and axis.count <= 512 else ()
            if any(rate not in SAMPLE_RATES for rate in rates):
                known = ", ".join(f"{rate}" for rate in SAMPLE_RATES)
                words = f"rates are {known} Hz"
                problems.append(FieldProblem(f"{path}.axes.{n}", words, "rate"))
        targets = targets_of(sound) if planned.spreads else {}
        for n, spread in enumerate(planned.spreads):
            if spread.target not in targets:
                words = f"{sound.name} has no {spread.target!r}; remove the spread"
                problems.append(FieldProblem(f"{path}.spreads.{n}", words, "target"))
    if total > MAX_MEMBERS:
        problems.insert(0, _too_many(plan, total))
    if problems:
        raise DocumentError(problems)


def _too_many(plan: BatchPlan, total: int) -> FieldProblem:
    """The count, and what to shorten: the longest thing that is multiplied."""
    factors = [
        (axis.count, f"the {axis.kind} axis ({axis.count} values)", f"sounds.{index}.axes.{n}")
        for index, planned in enumerate(plan.sounds)
        for n, axis in enumerate(planned.axes)
    ]
    factors += [
        (planned.draws, f"the draws ({planned.draws})", f"sounds.{index}.draws")
        for index, planned in enumerate(plan.sounds)
        if planned.spreads
    ]
    _, longest, path = max(factors)
    words = f"{total:,} members, at most {MAX_MEMBERS:,}; shorten {longest} first"
    return FieldProblem(path, words, "too_many")
