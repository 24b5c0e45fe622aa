"""Which stored files an account may hear: those of something that it may see.

A digest names a file's bytes for good, so knowing one must open nothing. Whether a file is there
that one may not hear is not told: it is answered as one that is not.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from sqlalchemy import or_, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.job_models import Job, JobItem
from nest_crate.catalogue.db.models import (
    Recording,
    Sample,
    Sound,
    SoundFile,
    SoundRevision,
    Take,
)
from nest_crate.catalogue.db.shared_models import Release, ReleaseItem, Wish
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import visible_library_ids
from nest_crate.core.engine import Audio
from nest_crate.core.sound.recordings import recordings_in

__all__ = ["Heard", "files_of_sound", "may_hear", "note_recordings"]


def may_hear(session: Session, account: CurrentAccount, digests: Iterable[str]) -> set[str]:
    """Those of the digests that are of something the account may see."""
    wanted = set(digests)
    found: set[str] = set()
    seen = _Seen(account, visible_library_ids(session, account))
    for query in seen.queries():
        if wanted <= found:
            break
        column = query.selected_columns[0]
        found |= set(session.scalars(query.where(column.in_(wanted - found))))
    return found


class _Seen:
    """What an account may see that holds files."""

    def __init__(self, account: CurrentAccount, libraries: list[int]) -> None:
        self._account, self._libraries = account, libraries

    def queries(self) -> Iterator[Any]:
        """Selects of digests, the likeliest first."""
        libraries = self._libraries
        yield select(Recording.digest).where(Recording.account_id == self._account.id)
        yield select(SoundFile.digest).join(Sound, self._sound(SoundFile.sound_id))
        yield select(Sample.file_digest).where(Sample.library_id.in_(libraries))
        yield (
            select(Take.file_digest)
            .join(SoundRevision, Take.revision_id == SoundRevision.id)
            .join(Sound, self._sound(SoundRevision.sound_id))
        )
        yield (
            select(ReleaseItem.file_digest)
            .join(Release, ReleaseItem.release_id == Release.id)
            .where(Release.library_id.in_(libraries))
        )
        yield select(Wish.reference_digest).where(Wish.library_id.in_(libraries))
        yield (
            select(JobItem.file_digest)
            .join(Job, JobItem.job_id == Job.id)
            .where(Job.account_id == self._account.id)
        )

    def _sound(self, identifier: Any) -> Any:
        mine = or_(Sound.private_to_id.is_(None), Sound.private_to_id == self._account.id)
        return (Sound.id == identifier) & Sound.library_id.in_(self._libraries) & mine


def note_recordings(session: Session, account: CurrentAccount, sound: Sound) -> None:
    """Let everyone who may see a sound hear the recordings that it uses and that the saving account
    may hear. Other recordings that it names stay silent."""
    named = recordings_in(sound.draft)
    if not named:
        return
    known = set(session.scalars(select(SoundFile.digest).where(SoundFile.sound_id == sound.id)))
    for digest in may_hear(session, account, named - known):
        row = insert(SoundFile).values(sound_id=sound.id, digest=digest)
        session.execute(row.prefix_with("IGNORE"))


def files_of_sound(session: Session, sound_id: int) -> set[str]:
    """The recordings that everyone who may see the sound may hear."""
    return set(session.scalars(select(SoundFile.digest).where(SoundFile.sound_id == sound_id)))


class Heard(Mapping[str, Audio]):
    """Recordings of which some may be heard; the others are not there."""

    def __init__(self, recordings: Mapping[str, Audio], digests: set[str]) -> None:
        self._recordings, self._digests = recordings, digests

    def __getitem__(self, digest: str) -> Audio:
        if digest not in self._digests:
            raise KeyError(digest)
        return self._recordings[digest]

    def __iter__(self) -> Iterator[str]:
        return iter(self._digests)

    def __len__(self) -> int:
        return len(self._digests)
