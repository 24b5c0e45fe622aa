"""Archives that are sent while they are made, the same bytes for the same files."""

from __future__ import annotations

import io
import struct
import zipfile
import zlib
from collections.abc import Iterator
from typing import Any

__all__ = ["DAMAGED_ARCHIVE", "zip_pieces"]

# What reading an archive raises where it is none, or was changed on the way.
DAMAGED_ARCHIVE = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    EOFError,
    OSError,
    ValueError,
    NotImplementedError,
    RuntimeError,
)


class _Pieces(io.RawIOBase):
    """What an archive writes, to be handed on piece by piece."""

    def __init__(self) -> None:
        self._pieces: list[bytes] = []

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self._pieces.append(bytes(data))
        return len(data)

    def taken(self) -> bytes:
        made = b"".join(self._pieces)
        self._pieces.clear()
        return made


def zip_pieces(files: Iterator[tuple[str, bytes]]) -> Iterator[bytes]:
    """An archive of files as pieces to be sent while it is made; one file is held at a time."""
    out = _Pieces()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for path, data in files:
            # The earliest time that the format can tell, whatever the day.
            entry = zipfile.ZipInfo(path, date_time=(1980, 1, 1, 0, 0, 0))
            entry.external_attr = 0o644 << 16
            entry.create_system = 3
            if not path.endswith((".flac", ".ogg", ".wav", ".aiff")):
                entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)
            yield out.taken()
    yield out.taken()
