"""What a library's samples lack, and what is odd about them."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.people.vocabulary import Vocabulary
from nest_crate.core.units import hz_to_note

__all__ = ["Gap", "gaps_in"]


@dataclass(frozen=True)
class Gap:
    """What is missing or odd, and the samples of which it is."""

    code: str
    text: str
    sample_ids: tuple[int, ...]


# What the rules look at; whole rows of a large library would take several times as long.
_LOOKED_AT = (
    Sample.id,
    Sample.name,
    Sample.category,
    Sample.subcategory,
    Sample.tags,
    Sample.licence,
    Sample.peak_db,
    Sample.true_peak_db,
    Sample.variation_group,
    Sample.variation,
    Sample.length_s,
    Sample.loop_start_s,
    Sample.loop_end_s,
    Sample.follows_key,
    Sample.root_note,
    Sample.fundamental_hz,
)


def gaps_in(
    session: Session, account: CurrentAccount, library_id: int, vocabulary: Vocabulary
) -> list[Gap]:
    """Missing and odd metadata of a library; empty where all is well."""
    require_library(session, account, library_id)
    query = select(*_LOOKED_AT).where(Sample.library_id == library_id, Sample.deleted.is_(None))
    samples = session.execute(query.order_by(Sample.id)).all()
    names = Counter(one.name.lower() for one in samples)
    rules = (
        ("no_category", "have no category", lambda s: not s.category),
        (
            "other_words",
            "have a category that is not in the vocabulary",
            lambda s: not vocabulary.knows(s.category, s.subcategory),
        ),
        ("no_tags", "have no tags", lambda s: not s.tags),
        ("no_licence", "have no licence", lambda s: not s.licence),
        ("same_name", "have the same name as another", lambda s: names[s.name.lower()] > 1),
        ("silent", "are silent", lambda s: s.peak_db <= -144.0),
        ("over", "exceed full scale", lambda s: s.true_peak_db > 0.0),
        ("group_without_number", "are in a group without a number", _unnumbered),
        ("odd_loop", "have a loop outside the sound", _odd_loop),
        ("root_far", "are a semitone or more off their root note", _far_from_root),
    )
    found = []
    for code, text, odd in rules:
        ids = tuple(one.id for one in samples if odd(one))
        if ids:
            found.append(Gap(code, text, ids))
    return found


def _unnumbered(sample: Any) -> bool:
    return bool(sample.variation_group) and sample.variation is None


def _odd_loop(sample: Any) -> bool:
    start, end = sample.loop_start_s, sample.loop_end_s
    if start is None and end is None:
        return False
    return start is None or end is None or not 0.0 <= start < end <= sample.length_s + 1e-6


def _far_from_root(sample: Any) -> bool:
    """Only of what follows the keys does it matter."""
    if not sample.follows_key or sample.root_note is None or not sample.fundamental_hz:
        return False
    # Which octave is heard as the pitch is a matter of taste.
    off = (hz_to_note(float(sample.fundamental_hz)) - sample.root_note + 6.0) % 12.0 - 6.0
    return bool(abs(off) >= 1.0)
