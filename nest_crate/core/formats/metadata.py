"""What an audio file says about itself: its note, its loop, its marks, and words.

Where a file says the same thing in several places, iXML comes before INFO lists and names, these
before ID3, and the broadcast extension last.

The ``smpl`` chunk of RIFF WAVE ("Multimedia Data Standards Update", Microsoft 1994), the INST and
MARK chunks of AIFF (Apple, "Audio Interchange File Format", 1989), INFO lists, Vorbis comments
(Xiph.Org). All numbers in a file are hostile until looked at: what makes no sense is left out.
"""

from __future__ import annotations

import io
import re
import struct
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import BinaryIO

from mutagen import MutagenError
from mutagen.flac import FLAC
from mutagen.oggvorbis import OggVorbis

from nest_crate.core.formats.file_words import aiff_texts, decoded, info_texts
from nest_crate.core.formats.id3_words import id3_said
from nest_crate.core.formats.ixml import FURTHER, ixml_texts, kept_ixml
from nest_crate.core.formats.tagged import Mark
from nest_crate.core.formats.wave_chunks import acid_facts, bext_texts, cue_places

__all__ = ["FileFacts", "read_facts"]

_MOST_CHUNKS = 200
_MOST_BYTES = 65536
# Such a tag may hold pictures before its words.
_ID3, _MOST_ID3_BYTES = (b"id3 ", b"ID3 "), 4_000_000


@dataclass(frozen=True)
class FileFacts:
    """Note and cents that a file sounds, its first loop in frames, the end not included, what it is
    called, who made it, on what terms, of what kind (``genre`` as category / subcategory), with
    what tags, its place among variations, its musical key, the day it was made, the reference
    that its originator gave it, its named moments, and another program's iXML as it is."""

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
    key: str = ""
    date: str = ""
    reference: str = ""
    marks: tuple[Mark, ...] = ()
    ixml: str = ""


def read_facts(file: BinaryIO, frames: int, sample_rate: int) -> FileFacts:
    """The facts of a WAV, AIFF, FLAC, Ogg or MP3 file of so many frames; none of another kind."""
    head = file.read(12)
    length_s = frames / sample_rate
    if head[:4] in (b"RIFF", b"RF64") and head[8:12] == b"WAVE":
        chunks = list(_chunks(file, "<"))
        facts, texts, marks = _wave(chunks, frames, sample_rate)
    elif head[:4] == b"FORM" and head[8:12] in (b"AIFF", b"AIFC"):
        chunks = list(_chunks(file, ">"))
        facts, texts, marks = _aiff(chunks, frames, sample_rate)
    elif head[:4] in (b"fLaC", b"OggS"):
        file.seek(0)
        facts, texts, marks = _commented(file, head[:4] == b"fLaC", frames)
    elif head[:3] == b"ID3":
        file.seek(0)
        texts, marks = id3_said(file)
        facts = FileFacts()
    else:
        return FileFacts()
    within = [one for one in marks if 0.0 <= one.at_s < length_s]
    named = [Mark(one.at_s, _one_line(one.label)[:_LONGEST_LABEL]) for one in within]
    kept = sorted((one for one in named if one.label), key=lambda one: one.at_s)[:_MOST_MARKS]
    return replace(_with_words(facts, texts), marks=tuple(kept))


_LONGEST_TEXT, _LONGEST_DESCRIPTION = 120, 4000
_LONGEST_LABEL = 250
_MOST_TAGS = 40
_MOST_MARKS = 100


def _one_line(text: str) -> str:
    return " ".join("".join(one if one.isprintable() else " " for one in text).split())


def _with_words(facts: FileFacts, texts: Mapping[str, str]) -> FileFacts:
    """The facts with the details; each text and each number as it may be used."""
    lines = {key: _one_line(text)[:_LONGEST_TEXT] for key, text in texts.items()}
    tags = [_one_line(one) for one in re.split("[;,]", texts.get("tags", ""))]
    said = texts.get("description", "").replace("\r\n", "\n").replace("\r", "\n")
    description = "".join(one for one in said if one.isprintable() or one in "\n\t")
    tempo = _number(lines.get("tempo", ""))
    tempo = facts.tempo_bpm if tempo is None else tempo
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
        key=lines.get("key", "")[:20],
        date=_day(lines.get("date", "")),
        reference=lines.get("reference", ""),
    )


_COMMENTS = {
    "title": "title",
    "description": "description",
    "artist": "author",
    "license": "licence",
    "genre": "genre",
    "bpm": "tempo",
    "date": "date",
    **{name.lower(): key for name, key in FURTHER.items()},
}


# What other programs call some of these, read where there is none by the first name.
_OTHER_COMMENTS = {
    "comment": "description",
    "copyright": "licence",
    "tempo": "tempo",
    "initialkey": "key",
    "tag": "tags",
}
_CHAPTER = re.compile(r"chapter(\d{3})")
_CHAPTER_TIME = re.compile(r"(\d{1,4}):(\d\d):(\d\d(?:\.\d{1,9})?)")
_Said = tuple[FileFacts, dict[str, str], list[Mark]]


def _commented(file: BinaryIO, flac: bool, frames: int) -> _Said:
    """The Vorbis comments of a FLAC or Ogg file."""
    try:
        tags = (FLAC if flac else OggVorbis)(file).tags or {}
        names = {name.lower() for name in tags.keys()}  # noqa: SIM118 - lists of pairs iterate so
    # A hostile file makes its reader fail in any of these ways; it is then without facts.
    except (MutagenError, OSError, ValueError, struct.error, IndexError, EOFError, KeyError):
        return FileFacts(), {}, []

    def first(name: str) -> str:
        values = tags.get(name) or [""]
        return decoded(str(values[0]).encode("utf-8", "replace"))

    note = _whole(first("rootnote"))
    begin, length = _whole(first("loopstart")), _whole(first("looplength"))
    start = end = None
    if begin is not None and length is not None:
        start, end = _loop(begin, begin + length, frames)
    texts = {key: text for name, key in _OTHER_COMMENTS.items() if (text := first(name))}
    texts |= {key: text for name, key in _COMMENTS.items() if (text := first(name))}
    keywords = (str(one).encode("utf-8", "replace") for one in tags.get("keywords") or [])
    texts["tags"] = "; ".join(map(decoded, keywords)) or texts.get("tags", "")
    marks = []
    for number in sorted(found.group(1) for name in names if (found := _CHAPTER.fullmatch(name))):
        time = _CHAPTER_TIME.fullmatch(first(f"chapter{number}"))
        if time:
            at_s = 3600.0 * int(time[1]) + 60.0 * int(time[2]) + float(time[3])
            marks.append(Mark(at_s, first(f"chapter{number}name") or f"Mark {int(number)}"))
    return FileFacts(None if note is None else _note(note), 0.0, start, end), texts, marks


_DAY = re.compile(r"(\d{4})(?:[-:/._ ]?(\d\d)(?:[-:/._ ]?(\d\d))?)?(?!\d)")


def _day(text: str) -> str:
    """A day, a month or a year as 2026-11-27, in whatever way it is written; else empty."""
    found = _DAY.match(text)
    if found is None or int(found[1]) == 0:
        return ""
    month, day = found[2], found[3]
    if month is None or not 1 <= int(month) <= 12:
        return found[1]
    return f"{found[1]}-{month}" + (f"-{day}" if day and 1 <= int(day) <= 31 else "")


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
        if size > (_MOST_ID3_BYTES if name in _ID3 else _MOST_BYTES):
            file.seek(padded, 1)
            continue
        content = file.read(padded)
        yield name, content[:size]
        if len(content) < size:
            return


def _id3(chunks: list[tuple[bytes, bytes]]) -> tuple[dict[str, str], list[Mark]]:
    for name, content in chunks:
        if name in _ID3:
            return id3_said(io.BytesIO(content))
    return {}, []


def _wave(chunks: list[tuple[bytes, bytes]], frames: int, sample_rate: int) -> _Said:
    by_name = dict(chunks)
    ixml = by_name.get(b"iXML", b"")
    tagged, chapters = _id3(chunks)
    texts = tagged | info_texts(chunks) | ixml_texts(ixml)
    texts = bext_texts(by_name.get(b"bext", b""), texts.get("title", "")) | texts
    facts = _sampler(by_name.get(b"smpl", b""), frames)
    note, tempo = acid_facts(by_name.get(b"acid", b""))
    if facts.root_note is None:
        facts = replace(facts, root_note=note)
    # Cue points of a loop say what the loop says.
    ends = (facts.loop_start, facts.loop_end)
    places = [one for one in cue_places(chunks) if not (one[0] in ends and _is_loop(one[1]))]
    marks = [Mark(at / sample_rate, label) for at, label in places]
    return replace(facts, tempo_bpm=tempo, ixml=kept_ixml(ixml)), texts, marks or chapters


def _is_loop(label: str) -> bool:
    return label in ("loop start", "loop end")


def _sampler(content: bytes, frames: int) -> FileFacts:
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


def _aiff(chunks: list[tuple[bytes, bytes]], frames: int, sample_rate: int) -> _Said:
    by_name = dict(chunks)
    places = _markers(by_name.get(b"MARK", b""))
    content = by_name.get(b"INST", b"")
    facts, of_loop = FileFacts(), set()
    if len(content) >= 20:
        note, detune = struct.unpack(">Bb", content[:2])
        play, first, last = struct.unpack(">hhh", content[8:14])
        start = end = None
        if play in (1, 2):
            of_loop = {first, last}
            ends = [places[one][0] if one in places else -1 for one in (first, last)]
            start, end = _loop(ends[0], ends[1], frames)
        # AIFF tells by how much to detune for the note, the other way round.
        cents = -float(detune) if abs(detune) <= 50 else 0.0
        facts = FileFacts(_note(note), cents, start, end)
    tagged, chapters = _id3(chunks)
    marks = [
        Mark(at / sample_rate, label or f"Mark {number}")
        for number, (at, label) in places.items()
        if number not in of_loop
    ]
    return facts, tagged | aiff_texts(chunks), marks or chapters


def _markers(content: bytes) -> dict[int, tuple[int, str]]:
    """Frames and names of markers by their number."""
    marks: dict[int, tuple[int, str]] = {}
    at = 2
    while at + 7 <= len(content) and len(marks) < _MOST_CHUNKS:
        number, frame, length = struct.unpack(">hIB", content[at : at + 7])
        marks[number] = (frame, decoded(content[at + 7 : at + 7 + length]))
        at += 7 + length + (1 - length % 2)
    return marks


def _note(note: int) -> int | None:
    return note if 0 < note <= 127 else None


def _loop(start: int, end: int, frames: int) -> tuple[int, int] | tuple[None, None]:
    return (start, end) if 0 <= start < end <= frames else (None, None)
