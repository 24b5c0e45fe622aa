"""Sounds: drafts that nobody overwrites, and revisions kept on purpose."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import ColumnElement, delete, func, not_, select, update
from sqlalchemy.orm import Session, defer, joinedload, load_only, selectinload

from nest_crate.catalogue.db.errors import NotFound, StaleSave
from nest_crate.catalogue.db.models import Sample, Sound, SoundRevision, Take, utc_now
from nest_crate.catalogue.db.shared_models import ShareLink, Wish
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library, visible_library_ids
from nest_crate.catalogue.people.permissions import Action
from nest_crate.catalogue.people.vocabularies import Vocabularies
from nest_crate.catalogue.sounds.hearing import note_recordings
from nest_crate.core.sound import Sound as SoundDocument
from nest_crate.core.sound import dump_sound, load_sound

__all__ = [
    "FORGOTTEN_AFTER",
    "Made",
    "bin_sound",
    "create_sound",
    "current_document",
    "describe_sound",
    "document_digest",
    "duplicate_sound",
    "keep_revision",
    "made_from",
    "move_sound",
    "require_sound",
    "revisions_of",
    "save_draft",
    "sounds_of",
]

# A page that has an untouched draft open so long is not there any more.
FORGOTTEN_AFTER = timedelta(days=30)


def document_digest(document: dict[str, Any]) -> str:
    """SHA-256 of a document's canonical JSON."""
    text = json.dumps(document, sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


def current_document(stored: dict[str, Any]) -> dict[str, Any]:
    """A stored document as this program writes it: upgraded, every field written out."""
    return dump_sound(load_sound(stored))


def create_sound(
    session: Session,
    account: CurrentAccount,
    *,
    library_id: int,
    document: SoundDocument,
    private: bool = False,
) -> Sound:
    """A new sound in a library, with its document as the draft.

    A private one is seen by the account alone until it is named, kept or moved to a library, and
    is listed once it was changed.
    """
    require_library(session, account, library_id, "sound.edit")
    if private:
        _remove_forgotten(session, account)
    sound = Sound(
        library_id=library_id,
        private_to_id=account.id if private else None,
        name=document.name,
        draft=dump_sound(document),
        changed_by_id=account.id,
    )
    session.add(sound)
    session.flush()
    note_recordings(session, account, sound)
    return sound


def _is_untouched() -> ColumnElement[bool]:
    """Condition on a private draft that nobody changed since it was made."""
    return Sound.private_to_id.is_not(None) & (Sound.draft_version == 1)


def _remove_forgotten(session: Session, account: CurrentAccount) -> None:
    """Remove the account's drafts that were left untouched so long that no page has them open."""
    before = utc_now() - FORGOTTEN_AFTER
    session.execute(
        delete(Sound).where(
            Sound.private_to_id == account.id, _is_untouched(), Sound.changed < before
        )
    )


def sounds_of(
    session: Session, account: CurrentAccount, *, binned: bool = False
) -> Sequence[Sound]:
    """All sounds in the libraries that the account may see, newest change first; or those in the
    bin. Private drafts are listed for their author, once they were changed."""
    query = (
        select(Sound)
        .where(Sound.library_id.in_(visible_library_ids(session, account)))
        .where(Sound.private_to_id.is_(None) | (Sound.private_to_id == account.id))
        .where(not_(_is_untouched()))
        .where(Sound.deleted.is_not(None) if binned else Sound.deleted.is_(None))
        # A list shows no documents, which are most of a row.
        .options(
            defer(Sound.draft),
            joinedload(Sound.library),
            selectinload(Sound.revisions).load_only(SoundRevision.sound_id, SoundRevision.number),
        )
        .order_by(Sound.changed.desc(), Sound.id)
    )
    return session.scalars(query).all()


def require_sound(
    session: Session,
    account: CurrentAccount,
    sound_id: int,
    action: Action = "library.see",
    *,
    lock: bool = False,
    binned: bool = False,
) -> Sound:
    """The sound, where the account may see it (or do ``action``); ``lock`` it until the commit."""
    sound = session.get(Sound, sound_id, with_for_update=lock)
    if (
        sound is None
        or (sound.deleted is not None and not binned)
        or sound.private_to_id not in (None, account.id)
    ):
        raise NotFound(f"There is no sound {sound_id}")
    require_library(session, account, sound.library_id, action)
    return sound


@dataclass(frozen=True)
class Made:
    """Of a sound: how many samples were made from it, and the newest of them."""

    count: int
    newest: Sample


def made_from(session: Session, sound_ids: Sequence[int]) -> dict[int, Made]:
    """What was made from each sound, where anything was; samples in the bin do not count."""
    query = (
        select(SoundRevision.sound_id, func.count(), func.max(Sample.id))
        .join(Take, Take.revision_id == SoundRevision.id)
        .join(Sample, Sample.take_id == Take.id)
        .where(SoundRevision.sound_id.in_(sound_ids), Sample.deleted.is_(None))
        .group_by(SoundRevision.sound_id)
    )
    found = [tuple(row) for row in session.execute(query)]
    rows = session.scalars(
        select(Sample)
        .where(Sample.id.in_([newest for _, _, newest in found]))
        # What a list draws of it.
        .options(load_only(Sample.id, Sample.length_s, Sample.outline))
    )
    samples = {sample.id: sample for sample in rows}
    return {sound: Made(count, samples[newest]) for sound, count, newest in found}


def describe_sound(
    session: Session,
    account: CurrentAccount,
    sound_id: int,
    *,
    category: str | None = None,
    tags: Sequence[str] | None = None,
    description: str | None = None,
    vocabularies: Vocabularies,
) -> Sound:
    """What the catalogue says of a sound; what is None stays."""
    sound = require_sound(session, account, sound_id, "sound.edit", lock=True)
    if category is not None:
        vocabularies.of(session, sound.library_id).require(category, "")
        sound.category = category
    if tags is not None:
        sound.tags = list(tags)
    if description is not None:
        sound.description = description
    return sound


def duplicate_sound(
    session: Session, account: CurrentAccount, sound_id: int, *, library_id: int | None = None
) -> Sound:
    """A copy of a sound's draft with its details, in its library or another."""
    sound = require_sound(session, account, sound_id)
    document = load_sound(sound.draft)
    copy = document.model_copy(update={"name": f"{document.name[:115]} copy"})
    made = create_sound(
        session,
        account,
        library_id=sound.library_id if library_id is None else library_id,
        document=copy,
    )
    made.category, made.tags, made.description = sound.category, sound.tags, sound.description
    return made


def move_sound(session: Session, account: CurrentAccount, sound_id: int, library_id: int) -> Sound:
    """Move a sound with its links to a library, where its members see it; its samples stay.

    Requests of other libraries that it answered are open again, for not all who see them could see
    it there.
    """
    sound = require_sound(session, account, sound_id, "sound.edit", lock=True)
    require_library(session, account, library_id, "sound.edit")
    sound.library_id = library_id
    sound.private_to_id = None
    links = update(ShareLink).where(ShareLink.sound_id == sound_id)
    session.execute(links.values(library_id=library_id))
    answered = update(Wish).where(Wish.sound_id == sound_id, Wish.library_id != library_id)
    session.execute(answered.values(sound_id=None, state="open"))
    session.flush()
    session.refresh(sound, ["library"])
    return sound


def bin_sound(session: Session, account: CurrentAccount, sound_id: int, *, binned: bool) -> None:
    """Put a sound into the bin, or take it out; its samples stay."""
    sound = require_sound(session, account, sound_id, "sound.edit", lock=True, binned=True)
    sound.deleted = utc_now() if binned else None


def save_draft(
    session: Session,
    account: CurrentAccount,
    sound_id: int,
    *,
    base_version: int,
    document: SoundDocument,
) -> Sound:
    """Save a draft that was started from ``base_version``.

    Raises
    ------
    StaleSave
        where someone saved in between: details hold ``saved`` and ``yours``, each with its
        version and document. Nothing is changed.
    """
    sound = require_sound(session, account, sound_id, "sound.edit", lock=True)
    data = dump_sound(document)
    if base_version != sound.draft_version:
        if data == current_document(sound.draft):
            # The same save once more, its answer having been lost on the way.
            return sound
        raise StaleSave(
            f"{sound.changed_by.name} saved this sound in the meantime",
            details={
                "saved": {
                    "version": sound.draft_version,
                    "document": current_document(sound.draft),
                },
                "yours": {"version": base_version, "document": data},
            },
        )
    if data != sound.draft:
        sound.draft = data
        if document.name != sound.name:
            # What has a name of its own is meant to stay.
            sound.private_to_id = None
        sound.name = document.name
        sound.draft_version += 1
        sound.changed = utc_now()
        sound.changed_by_id = account.id
        note_recordings(session, account, sound)
    return sound


def revisions_of(
    session: Session, account: CurrentAccount, sound_id: int
) -> Sequence[SoundRevision]:
    """All kept revisions of a sound, newest first."""
    require_sound(session, account, sound_id)
    query = (
        select(SoundRevision)
        .where(SoundRevision.sound_id == sound_id)
        .options(joinedload(SoundRevision.created_by))
        .order_by(SoundRevision.number.desc())
    )
    return session.scalars(query).all()


def keep_revision(
    session: Session, account: CurrentAccount, sound: Sound, *, note: str = ""
) -> SoundRevision:
    """The draft as a numbered revision; the newest one where the draft has not changed since.

    A note given for an unchanged draft is put on that newest revision where it had none.
    """
    sound.private_to_id = None
    digest = document_digest(sound.draft)
    newest = session.scalar(
        select(SoundRevision)
        .where(SoundRevision.sound_id == sound.id)
        .order_by(SoundRevision.number.desc())
        .limit(1)
    )
    if newest is not None and newest.digest == digest:
        if note and not newest.note:
            newest.note = note
        return newest
    revision = SoundRevision(
        sound_id=sound.id,
        number=1 if newest is None else newest.number + 1,
        document=sound.draft,
        digest=digest,
        note=note,
        created_by_id=account.id,
    )
    session.add(revision)
    session.flush()
    return revision
