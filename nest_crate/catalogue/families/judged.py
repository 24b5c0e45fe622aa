"""A round looked at as a whole: distances, what stands out, and which members to choose."""

from __future__ import annotations

import math
import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.batch_models import BatchMember, BatchRound
from nest_crate.catalogue.families.rounds import members_of_round
from nest_crate.catalogue.people.accounts import field_error
from nest_crate.core.analysis.features.features import FEATURE_COUNT
from nest_crate.core.families import BatchPlan
from nest_crate.core.families.judging import (
    by_likeness,
    neighbours,
    outliers,
    thin_along,
    thin_apart,
)
from nest_crate.core.families.loading import count_of, load_batch
from nest_crate.core.families.suggesting import PITCHES
from nest_crate.core.units import note_to_hz

__all__ = ["FIGURES", "Judged", "judged", "thinned"]

# By which a ladder can be made and a sheet be ordered.
FIGURES = (
    "length_s",
    "loudness_lufs",
    "peak_db",
    "crest_db",
    "pitch_hz",
    "brightness_hz",
    "decay_s",
    "noisiness",
)
# The likeness of more takes longer than anyone waits; they stay in the plan's order.
_MOST_ORDERED = 2000


@dataclass(frozen=True)
class Judged:
    """Of the members that could be rendered, by number in their order: the nearest other one and
    how far it and the original are, what stands out, and the order by likeness."""

    numbers: list[int]
    nearest: list[int | None]
    nearest_distance: list[float | None]
    original_distance: list[float | None]
    marks: list[list[str]]
    by_likeness: list[int]
    median_distance: float | None


_known: LRUCache[tuple[object, ...], Judged] = LRUCache(8)
_lock = threading.Lock()


def judged(session: Session, made: BatchRound) -> Judged:
    """Judge the members that there are by now; of thousands it is kept until others come."""
    members = BatchMember.round_id == made.id
    counted = select(func.count(), func.max(BatchMember.id)).where(members)
    key = (made.id, *session.execute(counted).one(), len(made.originals))
    with _lock:
        known = _known.get(key)
    if known is None:
        known = _judged(session, made)
        with _lock:
            _known[key] = known
    return known


def _judged(session: Session, made: BatchRound) -> Judged:
    rows = [one for one in members_of_round(session, made) if one.vector]
    if not rows:
        return Judged([], [], [], [], [], [], None)
    vectors = _vectors(rows)
    plan = load_batch(made.plan)
    names = _sounds_by_number(plan, rows)
    found = neighbours(vectors)
    to_original = _to_originals(made, names, vectors)
    whole = type(found)(found.nearest, found.nearest_distance, to_original)
    pitched = any(
        one.target.rsplit(".", 1)[-1] in PITCHES for sound in plan.sounds for one in sound.spreads
    )
    figures = [one.figures for one in rows]
    expected = [
        None if pitched else _expected_hz(made, name, one, _has_notes(plan, name))
        for name, one in zip(names, rows, strict=True)
    ]
    marks = outliers(whole, figures, expected_hz=expected)
    ordered = by_likeness(vectors) if len(rows) <= _MOST_ORDERED else list(range(len(rows)))
    return Judged(
        numbers=[one.number for one in rows],
        nearest=[rows[n].number if n >= 0 else None for n in found.nearest],
        nearest_distance=_plain(found.nearest_distance),
        original_distance=_plain(to_original),
        marks=marks,
        by_likeness=[rows[n].number for n in ordered],
        median_distance=_plain(np.array([found.median]))[0],
    )


def _has_notes(plan: BatchPlan, name: str) -> bool:
    """Whether a sound of the plan has an axis of notes, by which its pitch is expected to move."""
    planned = next(one for one in plan.sounds if one.id == name)
    return any(axis.kind == "note" for axis in planned.axes)


def _vectors(rows: Sequence[BatchMember]) -> NDArray[np.float32]:
    joined = b"".join(one.vector for one in rows)
    return np.frombuffer(joined, dtype=np.float32).reshape(-1, FEATURE_COUNT)


def _sounds_by_number(plan: BatchPlan, rows: Sequence[BatchMember]) -> list[str]:
    """Which sound each member is of: the plan lists one sound's members after the other's."""
    ends, names, total = [], [], 0
    for planned in plan.sounds:
        total += count_of(planned)
        ends.append(total)
        names.append(planned.id)
    places = np.searchsorted(ends, [one.number - 1 for one in rows], side="right")
    return [names[place] for place in places]


def _to_originals(
    made: BatchRound, names: Sequence[str], vectors: NDArray[np.float32]
) -> NDArray[np.float64]:
    found = np.full(len(names), math.nan)
    for name in set(names):
        original = made.originals.get(name)
        if original is None:
            continue
        here = np.array([one == name for one in names])
        difference = vectors[here].astype(np.float64) - np.array(original["vector"])
        found[here] = np.sqrt((difference**2).sum(axis=1))
    return found


def _expected_hz(made: BatchRound, name: str, member: BatchMember, by_note: bool) -> float | None:
    """The pitch of the original, moved to the member's note where notes are an axis; None where the
    original has none."""
    original = made.originals.get(name)
    pitch = original["figures"]["pitch_hz"] if original else None
    if not pitch:
        return None
    if not by_note:
        return float(pitch)
    own = original["note"] if original and "note" in original else None
    return None if own is None else float(pitch * note_to_hz(member.hit["note"]) / note_to_hz(own))


def _plain(values: NDArray[np.float64]) -> list[float | None]:
    return [round(float(one), 4) if math.isfinite(one) else None for one in values]


def thinned(
    session: Session,
    made: BatchRound,
    count: int,
    *,
    by: Literal["apart"] | str = "apart",
    among: Sequence[int] | None = None,
) -> list[int]:
    """Numbers of the members to choose: those that differ most, starting with starred ones, or
    those evenly along a figure. Rejected ones are left out.

    Raises
    ------
    DocumentError
        at ``by`` where there is no such figure.
    """
    if by != "apart" and by not in FIGURES:
        raise field_error("by", f"{by!r} is none of apart, {', '.join(FIGURES)}")
    rows = [
        one
        for one in members_of_round(session, made, among)
        if one.vector and one.verdict != "rejected" and "silent" not in one.flags
    ]
    if not rows or count < 1:
        return []
    if by == "apart":
        starred = [n for n, one in enumerate(rows) if one.starred]
        chosen = thin_apart(_vectors(rows), count, starred)
    else:
        values: list[float | None] = [_figure(one.figures, by) for one in rows]
        chosen = thin_along(values, count)
    return [rows[n].number for n in chosen]


def _figure(figures: Mapping[str, Any], name: str) -> float | None:
    found = figures.get(name)
    return float(found) if isinstance(found, int | float) else None
