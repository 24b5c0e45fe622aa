"""Chunks of WAV beside its samples: the broadcast extension, cue points and their labels, and the
tempo and note of loops (``acid``). All numbers are hostile until looked at."""

from __future__ import annotations

import math
import struct
from collections.abc import Sequence

from anyascii import anyascii

from nest_crate.core.formats.file_words import decoded
from nest_crate.core.formats.ixml import OWN_REFERENCE
from nest_crate.core.formats.tagged import OWN_ORIGINATOR

__all__ = ["acid_facts", "bext_texts", "cue_places"]

_MOST_CUES = 200
# Flags of the acid chunk.
_ONE_SHOT, _NOTE_SET = 1, 2


def bext_texts(content: bytes, title: str) -> dict[str, str]:
    """What the broadcast extension says (EBU Tech 3285): description, originator, its reference
    and date. The title in front of its description, as this program writes it, is left out."""
    if len(content) < 338:
        return {}
    said, originator, reference, date = (
        decoded(content[begin:end]).strip()
        for begin, end in ((0, 256), (256, 288), (288, 320), (320, 330))
    )
    plain = str(anyascii(title))[:256].strip()
    if plain and said == plain:
        said = ""
    elif plain:
        said = said.removeprefix(f"{plain} - ")
    found = {"description": said, "date": date if date.strip("0-: ") else ""}
    if originator != OWN_ORIGINATOR:
        found["author"] = originator
    if not reference.startswith(OWN_REFERENCE):
        found["reference"] = reference
    return {key: text for key, text in found.items() if text}


def acid_facts(content: bytes) -> tuple[int | None, float | None]:
    """Root note and tempo of an ``acid`` chunk, each None where it says none."""
    if len(content) < 24:
        return None, None
    flags, note, _, _, beats, _, _, tempo = struct.unpack("<IHHfIHHf", content[:24])
    known = note if flags & _NOTE_SET and 0 < note <= 127 else None
    # One shots hold a tempo too, which says nothing of them.
    paced = not flags & _ONE_SHOT and beats > 0 and math.isfinite(tempo) and 20.0 <= tempo <= 400.0
    return known, round(tempo, 3) if paced else None


def cue_places(chunks: Sequence[tuple[bytes, bytes]]) -> list[tuple[int, str]]:
    """Frames of cue points with their labels; those without one are called by their number."""
    places: dict[int, int] = {}
    labels: dict[int, str] = {}
    for name, content in chunks:
        if name == b"cue " and len(content) >= 4:
            count = min(struct.unpack("<I", content[:4])[0], _MOST_CUES, (len(content) - 4) // 24)
            for n in range(count):
                number, _, _, _, _, at = struct.unpack_from("<II4sIII", content, 4 + 24 * n)
                places[number] = at
        elif name == b"LIST" and content[:4] == b"adtl":
            labels |= _labels(content)
    return sorted((at, labels.get(number) or f"Mark {number}") for number, at in places.items())


def _labels(content: bytes) -> dict[int, str]:
    found: dict[int, str] = {}
    at = 4
    while at + 12 <= len(content) and len(found) < _MOST_CUES:
        kind, size, number = struct.unpack_from("<4sII", content, at)
        text = decoded(content[at + 12 : at + 8 + size]) if size > 4 else ""
        if kind == b"labl" and text:
            found[number] = text
        elif kind == b"note" and text:
            found.setdefault(number, text)
        at += 8 + size + size % 2
    return found
