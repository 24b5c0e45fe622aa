"""Sounds as files of their own: the document alone, or an archive with the recordings it uses."""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.models import Recording
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.sounds.sounds import create_sound, current_document
from nest_crate.core.errors import FormatError
from nest_crate.core.sound import MAX_DOCUMENT_BYTES, load_sound_text
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.storage import AudioStore
from nest_crate.storage.archives import DAMAGED_ARCHIVE, zip_pieces
from nest_crate.storage.decoder import DecodedFile, decode_file
from nest_crate.storage.unpacker import unpacked

__all__ = [
    "catalogue_recording",
    "import_sound",
    "opened_sound_file",
    "sound_archive",
    "sound_text",
]

_MOST_FILES = 200
_DOCUMENT = "sound.json"


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
    database: Database, store: AudioStore, account: CurrentAccount, library_id: int, file: Path
) -> int:
    """A sound from its document or archive; answers its id. All of it is there, or nothing.

    Raises
    ------
    FormatError
        where an archive holds no document, too much, or a recording that is not what it says.
    DocumentError
        where the document is not valid.
    """
    with opened_sound_file(file) as (text, recordings):
        document = load_sound_text(text)
        with database.session() as session:
            require_library(session, account, library_id, "sound.edit")
        kept = []
        for digest, recording in recordings.items():
            with recording.open("rb") as content:
                if hashlib.file_digest(content, "sha256").hexdigest() != digest:
                    raise FormatError(f"The recording {digest[:12]}… does not match its name")
            kept.append((digest, decode_file(recording)))
        # Only once all of it can be read, so that nothing is left of what is refused.
        for recording in recordings.values():
            store.put(recording.read_bytes())
    with database.session() as session:
        for digest, decoded in kept:
            catalogue_recording(session, account, digest, decoded, document.name)
        return create_sound(session, account, library_id=library_id, document=document).id


def catalogue_recording(
    session: Session, account: CurrentAccount, digest: str, decoded: DecodedFile, name: str
) -> None:
    """Let an account have a stored recording, under the name of what came with it."""
    own = Recording.account_id == account.id
    if session.scalar(select(Recording.id).where(own, Recording.digest == digest)) is None:
        session.add(
            Recording(
                account_id=account.id,
                name=f"{name}, {digest[:6]}"[:120],
                digest=digest,
                length_s=decoded.length_s,
                channels=decoded.channels,
                sample_rate=decoded.sample_rate,
                details={},
            )
        )


@contextmanager
def opened_sound_file(file: Path) -> Iterator[tuple[bytes, dict[str, Path]]]:
    """The document's text and the recordings by digest of what may be an archive. The recordings
    are files that last as long as the block.

    Raises
    ------
    FormatError
        where it is an archive that holds no sound, or is damaged.
    """
    with file.open("rb") as begin:
        # One byte more than may be, so that too much is seen as that.
        text = begin.read(MAX_DOCUMENT_BYTES + 1)
    if not text.startswith(b"PK"):
        yield text, {}
        return
    text, names = _document_in(file)
    with unpacked(file, sorted(names)) as files:
        yield text, {names[name]: path for name, path in files.items()}


def _document_in(file: Path) -> tuple[bytes, dict[str, str]]:
    """The text of an archive's document, and by name the digests of the recordings it wants."""
    try:
        with zipfile.ZipFile(file) as archive:
            entries = archive.infolist()
            if len(entries) > _MOST_FILES:
                raise FormatError("The archive contains more than a sound needs")
            by_name = {one.filename: one for one in entries}
            if _DOCUMENT not in by_name:
                raise FormatError(f"The archive contains no {_DOCUMENT}")
            if by_name[_DOCUMENT].file_size > MAX_DOCUMENT_BYTES:
                raise FormatError("The document is too large")
            text = archive.read(by_name[_DOCUMENT])
            # Names are only looked up, never written: none can lead out of a folder.
            wanted = recordings_in(json.loads(text))
            names = {f"recordings/{digest}.wav": digest for digest in wanted}
            return text, {name: names[name] for name in names.keys() & by_name.keys()}
    except DAMAGED_ARCHIVE as error:
        raise FormatError("This file is not a sound archive, or it is damaged") from error
