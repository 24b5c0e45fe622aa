"""Samples that are the same, or copies of one sound: found, and merged into one."""

from __future__ import annotations

import secrets
import time
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotPossible
from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.db.shared_models import Comment
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.samples.edits import record_change, samples_for
from nest_crate.catalogue.samples.fields import MOST_TAGS
from nest_crate.catalogue.samples.measurement import heard_audio
from nest_crate.catalogue.search import SampleIndex
from nest_crate.core.analysis.features.copies import are_copies, reduced
from nest_crate.core.errors import NestCrateError
from nest_crate.storage import AudioStore

__all__ = ["Duplicates", "Likeness", "duplicates_in", "merge_samples"]

# Copies lie so near in what their bands say, whatever lies in front of them: these are compared by
# their waveforms.
_BANDS = slice(7, 18)
_NEAR = 1.0
# A request is not held longer; a library whose samples are all alike has millions of pairs.
_COMPARED_FOR_S = 20.0
_KEPT_SOUNDS = 400


@dataclass(frozen=True)
class Likeness:
    """Samples that are the same bytes (``exact``), or copies of one sound."""

    exact: bool
    sample_ids: tuple[int, ...]


@dataclass(frozen=True)
class Duplicates:
    """Groups of the same, the exact first; ``complete`` where all that might be were compared."""

    groups: list[Likeness]
    complete: bool


class Comparing:
    """Compares samples by what is heard of them, for a while."""

    def __init__(self, session: Session, store: AudioStore, *, for_s: float) -> None:
        self._session, self._store = session, store
        self._until = time.monotonic() + for_s
        self._sounds: LRUCache[int, NDArray[np.float32]] = LRUCache(_KEPT_SOUNDS)
        self.complete = True

    def copies(self, one: int, other: int) -> bool:
        """Whether two samples are copies; False where the time is up."""
        if time.monotonic() > self._until:
            self.complete = False
            return False
        return are_copies(self._sound(one), self._sound(other))

    def _sound(self, identifier: int) -> NDArray[np.float32]:
        found = self._sounds.get(identifier)
        if found is None:
            try:
                heard = heard_audio(self._store, self._session.get_one(Sample, identifier))
                found = reduced(heard.samples, heard.sample_rate)
            except NestCrateError:
                # A file that is missing is a copy of none; the doctor says so.
                found = np.zeros(0, dtype=np.float32)
            self._sounds[identifier] = found
        return found


def duplicates_in(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    index: SampleIndex,
    library_id: int,
    *,
    for_s: float = _COMPARED_FOR_S,
) -> Duplicates:
    """Groups of exact duplicates and of copies in a library."""
    require_library(session, account, library_id)
    index.refresh(session)
    query = (
        select(Sample.id, Sample.file_digest, Sample.edits)
        .where(Sample.library_id == library_id, Sample.deleted.is_(None))
        .order_by(Sample.id)
    )
    by_bytes: dict[tuple[str, str], list[int]] = defaultdict(list)
    for identifier, digest, edits in session.execute(query):
        by_bytes[digest, repr(sorted((edits or {}).items()))].append(identifier)
    exact = [Likeness(True, tuple(ids)) for ids in by_bytes.values() if len(ids) > 1]
    # Of what is the same one stands for all.
    comparing = Comparing(session, store, for_s=for_s)
    found = _near([ids[0] for ids in by_bytes.values()], index, comparing.copies)
    return Duplicates(exact + found, comparing.complete)


def _near(ids: list[int], index: SampleIndex, copies: Callable[[int, int], bool]) -> list[Likeness]:
    """Groups of copies of the first; the earliest is the first of its group."""
    if not ids:
        return []
    vectors = index.vectors(ids)
    # What is silent has no features to compare.
    free = np.any(vectors != 0.0, axis=1)
    bands = vectors[:, _BANDS]
    tree = cKDTree(bands)
    found = []
    for n in range(len(ids)):
        if not free[n]:
            continue
        near = np.array([k for k in tree.query_ball_point(bands[n], _NEAR) if k > n and free[k]])
        if near.size == 0:
            continue
        nearest = near[np.argsort(((bands[near] - bands[n]) ** 2).sum(axis=1), kind="stable")]
        alike = [k for k in nearest.tolist() if copies(ids[n], ids[k])]
        if alike:
            found.append(Likeness(False, (ids[n], *(ids[k] for k in sorted(alike)))))
            free[alike] = False
    return found


def merge_samples(
    session: Session, account: CurrentAccount, keep_id: int, other_ids: Sequence[int]
) -> str:
    """One sample takes over tags, comments and what it lacks from others, which go to the bin;
    answers the gesture to undo all of it by."""
    if keep_id in other_ids:
        raise NotPossible("A sample cannot be merged into itself")
    kept, *others = samples_for(session, account, [keep_id, *other_ids], "sample.edit", lock=True)
    if len({one.library_id for one in (kept, *others)}) > 1:
        raise NotPossible("Only samples of one library can be merged")
    gesture = secrets.token_hex(8)
    values = _merged(kept, others)
    record_change(session, account, kept, values, gesture=gesture, label="Merged with duplicates")
    for other in others:
        query = select(Comment).where(Comment.sample_id == other.id)
        comments = session.scalars(query.order_by(Comment.id)).all()
        for comment in comments:
            comment.sample_id = keep_id
        moved = {"comments": [[one.id for one in comments], []]} if comments else {}
        record_change(
            session,
            account,
            other,
            {"binned": True},
            gesture=gesture,
            label=f"Merged into {kept.name}",
            beside=moved,
        )
    return gesture


def _merged(kept: Sample, others: Sequence[Sample]) -> dict[str, Any]:
    """The words of one sample with those of others where it has none, and the tags of all."""
    tags = dict.fromkeys(tag for one in (kept, *others) for tag in one.tags)
    values: dict[str, Any] = {"tags": list(tags)[:MOST_TAGS]}
    for name in ("category", "subcategory", "description", "licence", "author"):
        texts = [getattr(one, name) for one in (kept, *others)]
        values[name] = next((text for text in texts if text), "")
    if values["category"] != kept.category:
        values["subcategory"] = next(
            (one.subcategory for one in others if one.category == values["category"]), ""
        )
    elif not kept.subcategory:
        # Of another category a subcategory would say nothing.
        values["subcategory"] = next(
            (one.subcategory for one in others if one.category == kept.category), ""
        )
    return values
