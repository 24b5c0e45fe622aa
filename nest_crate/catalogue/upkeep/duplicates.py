"""Samples that are the same, or nearly identical: found, and merged into one."""

from __future__ import annotations

import secrets
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
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
from nest_crate.catalogue.search import SampleIndex

__all__ = ["Likeness", "duplicates_in", "merge_samples"]

# Vectors nearer than this are of sounds that are nearly identical.
_NEAR = 0.35


@dataclass(frozen=True)
class Likeness:
    """Samples that are the same bytes (``exact``), or nearly identical."""

    exact: bool
    sample_ids: tuple[int, ...]


def duplicates_in(
    session: Session, account: CurrentAccount, index: SampleIndex, library_id: int
) -> list[Likeness]:
    """Groups of exact and of near duplicates in a library, the exact first."""
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
    return exact + _near([ids[0] for ids in by_bytes.values()], index)


def _near(ids: list[int], index: SampleIndex) -> list[Likeness]:
    """Groups of which each is near to the first; the earliest is the first of its group."""
    if not ids:
        return []
    vectors = index.vectors(ids)
    # What is silent has no features to compare.
    free = np.any(vectors != 0.0, axis=1)
    tree = cKDTree(vectors)
    found = []
    for n in range(len(ids)):
        if not free[n]:
            continue
        near = [k for k in tree.query_ball_point(vectors[n], _NEAR) if k > n and free[k]]
        if near:
            found.append(Likeness(False, (ids[n], *(ids[k] for k in sorted(near)))))
            free[near] = False
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
