"""Audio files decoded apart from the web process, with limits of time and memory.

The other process is ``decoder_child.py``.
"""

from __future__ import annotations

import tempfile
import threading
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from nest_crate.storage.apart import run_apart

__all__ = ["DecodedFile", "decode_file"]

_TIME_S = 95.0
# Each may take a few GB; more than two wait for each other.
_AT_ONCE = threading.BoundedSemaphore(2)
_BROKEN = "This is no audio file that can be read; WAV, AIFF, FLAC, Ogg and MP3 are"
_HEAVY = "The file takes more time or memory to read than is allowed"


@dataclass(frozen=True)
class DecodedFile:
    """A file's samples as the bytes of a float WAV, and what it says about itself."""

    data: bytes
    channels: int
    sample_rate: int
    length_s: float
    root_note: int | None = None
    root_cent: float = 0.0
    loop_start_s: float | None = None
    loop_end_s: float | None = None
    title: str = ""
    comment: str = ""
    author: str = ""
    licence: str = ""
    genre: str = ""
    tags: tuple[str, ...] = ()
    tempo_bpm: float | None = None
    variation_group: str = ""
    variation: int | None = None
    follows_key: bool = False
    key: str = ""
    date: str = ""
    reference: str = ""
    marks: tuple[tuple[float, str], ...] = ()
    ixml: str = ""

    def details(self) -> dict[str, Any]:
        """What it says about itself, as plain values."""
        facts = asdict(self)
        return {key: facts[key] for key in _DETAILS if facts[key] not in (None, "")}


_DETAILS = (
    "root_note",
    "root_cent",
    "loop_start_s",
    "loop_end_s",
    "title",
    "comment",
    "author",
    "key",
    "date",
    "reference",
)


def decode_file(path: Path, *, time_s: float = _TIME_S) -> DecodedFile:
    """Decode a file in a process of its own.

    Raises
    ------
    FormatError
        naming what is wrong with the file; nothing is left behind.
    """
    with _AT_ONCE, tempfile.TemporaryDirectory(prefix="nest-crate-") as folder:
        out = Path(folder) / "out.wav"
        found = run_apart(
            "decoder_child.py",
            str(path.resolve()),
            str(out),
            folder=Path(folder),
            time_s=time_s,
            broken=_BROKEN,
            heavy=_HEAVY,
        )
        return DecodedFile(data=out.read_bytes(), **found)
