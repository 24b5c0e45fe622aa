"""The recordings of a store, decoded where they are read."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from nest_crate.core.byte_memory import ByteMemory
from nest_crate.core.engine import Audio
from nest_crate.core.errors import FormatError
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage.files import AudioStore, FileMissing

__all__ = ["StoredRecordings"]

# Of decoded recordings so many bytes are kept for the next render.
_KEPT_BYTES = 120_000_000
# Shorter files are read and kept as a whole.
_LONG_BYTES = 16_000_000


class StoredRecordings(Mapping[str, Audio]):
    """The recordings of a store by digest, the last few kept decoded."""

    def __init__(self, store: AudioStore, kept_bytes: int = _KEPT_BYTES) -> None:
        self._store = store
        self._decoded: ByteMemory[str, Audio] = ByteMemory(
            kept_bytes, lambda audio: audio.samples.nbytes, keep_larger=True
        )

    def __getitem__(self, digest: str) -> Audio:
        found = self._decoded.get(digest)
        if found is None:
            try:
                found = Audio(*decode_wav(self._store.get(digest)))
            except (FileMissing, FormatError) as error:
                raise KeyError(digest) from error
            self._decoded.put(digest, found)
        return found

    def beginning(self, digest: str, seconds: float) -> Audio:
        """No more than the first seconds of a recording, for long ones of which little is heard.
        ``KeyError`` where there is none."""
        found = self._decoded.get(digest)
        if found is not None:
            frames = math.ceil(seconds * found.sample_rate)
            return Audio(found.samples[:, :frames], found.sample_rate)
        try:
            data = self._store.get(digest)
            if len(data) < _LONG_BYTES:
                return self[digest]
            return Audio(*decode_wav(data, seconds))
        except (FileMissing, FormatError) as error:
            raise KeyError(digest) from error

    def __iter__(self) -> Iterator[str]:
        return iter(self._store.digests())

    def __len__(self) -> int:
        return len(self._store.digests())

    def clear(self) -> None:
        """Keep none of them decoded."""
        self._decoded.clear()
