"""Recordings imported: read once, kept as float WAV, known by their digest."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.models import Recording, utc_now
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.storage import AudioStore
from nest_crate.storage.decoder import decode_file

__all__ = ["import_recording", "recordings_of"]


def import_recording(
    database: Database, store: AudioStore, account: CurrentAccount, *, name: str, path: Path
) -> int:
    """Read an audio file, keep its samples, and catalogue it; answers the recording's id.

    Identical are kept once; a new name is taken over.

    Raises
    ------
    FormatError
        naming what is wrong with the file.
    """
    decoded = decode_file(path)
    digest = store.put(decoded.data)
    with database.session() as session:
        mine = Recording.account_id == account.id
        found = session.scalar(select(Recording).where(mine, Recording.digest == digest))
        if found is None:
            found = Recording(account_id=account.id, digest=digest)
            session.add(found)
        found.name = name[:120] or "Recording"
        found.length_s = decoded.length_s
        found.channels = decoded.channels
        found.sample_rate = decoded.sample_rate
        found.details = decoded.details()
        found.created = utc_now()
        session.flush()
        return found.id


def recordings_of(session: Session, account: CurrentAccount) -> Sequence[Recording]:
    """An account's recordings, the newest first."""
    query = select(Recording).where(Recording.account_id == account.id)
    return session.scalars(query.order_by(Recording.created.desc())).all()
