"""The demo's catalogue as people would have left it: described, reviewed, released."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.people.accounts import CurrentAccount, account_by_handle
from nest_crate.catalogue.people.vocabularies import Vocabularies
from nest_crate.catalogue.releases.releases import make_release
from nest_crate.catalogue.samples.comments import add_comment, answer_wish, make_wish
from nest_crate.catalogue.samples.edits import change_samples, move_samples
from nest_crate.catalogue.samples.fields import SampleChanges
from nest_crate.catalogue.search import SampleQuery
from nest_crate.catalogue.search.account_search import keep_search
from nest_crate.core.analysis.features.tags import suggested_tags
from nest_crate.storage import AudioStore

__all__ = ["describe_demo"]

# Of every five, by name: three are approved, one waits for review, one is a draft.
_STATES: tuple[Literal["approved", "in_review", "draft"], ...] = (
    "approved",
    "approved",
    "in_review",
    "approved",
    "draft",
)
_PLACES = {
    "kiln": "kiln room",
    "potting": "potting bench",
    "boiler": "boiler room",
    "moth": "moth house",
    "glass": "glasshouse",
    "steam": "boiler room",
    "pendulum": "clock tower",
    "gear": "clock tower",
    "root": "root cellar",
    "cistern": "root cellar",
}


@dataclass(frozen=True)
class _People:
    owner: CurrentAccount
    editor: CurrentAccount
    reviewer: CurrentAccount
    listener: CurrentAccount


def _people(session: Session) -> _People:
    owner, editor, reviewer, listener = (
        account_by_handle(session, handle) for handle in ("demo", "isolde", "tam", "juniper")
    )
    return _People(owner, editor, reviewer, listener)


def describe_demo(database: Database, store: AudioStore, library_id: int) -> None:
    """Words, reviews, a release, a comment and wishes, each by whom it is due, through the
    services."""
    with database.session() as session:
        people = _people(session)
        query = select(Sample).where(Sample.library_id == library_id)
        samples = list(session.scalars(query.order_by(Sample.name, Sample.id)))
        for sample in samples:
            _describe(session, people.editor, sample)
        _review(session, people, samples)
    make_release(
        database,
        store,
        people.owner,
        library_id,
        number="1.0.0",
        note="The first sounds for the greenhouse level.",
    )
    with database.session() as session:
        _talk(session, people, library_id, samples)


def _describe(session: Session, editor: CurrentAccount, sample: Sample) -> None:
    vocabularies = Vocabularies()
    category, subcategory = vocabularies.servers.guess(sample.name)
    tags = [place for word, place in _PLACES.items() if word in sample.name.lower()]
    measured = suggested_tags(
        length_s=sample.length_s,
        channels=sample.channels,
        note=None,
        brightness_hz=sample.brightness_hz,
        noisiness=sample.noisiness,
        low_share_db=sample.low_share_db,
        loudness_lufs=sample.loudness_lufs,
        loopable=False,
    )
    changes = SampleChanges(
        category=category or "machine",
        subcategory=subcategory if category else "mechanism",
        tags=[*tags, *measured[:3]],
        licence="Glasshouse Clockworks only",
    )
    change_samples(session, editor, [sample.id], changes, vocabularies=vocabularies)


def _review(session: Session, people: _People, samples: list[Sample]) -> None:
    single = [one for one in samples if not one.variation_group]
    # Variations that try-outs use are approved.
    states = {one.id: "approved" for one in samples} | {
        one.id: _STATES[n % len(_STATES)] for n, one in enumerate(single)
    }
    offered = [key for key, state in states.items() if state != "draft"]
    move_samples(session, people.editor, offered, "in_review")
    approved = [key for key, state in states.items() if state == "approved"]
    move_samples(session, people.reviewer, approved, "approved")


def _talk(session: Session, people: _People, library_id: int, samples: list[Sample]) -> None:
    kick = next((one for one in samples if "kick" in one.name.lower()), samples[0])
    add_comment(
        session,
        people.reviewer,
        kick.id,
        text="The hinge is just right here; leave the click.",
        at_s=min(0.012, kick.length_s),
    )
    make_wish(
        session,
        people.listener,
        library_id,
        title="A door that will not shut",
        text="Two or three wooden knocks and a tired latch, for the potting shed.",
    )
    bell = next((one for one in samples if "bell" in one.name.lower()), samples[0])
    wish = make_wish(
        session,
        people.listener,
        library_id,
        title="A bell for the pollen clock",
        text="High, thin.",
    )
    answer_wish(session, people.editor, wish.id, sample_id=bell.id)
    keep_search(
        session,
        people.owner,
        name="Short and low",
        query=SampleQuery(libraries=[library_id], ranges={"length_s": (None, 0.8)}, tags=["low"]),
    )
