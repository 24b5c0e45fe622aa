"""Texts that WAV and AIFF files hold, by what they say: INFO lists, names and notes.

All bytes are hostile until looked at; what makes no sense is left out.
"""

from __future__ import annotations

import struct
from collections.abc import Sequence

__all__ = ["aiff_texts", "annotation", "decoded", "info_texts"]

_MOST_BYTES = 65536


def decoded(content: bytes) -> str:
    """A text in UTF-8 or, where it is none, in Latin 1; up to its first zero."""
    plain = content.split(b"\0", 1)[0]
    try:
        return plain.decode("utf-8")
    except UnicodeDecodeError:
        return plain.decode("latin-1")


_INFO = {
    b"INAM": "title",
    b"ICMT": "description",
    b"IART": "author",
    b"ICOP": "licence",
    b"IGNR": "genre",
    b"IKEY": "tags",
    b"ICRD": "date",
}


def info_texts(chunks: Sequence[tuple[bytes, bytes]]) -> dict[str, str]:
    """The texts of the INFO lists among the chunks of a WAV."""
    found: dict[str, str] = {}
    for name, content in chunks:
        if name != b"LIST" or content[:4] != b"INFO":
            continue
        at = 4
        while at + 8 <= len(content):
            kind, size = struct.unpack("<4sI", content[at : at + 8])
            if kind in _INFO:
                found[_INFO[kind]] = decoded(content[at + 8 : at + 8 + min(size, _MOST_BYTES)])
            at += 8 + size + size % 2
    return found


# How the notes of an AIFF begin that stand for a field of others.
_ANNOTATED = {
    "Keywords": "tags",
    "Category": "genre",
    "Tempo": "tempo",
    "Variation group": "variation_group",
    "Variation": "variation",
    "Follows key": "follows_key",
    "Key": "key",
    "Date": "date",
}


def annotation(name: str) -> str:
    """The beginning of an AIFF's note for one of the further fields."""
    return name.replace("_", " ").capitalize()


def aiff_texts(chunks: Sequence[tuple[bytes, bytes]]) -> dict[str, str]:
    """The names and notes among the chunks of an AIFF."""
    plain = {b"NAME": "title", b"AUTH": "author", b"(c) ": "licence"}
    found: dict[str, str] = {}
    for name, content in chunks:
        if name in plain:
            found[plain[name]] = decoded(content)
        elif name == b"ANNO":
            begin, colon, rest = decoded(content).partition(": ")
            key = _ANNOTATED.get(begin) if colon else None
            # The first that stands for nothing else describes the sound.
            found.setdefault(key or "description", rest if key else decoded(content))
    return found
