"""FLAC and Ogg Vorbis with Vorbis comments (Xiph.Org), the same bytes for the same sound."""

from __future__ import annotations

import hashlib
import io
from typing import Literal

import numpy as np
import soundfile
from mutagen.flac import FLAC
from mutagen.ogg import OggPage
from mutagen.oggvorbis import OggVorbis

from nest_crate.core.dsp.util.signals import Signal, require_signal
from nest_crate.core.formats.flac import encode_flac
from nest_crate.core.formats.tagged import SoundFacts

__all__ = ["flac_file", "ogg_file"]

# Of the encoder, from 0 to 1; some 192 kbit/s in stereo.
_QUALITY = 0.6
# What may be handed over at once: libsndfile keeps it on its stack.
_PIECE = 4096
_MOST_CHAPTERS = 999


def flac_file(
    signal: Signal,
    sample_rate: int,
    *,
    bits: Literal[16, 24],
    facts: SoundFacts,
    dither: bool = False,
) -> bytes:
    """The bytes of a FLAC file of a signal (1 or 2, frames) with its facts as tags."""
    buffer = io.BytesIO(encode_flac(signal, sample_rate, bits, dither=dither))
    file = FLAC(buffer)
    file.clear()
    for name, value in _comments(facts, sample_rate, signal.shape[1]):
        file[name] = value
    buffer.seek(0)
    file.save(buffer, padding=lambda _: 0)
    return buffer.getvalue()


def ogg_file(signal: Signal, sample_rate: int, *, facts: SoundFacts) -> bytes:
    """The bytes of an Ogg Vorbis file of a signal (1 or 2, frames) with its facts as tags."""
    frames = np.clip(require_signal(signal), -1.0, 1.0).T
    buffer = io.BytesIO()
    with soundfile.SoundFile(
        buffer,
        "w",
        samplerate=sample_rate,
        channels=frames.shape[1],
        format="OGG",
        subtype="VORBIS",
        compression_level=1.0 - _QUALITY,
    ) as file:
        for begin in range(0, frames.shape[0], _PIECE):
            file.write(frames[begin : begin + _PIECE])
    buffer.seek(0)
    tagged = OggVorbis(buffer)
    tagged.clear()
    for name, value in _comments(facts, sample_rate, signal.shape[1]):
        tagged[name] = value
    buffer.seek(0)
    tagged.save(buffer, padding=lambda _: 0)
    return _with_serial(buffer.getvalue(), signal)


def _with_serial(data: bytes, signal: Signal) -> bytes:
    """The stream's number drawn from the sound; the encoder takes one by chance."""
    serial = int.from_bytes(hashlib.sha256(signal.tobytes()).digest()[:4], "little")
    source, out = io.BytesIO(data), io.BytesIO()
    while True:
        try:
            page = OggPage(source)
        except EOFError:
            return out.getvalue()
        page.serial = serial
        out.write(page.write())


def _chapter_time(at_s: float) -> str:
    """A moment as chapters in Vorbis comments say it (Xiph.Org, "Chapter Extension")."""
    ms = round(1000.0 * at_s)
    return f"{ms // 3_600_000:02}:{ms // 60_000 % 60:02}:{ms // 1000 % 60:02}.{ms % 1000:03}"


def _comments(facts: SoundFacts, sample_rate: int, frames: int) -> list[tuple[str, list[str]]]:
    texts: list[tuple[str, list[str]]] = [
        ("TITLE", [facts.title]),
        ("ARTIST", [facts.author]),
        ("ALBUM", [facts.library]),
        ("LICENSE", [facts.licence]),
        ("DESCRIPTION", [facts.description]),
        ("GENRE", [facts.genre]),
        ("KEYWORDS", list(facts.tags)),
        ("DATE", [facts.date]),
    ]
    if facts.root_note is not None:
        texts.append(("ROOTNOTE", [str(facts.root_note)]))
    if facts.tempo_bpm is not None:
        texts.append(("BPM", [f"{facts.tempo_bpm:g}"]))
    texts += [(name, [text]) for name, text in facts.further.items()]
    for number, mark in enumerate(facts.marks[:_MOST_CHAPTERS], 1):
        texts += [
            (f"CHAPTER{number:03}", [_chapter_time(mark.at_s)]),
            (f"CHAPTER{number:03}NAME", [mark.label]),
        ]
    loop = facts.loop_frames(sample_rate, frames)
    if loop:
        texts += [("LOOPSTART", [str(loop[0])]), ("LOOPLENGTH", [str(loop[1] - loop[0])])]
    return [(name, kept) for name, values in texts if (kept := [one for one in values if one])]
