"""What is typical in a library: medians of samples of one kind."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.vocabularies import Vocabularies
from nest_crate.catalogue.search import SampleIndex
from nest_crate.catalogue.sounds.sounds import require_sound

__all__ = ["TypicalLowEnd", "typical_low_end"]


@dataclass(frozen=True)
class TypicalLowEnd:
    """The median share below 120 Hz in dB of so many samples of a kind."""

    kind: str
    median_db: float
    count: int


def typical_low_end(
    session: Session,
    account: CurrentAccount,
    index: SampleIndex,
    vocabularies: Vocabularies,
    sound_id: int,
    name: str,
) -> TypicalLowEnd | None:
    """Of what a sound is by its name and category, in its own library; None of an unknown kind."""
    sound = require_sound(session, account, sound_id)
    category, subcategory = vocabularies.of(session, sound.library_id).guess(name)
    if sound.category and sound.category != category:
        return None
    if not subcategory:
        return None
    index.refresh(session)
    median_db, count = index.median(
        "low_share_db",
        libraries=[sound.library_id],
        category=category,
        subcategory=subcategory,
    )
    return TypicalLowEnd(subcategory, median_db, count)
