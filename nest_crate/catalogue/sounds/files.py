"""Sounds as files of their own: the document alone, or an archive with the recordings it uses."""

from __future__ import annotations

import hashlib
import io
import json
import struct
import zipfile
import zlib
from collections.abc import Iterator
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.models import Recording
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.sounds.sounds import create_sound, current_document
from nest_crate.core.engine import Audio
from nest_crate.core.errors import FormatError
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import MAX_DOCUMENT_BYTES, load_sound_text
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.storage import AudioStore
from nest_crate.storage.archives import zip_pieces

__all__ = ["import_sound", "read_sound_file", "sound_archive", "sound_text"]

_MOST_FILES = 200
_MOST_BYTES = 400_000_000
_DOCUMENT = "sound.json"
# What reading an archive raises where it is none, or was changed on the way.
_DAMAGED = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    EOFError,
    OSError,
    ValueError,
    NotImplementedError,
    RuntimeError,
)


def sound_text(document: dict[str, Any]) -> bytes:
    """A sound's document as a file: the same sound, the same bytes."""
    text = json.dumps(current_document(document), indent=1, ensure_ascii=False)
    return f"{text}\n".encode()


def sound_archive(store: AudioStore, document: dict[str, Any], heard: set[str]) -> bytes:
    """A sound with the recordings that it uses and that may be heard, as one archive."""
    text = sound_text(document)

    def files() -> Iterator[tuple[str, bytes]]:
        yield _DOCUMENT, text
        for digest in sorted(recordings_in(json.loads(text)) & heard):
            if store.exists(digest):
                yield f"recordings/{digest}.wav", store.get(digest)

    return b"".join(zip_pieces(files()))


def import_sound(
    database: Database, store: AudioStore, account: CurrentAccount, library_id: int, data: bytes
) -> int:
    """A sound from its document or archive; answers its id. All of it is there, or nothing.

    Raises
    ------
    FormatError
        where an archive holds no document, too much, or a recording that is not what it says.
    DocumentError
        where the document is not valid.
    """
    text, recordings = read_sound_file(data)
    document = load_sound_text(text)
    with database.session() as session:
        require_library(session, account, library_id, "sound.edit")
    kept = []
    for digest, content in recordings.items():
        if hashlib.sha256(content).hexdigest() != digest:
            raise FormatError(f"The recording {digest[:12]}… does not match its name")
        kept.append((digest, Audio(*decode_wav(content))))
    # Only once all of it can be read, so that nothing is left of what is refused.
    for content in recordings.values():
        store.put(content)
    with database.session() as session:
        for digest, audio in kept:
            _catalogue(session, account, digest, audio, document.name)
        return create_sound(session, account, library_id=library_id, document=document).id


def _catalogue(
    session: Session, account: CurrentAccount, digest: str, audio: Audio, name: str
) -> None:
    own = Recording.account_id == account.id
    if session.scalar(select(Recording.id).where(own, Recording.digest == digest)) is None:
        session.add(
            Recording(
                account_id=account.id,
                name=f"{name}, {digest[:6]}"[:120],
                digest=digest,
                length_s=audio.length_s,
                channels=audio.samples.shape[0],
                sample_rate=audio.sample_rate,
                details={},
            )
        )


def read_sound_file(data: bytes) -> tuple[bytes, dict[str, bytes]]:
    """The document's text and the recordings by digest of what may be an archive.

    Raises
    ------
    FormatError
        where it is an archive that holds no sound, or is damaged.
    """
    if not data.startswith(b"PK"):
        return data, {}
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = archive.infolist()
            if len(entries) > _MOST_FILES or sum(one.file_size for one in entries) > _MOST_BYTES:
                raise FormatError("The archive contains more than a sound needs")
            by_name = {one.filename: one for one in entries}
            if _DOCUMENT not in by_name:
                raise FormatError(f"The archive contains no {_DOCUMENT}")
            if by_name[_DOCUMENT].file_size > MAX_DOCUMENT_BYTES:
                raise FormatError("The document is too large")
            text = archive.read(by_name[_DOCUMENT])
            # Names are only looked up, never written: none can lead out of a folder.
            wanted = recordings_in(json.loads(text))
            return text, {
                digest: archive.read(f"recordings/{digest}.wav")
                for digest in sorted(wanted)
                if f"recordings/{digest}.wav" in by_name
            }
    except _DAMAGED as error:
        raise FormatError("This file is not a sound archive, or it is damaged") from error
