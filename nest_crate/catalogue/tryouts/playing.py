"""What the parts of a try-out play, for the account that asks: from keys to documents and files.

What is not there any more, or may not be heard, is named with the reason; its part is silent.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import Sample, SoundRevision
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.sounds.hearing import files_of_sound
from nest_crate.catalogue.sounds.sounds import current_document, require_sound
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.core.tryout import Part, PlaysSound, TryOut

__all__ = ["Played", "PlayedSample", "PlayedSound", "what_is_played"]


@dataclass(frozen=True)
class PlayedSound:
    """A sound that parts play, as its revision or draft is."""

    name: str
    document: dict[str, Any]
    version: str
    """Changes with the document: a revision's number, or the draft's."""


@dataclass(frozen=True)
class PlayedSample:
    """A sample that parts play: its stored file and what is done to it when it is heard."""

    name: str
    digest: str
    edits: dict[str, float]
    length_s: float
    group: str
    tempo_bpm: float | None
    version: int


@dataclass(frozen=True)
class Played:
    """All that a try-out plays, and what of it is missing, by part."""

    sounds: Mapping[str, PlayedSound] = field(default_factory=dict)
    samples: Mapping[int, PlayedSample] = field(default_factory=dict)
    missing: Mapping[str, str] = field(default_factory=dict)


def what_is_played(
    session: Session,
    account: CurrentAccount,
    tryout: TryOut,
    drafts: Mapping[int, dict[str, Any]] | None = None,
) -> Played:
    """Everything that the parts of a try-out play and the account may hear.

    Parameters
    ----------
    drafts
        by id, documents of sounds that are being edited and not saved yet; the caller has checked
        them. They stand for the drafts, not for kept revisions.
    """
    drafts = drafts or {}
    sounds: dict[str, PlayedSound] = {}
    samples: dict[int, PlayedSample] = {}
    missing: dict[str, str] = {}
    for part in tryout.parts:
        try:
            if isinstance(part.plays, PlaysSound):
                key = part.plays.key
                if key not in sounds:
                    sounds[key] = _sound(session, account, part.plays, drafts)
            else:
                samples.update(_samples(session, account, part, samples))
        except NotFound as error:
            missing[part.id] = error.message
    for part in tryout.parts:
        gone = [one for one in part.sample_ids if one not in samples]
        if gone and part.id not in missing:
            missing[part.id] = _gone_words(len(gone), len(part.sample_ids))
    return Played(sounds, samples, missing)


def _gone_words(gone: int, of: int) -> str:
    if of == 1:
        return "The sample is in the bin, or you may no longer hear it"
    return f"{gone} of {of} samples are in the bin, or you may no longer hear them"


def _sound(
    session: Session,
    account: CurrentAccount,
    plays: PlaysSound,
    drafts: Mapping[int, dict[str, Any]],
) -> PlayedSound:
    try:
        sound = require_sound(session, account, plays.sound)
    except NotFound as error:
        raise NotFound("The sound is in the bin, or you may no longer hear it") from error
    if plays.revision is None:
        given = drafts.get(plays.sound)
        document = current_document(sound.draft) if given is None else given
        version = f"draft {sound.draft_version}"
    else:
        query = select(SoundRevision).where(
            SoundRevision.sound_id == plays.sound, SoundRevision.number == plays.revision
        )
        revision = session.scalar(query)
        if revision is None:
            raise NotFound(f"“{sound.name}” has no revision {plays.revision}")
        document, version = current_document(revision.document), f"revision {plays.revision}"
        given = None
    if given is None:
        silent = recordings_in(document) - files_of_sound(session, sound.id)
        if silent:
            raise NotFound(f"“{sound.name}” uses a recording that you may not hear")
    return PlayedSound(sound.name, document, version)


def _samples(
    session: Session, account: CurrentAccount, part: Part, known: Mapping[int, PlayedSample]
) -> Iterator[tuple[int, PlayedSample]]:
    for identifier in part.sample_ids:
        if identifier in known:
            continue
        try:
            sample = require_sample(session, account, identifier)
        except NotFound:
            continue
        if sample.deleted is None:
            yield identifier, _played(sample)


def _played(sample: Sample) -> PlayedSample:
    return PlayedSample(
        name=sample.name,
        digest=sample.file_digest,
        edits=dict(sample.edits),
        length_s=sample.length_s,
        group=sample.variation_group,
        tempo_bpm=sample.tempo_bpm,
        version=sample.version,
    )
