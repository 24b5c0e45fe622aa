"""What an audio file says about itself: its note and its loop.

The ``smpl`` chunk of RIFF WAVE ("Multimedia Data Standards Update", Microsoft 1994) and the INST
and MARK chunks of AIFF (Apple, "Audio Interchange File Format", 1989). All numbers in a file are
hostile until looked at: what makes no sense is left out.
"""

from __future__ import annotations

import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

__all__ = ["FileFacts", "read_facts"]

_MOST_CHUNKS = 200
_MOST_BYTES = 65536


@dataclass(frozen=True)
class FileFacts:
    """Note and cents that a file sounds, and its first loop in frames, the end not included."""

    root_note: int | None = None
    root_cent: float = 0.0
    loop_start: int | None = None
    loop_end: int | None = None


def read_facts(file: BinaryIO, frames: int) -> FileFacts:
    """The facts of a WAV or AIFF file of so many frames; none where it is of another kind."""
    head = file.read(12)
    if head[:4] in (b"RIFF", b"RF64") and head[8:12] == b"WAVE":
        return _wave(dict(_chunks(file, "<")), frames)
    if head[:4] == b"FORM" and head[8:12] in (b"AIFF", b"AIFC"):
        return _aiff(dict(_chunks(file, ">")), frames)
    return FileFacts()


def _chunks(file: BinaryIO, order: str) -> Iterator[tuple[bytes, bytes]]:
    """Names and contents of small chunks; large ones, such as the samples, are passed over."""
    for _ in range(_MOST_CHUNKS):
        head = file.read(8)
        if len(head) < 8:
            return
        name, size = struct.unpack(f"{order}4sI", head)
        padded = size + size % 2
        if size > _MOST_BYTES:
            file.seek(padded, 1)
            continue
        content = file.read(padded)
        yield name, content[:size]
        if len(content) < size:
            return


def _wave(chunks: dict[bytes, bytes], frames: int) -> FileFacts:
    content = chunks.get(b"smpl", b"")
    if len(content) < 36:
        return FileFacts()
    _, _, _, note, fraction, _, _, loops, _ = struct.unpack("<9I", content[:36])
    cents = fraction / 2**32 * 100.0
    start = end = None
    if loops > 0 and len(content) >= 60:
        _, _, first, last, _, _ = struct.unpack("<6I", content[36:60])
        start, end = _loop(first, last + 1, frames)
    return FileFacts(_note(note), cents if _note(note) is not None else 0.0, start, end)


def _aiff(chunks: dict[bytes, bytes], frames: int) -> FileFacts:
    content = chunks.get(b"INST", b"")
    if len(content) < 20:
        return FileFacts()
    note, detune = struct.unpack(">Bb", content[:2])
    play, first, last = struct.unpack(">hhh", content[8:14])
    start = end = None
    if play in (1, 2):
        marks = _markers(chunks.get(b"MARK", b""))
        start, end = _loop(marks.get(first, -1), marks.get(last, -1), frames)
    # AIFF tells by how much to detune for the note, the other way round.
    return FileFacts(_note(note), -float(detune) if abs(detune) <= 50 else 0.0, start, end)


def _markers(content: bytes) -> dict[int, int]:
    """Frames of markers by their number."""
    marks: dict[int, int] = {}
    at = 2
    while at + 7 <= len(content) and len(marks) < _MOST_CHUNKS:
        number, frame, length = struct.unpack(">hIB", content[at : at + 7])
        marks[number] = frame
        at += 7 + length + (1 - length % 2)
    return marks


def _note(note: int) -> int | None:
    return note if 0 < note <= 127 else None


def _loop(start: int, end: int, frames: int) -> tuple[int, int] | tuple[None, None]:
    return (start, end) if 0 <= start < end <= frames else (None, None)
