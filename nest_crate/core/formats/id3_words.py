"""ID3v2 tags, as MP3 files begin with and as chunks of WAV and AIFF hold (id3.org, 2.3 and 2.4)."""

from __future__ import annotations

import struct
import zlib
from typing import BinaryIO

from mutagen import MutagenError
from mutagen.id3 import ID3

from nest_crate.core.formats.tagged import Mark

__all__ = ["id3_said"]

_FRAMES = {
    "TIT2": "title",
    "TPE1": "author",
    "TCOP": "licence",
    "TCON": "genre",
    "TBPM": "tempo",
    "TKEY": "key",
    "TDRC": "date",
}
# Texts of free name, as several programs call them.
_FREE = {"keywords": "tags", "tags": "tags", "license": "licence", "description": "description"}


def id3_said(file: BinaryIO) -> tuple[dict[str, str], list[Mark]]:
    """The texts of an ID3 tag by what they say, and its chapters; nothing where there is none."""
    try:
        tag = ID3(file)
        texts = {key: _text(tag, name) for name, key in _FRAMES.items()}
        for one in tag.getall("TXXX"):
            key = _FREE.get(str(one.desc).lower())
            if key:
                texts[key] = "; ".join(str(text) for text in one.text)
        remarks = [str(one.text[0]) for one in tag.getall("COMM") if one.text and not one.desc]
        if remarks and not texts.get("description"):
            texts["description"] = remarks[0]
        chapters = [
            Mark(one.start_time / 1000.0, _text(one.sub_frames, "TIT2") or str(one.element_id))
            for one in tag.getall("CHAP")
        ]
    # A hostile tag makes its reader fail in any of these ways; there are then no words.
    except (MutagenError, OSError, ValueError, struct.error, zlib.error, KeyError, IndexError):
        return {}, []
    except (AttributeError, EOFError, TypeError, OverflowError):
        return {}, []
    return {key: text for key, text in texts.items() if text}, chapters


def _text(tag: ID3, name: str) -> str:
    frames = tag.getall(name)
    return "; ".join(str(text) for text in frames[0].text) if frames else ""
