"""What an audio file says about itself: its note, its loop, and words.

The ``smpl`` chunk of RIFF WAVE ("Multimedia Data Standards Update", Microsoft 1994), the INST and
MARK chunks of AIFF (Apple, "Audio Interchange File Format", 1989), INFO lists, Vorbis comments
(Xiph.Org). All numbers in a file are hostile until looked at: what makes no sense is left out.
"""

from __future__ import annotations

import re
import struct
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import BinaryIO

from mutagen import MutagenError
from mutagen.flac import FLAC
from mutagen.oggvorbis import OggVorbis

__all__ = ["FileFacts", "read_facts"]

_MOST_CHUNKS = 200
_MOST_BYTES = 65536


@dataclass(frozen=True)
class FileFacts:
    """Note and cents that a file sounds, its first loop in frames, the end not included, and who
    made it, on what terms, of what kind (``genre`` as category / subcategory), with what tags."""

    root_note: int | None = None
    root_cent: float = 0.0
    loop_start: int | None = None
    loop_end: int | None = None
    author: str = ""
    licence: str = ""
    genre: str = ""
    tags: tuple[str, ...] = ()
    tempo_bpm: float | None = None


def read_facts(file: BinaryIO, frames: int) -> FileFacts:
    """The facts of a WAV, AIFF, FLAC or Ogg file of so many frames; none of another kind."""
    head = file.read(12)
    if head[:4] in (b"RIFF", b"RF64") and head[8:12] == b"WAVE":
        chunks = list(_chunks(file, "<"))
        return _with_words(_wave(dict(chunks), frames), _info_texts(chunks))
    if head[:4] == b"FORM" and head[8:12] in (b"AIFF", b"AIFC"):
        chunks = list(_chunks(file, ">"))
        return _with_words(_aiff(dict(chunks), frames), _aiff_texts(chunks))
    if head[:4] in (b"fLaC", b"OggS"):
        file.seek(0)
        return _commented(file, head[:4] == b"fLaC", frames)
    return FileFacts()


_LONGEST_TEXT = 120
_MOST_TAGS = 40


def _text(content: bytes) -> str:
    """A text in UTF-8 or, where it is none, in Latin 1; up to its first zero."""
    plain = content.split(b"\0", 1)[0]
    try:
        text = plain.decode("utf-8")
    except UnicodeDecodeError:
        text = plain.decode("latin-1")
    return " ".join("".join(one if one.isprintable() else " " for one in text).split())


def _with_words(facts: FileFacts, texts: Mapping[str, str]) -> FileFacts:
    tags = [one.strip() for one in re.split("[;,]", texts.get("tags", "")) if one.strip()]
    return replace(
        facts,
        author=texts.get("author", "")[:_LONGEST_TEXT],
        licence=texts.get("licence", "")[:_LONGEST_TEXT],
        genre=texts.get("genre", "")[:_LONGEST_TEXT],
        tags=tuple(tags[:_MOST_TAGS]),
    )


_INFO = {b"IART": "author", b"ICOP": "licence", b"IGNR": "genre", b"IKEY": "tags"}


def _info_texts(chunks: list[tuple[bytes, bytes]]) -> dict[str, str]:
    found: dict[str, str] = {}
    for name, content in chunks:
        if name != b"LIST" or content[:4] != b"INFO":
            continue
        at = 4
        while at + 8 <= len(content):
            kind, size = struct.unpack("<4sI", content[at : at + 8])
            if kind in _INFO:
                found[_INFO[kind]] = _text(content[at + 8 : at + 8 + min(size, _MOST_BYTES)])
            at += 8 + size + size % 2
    return found


def _aiff_texts(chunks: list[tuple[bytes, bytes]]) -> dict[str, str]:
    found: dict[str, str] = {}
    for name, content in chunks:
        if name == b"AUTH":
            found["author"] = _text(content)
        elif name == b"(c) ":
            found["licence"] = _text(content)
        elif name == b"ANNO":
            for begin, key in (("Keywords: ", "tags"), ("Category: ", "genre")):
                if _text(content).startswith(begin):
                    found[key] = _text(content).removeprefix(begin)
    return found


def _commented(file: BinaryIO, flac: bool, frames: int) -> FileFacts:
    """The Vorbis comments of a FLAC or Ogg file."""
    try:
        tags = (FLAC if flac else OggVorbis)(file).tags or {}
    # A hostile file makes its reader fail in any of these ways; it is then without facts.
    except (MutagenError, OSError, ValueError, struct.error, IndexError, EOFError, KeyError):
        return FileFacts()

    def first(name: str) -> str:
        values = tags.get(name) or [""]
        return _text(str(values[0]).encode("utf-8", "replace"))

    note = _whole(first("rootnote"))
    begin, length = _whole(first("loopstart")), _whole(first("looplength"))
    start = end = None
    if begin is not None and length is not None:
        start, end = _loop(begin, begin + length, frames)
    texts = {"author": first("artist"), "licence": first("license"), "genre": first("genre")}
    keywords = (str(one).encode("utf-8", "replace") for one in tags.get("keywords") or [])
    texts["tags"] = "; ".join(map(_text, keywords))
    facts = FileFacts(None if note is None else _note(note), 0.0, start, end)
    tempo = _whole(first("bpm").split(".")[0])
    known = tempo is not None and 20 <= tempo <= 400
    return replace(_with_words(facts, texts), tempo_bpm=float(tempo or 0) if known else None)


def _whole(text: str) -> int | None:
    return int(text) if re.fullmatch(r"\d{1,12}", text) else None


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
    # Zero stands for no note where nobody has set one; with cents somebody has.
    known = 0 if note == 0 and fraction else _note(note)
    return FileFacts(known, cents if known is not None else 0.0, start, end)


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
