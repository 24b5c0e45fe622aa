"""Recordings brought in from outside: read once, kept as float WAV, known by their digest."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterator, Mapping, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.accounts import CurrentAccount
from nest_crate.catalogue.database import Database
from nest_crate.catalogue.models import Recording, utc_now
from nest_crate.core.engine import Audio
from nest_crate.core.errors import FormatError
from nest_crate.core.formats.wav import decode_audio, decode_wav, encode_wav
from nest_crate.storage import AudioStore, FileMissing

__all__ = ["LONGEST_S", "StoredRecordings", "import_recording", "recordings_of"]

LONGEST_S = 60.0
_LOWEST_RATE, _HIGHEST_RATE = 8000, 192000


def import_recording(
    database: Database, store: AudioStore, account: CurrentAccount, *, name: str, data: bytes
) -> int:
    """Read an audio file, keep its samples, and catalogue it; answers the recording's id.

    The same samples are kept once; a new name is taken over.

    Raises
    ------
    FormatError
        naming what is wrong with the file.
    """
    samples, rate = decode_audio(data, longest_s=LONGEST_S)
    if samples.shape[1] == 0:
        raise FormatError("The file holds no sound")
    if samples.shape[0] > 2:
        raise FormatError(f"The file has {samples.shape[0]} channels; one or two can be used")
    if not _LOWEST_RATE <= rate <= _HIGHEST_RATE:
        raise FormatError(f"The file's rate of {rate} Hz lies outside 8 to 192 kHz")
    digest = store.put(encode_wav(samples, rate, sample_format="float32"))
    with database.session() as session:
        mine = Recording.account_id == account.id
        found = session.scalar(select(Recording).where(mine, Recording.digest == digest))
        if found is None:
            found = Recording(account_id=account.id, digest=digest)
            session.add(found)
        found.name = name[:120] or "Recording"
        found.length_s = samples.shape[1] / rate
        found.channels = samples.shape[0]
        found.sample_rate = rate
        found.created = utc_now()
        session.flush()
        return found.id


def recordings_of(session: Session, account: CurrentAccount) -> Sequence[Recording]:
    """An account's recordings, the newest first."""
    query = select(Recording).where(Recording.account_id == account.id)
    return session.scalars(query.order_by(Recording.created.desc())).all()


class StoredRecordings(Mapping[str, Audio]):
    """The recordings of a store by digest, the last few kept decoded."""

    def __init__(self, store: AudioStore, kept: int = 8) -> None:
        self._store = store
        self._kept = kept
        self._decoded: OrderedDict[str, Audio] = OrderedDict()
        self._lock = threading.Lock()

    def __getitem__(self, digest: str) -> Audio:
        with self._lock:
            found = self._decoded.get(digest)
        if found is None:
            try:
                found = Audio(*decode_wav(self._store.get(digest)))
            except (FileMissing, FormatError) as error:
                raise KeyError(digest) from error
        with self._lock:
            self._decoded[digest] = found
            self._decoded.move_to_end(digest)
            while len(self._decoded) > self._kept:
                self._decoded.popitem(last=False)
        return found

    def __iter__(self) -> Iterator[str]:
        return iter(self._store.digests())

    def __len__(self) -> int:
        return len(self._store.digests())
