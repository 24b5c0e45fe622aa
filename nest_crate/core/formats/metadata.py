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

from nest_crate.core.formats.file_words import FURTHER, aiff_texts, decoded, info_texts, ixml_texts

__all__ = ["FileFacts", "read_facts"]

_MOST_CHUNKS = 200
_MOST_BYTES = 65536


@dataclass(frozen=True)
class FileFacts:
    """Note and cents that a file sounds, its first loop in frames, the end not included, what it is
    called, who made it, on what terms, of what kind (``genre`` as category / subcategory), with
    what tags, and its place among variations."""

    root_note: int | None = None
    root_cent: float = 0.0
    loop_start: int | None = None
    loop_end: int | None = None
    title: str = ""
    description: str = ""
    author: str = ""
    licence: str = ""
    genre: str = ""
    tags: tuple[str, ...] = ()
    tempo_bpm: float | None = None
    variation_group: str = ""
    variation: int | None = None
    follows_key: bool = False


def read_facts(file: BinaryIO, frames: int) -> FileFacts:
    """The facts of a WAV, AIFF, FLAC or Ogg file of so many frames; none of another kind."""
    head = file.read(12)
    if head[:4] in (b"RIFF", b"RF64") and head[8:12] == b"WAVE":
        chunks = list(_chunks(file, "<"))
        texts = ixml_texts(dict(chunks).get(b"iXML", b"")) | info_texts(chunks)
        return _with_words(_wave(dict(chunks), frames), texts)
    if head[:4] == b"FORM" and head[8:12] in (b"AIFF", b"AIFC"):
        chunks = list(_chunks(file, ">"))
        return _with_words(_aiff(dict(chunks), frames), aiff_texts(chunks))
    if head[:4] in (b"fLaC", b"OggS"):
        file.seek(0)
        return _commented(file, head[:4] == b"fLaC", frames)
    return FileFacts()


_LONGEST_TEXT, _LONGEST_DESCRIPTION = 120, 4000
_MOST_TAGS = 40


def _one_line(text: str) -> str:
    return " ".join("".join(one if one.isprintable() else " " for one in text).split())


def _with_words(facts: FileFacts, texts: Mapping[str, str]) -> FileFacts:
    """The facts with the details; each text and each number as it may be used."""
    lines = {key: _one_line(text)[:_LONGEST_TEXT] for key, text in texts.items()}
    tags = [_one_line(one) for one in re.split("[;,]", texts.get("tags", ""))]
    said = texts.get("description", "").replace("\r\n", "\n").replace("\r", "\n")
    description = "".join(one for one in said if one.isprintable() or one in "\n\t")
    tempo = _number(lines.get("tempo", ""))
    variation = _whole(lines.get("variation", ""))
    return replace(
        facts,
        title=lines.get("title", ""),
        description=description.strip()[:_LONGEST_DESCRIPTION],
        author=lines.get("author", ""),
        licence=lines.get("licence", ""),
        genre=lines.get("genre", ""),
        tags=tuple([one for one in tags if one][:_MOST_TAGS]),
        tempo_bpm=tempo if tempo is not None and 20.0 <= tempo <= 400.0 else None,
        variation_group=lines.get("variation_group", "")[:80],
        variation=variation if variation is not None and 1 <= variation <= 9999 else None,
        follows_key=lines.get("follows_key", "").lower() == "yes",
    )


_COMMENTS = {
    "title": "title",
    "description": "description",
    "artist": "author",
    "license": "licence",
    "genre": "genre",
    "bpm": "tempo",
    **{name.lower(): key for name, key in FURTHER.items()},
}


def _commented(file: BinaryIO, flac: bool, frames: int) -> FileFacts:
    """The Vorbis comments of a FLAC or Ogg file."""
    try:
        tags = (FLAC if flac else OggVorbis)(file).tags or {}
    # A hostile file makes its reader fail in any of these ways; it is then without facts.
    except (MutagenError, OSError, ValueError, struct.error, IndexError, EOFError, KeyError):
        return FileFacts()

    def first(name: str) -> str:
        values = tags.get(name) or [""]
        return decoded(str(values[0]).encode("utf-8", "replace"))

    note = _whole(first("rootnote"))
    begin, length = _whole(first("loopstart")), _whole(first("looplength"))
    start = end = None
    if begin is not None and length is not None:
        start, end = _loop(begin, begin + length, frames)
    texts = {key: first(name) for name, key in _COMMENTS.items()}
    keywords = (str(one).encode("utf-8", "replace") for one in tags.get("keywords") or [])
    texts["tags"] = "; ".join(map(decoded, keywords))
    return _with_words(FileFacts(None if note is None else _note(note), 0.0, start, end), texts)


def _number(text: str) -> float | None:
    return float(text) if re.fullmatch(r"\d{1,6}(\.\d{1,9})?", text) else None


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
    # Zero stands for no note where nobody has set one; with cents someone has.
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
