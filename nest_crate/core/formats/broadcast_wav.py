"""WAV with all that a sampler, a game tool or an archive reads beside the samples.

RIFF WAVE and its INFO list, cue and smpl chunks ("Multimedia Programming Interface and Data
Specifications 1.0", 1991, and its 1994 update), the broadcast extension (EBU Tech 3285, version 2,
with loudness), and iXML 1.61. Written without the time of day: the same sound, the same bytes.
"""

from __future__ import annotations

import struct
from typing import Literal

import numpy as np
from anyascii import anyascii

from nest_crate.core.dsp.util.signals import Signal, require_signal
from nest_crate.core.formats.ixml import ixml_chunk
from nest_crate.core.formats.quantisation import quantised
from nest_crate.core.formats.tagged import OWN_ORIGINATOR, SoundFacts

__all__ = ["WavNumbers", "broadcast_wav", "packed"]

WavNumbers = Literal["pcm16", "pcm24", "float32"]
_PCM, _IEEE_FLOAT = 1, 3
_BITS = {"pcm16": 16, "pcm24": 24, "float32": 32}
_NOT_MEASURED = 0x7FFF


def broadcast_wav(
    signal: Signal,
    sample_rate: int,
    *,
    numbers: WavNumbers,
    facts: SoundFacts,
    dither: bool = False,
) -> bytes:
    """The bytes of a WAV file with its facts.

    Parameters
    ----------
    signal : np.ndarray [shape=(1 or 2, frames)]
        full scale is 1; whole numbers hold back what is above, float keeps it.
    """
    signal = require_signal(signal)
    channels, frames = signal.shape
    bits = _BITS[numbers]
    kind = _IEEE_FLOAT if numbers == "float32" else _PCM
    frame = channels * bits // 8
    form = struct.pack("<HHIIHH", kind, channels, sample_rate, sample_rate * frame, frame, bits)
    chunks = [(b"bext", _bext(facts)), (b"fmt ", form if kind == _PCM else form + b"\0\0")]
    if kind == _IEEE_FLOAT:
        chunks.append((b"fact", struct.pack("<I", frames)))
    if numbers == "float32":
        data = np.ascontiguousarray(signal.T, dtype="<f4").tobytes()
    else:
        data = packed(quantised(signal, bits, dither=dither), bits, little=True)
    chunks.append((b"data", data))
    loop = facts.loop_frames(sample_rate, frames)
    if facts.root_note is not None or loop:
        chunks.append((b"smpl", _smpl(facts, sample_rate, loop)))
    places = [(round(mark.at_s * sample_rate), mark.label) for mark in facts.marks]
    # Some programs read a loop from its cue points alone.
    places += [(loop[0], "loop start"), (loop[1], "loop end")] if loop else []
    marks = sorted(one for one in places if 0 <= one[0] < frames)
    if marks:
        chunks += [(b"cue ", _cue(marks)), (b"LIST", _labels(marks))]
    chunks += [(b"LIST", _info(facts)), (b"iXML", ixml_chunk(facts, channels))]
    content = b"WAVE" + b"".join(_chunk(name, data) for name, data in chunks)
    return b"RIFF" + struct.pack("<I", len(content)) + content


def packed(
    numbers: np.ndarray[tuple[int, ...], np.dtype[np.int32]], bits: int, *, little: bool
) -> bytes:
    """Whole numbers (channels, frames) as interleaved bytes of 16 or 24 bits."""
    frames = np.ascontiguousarray(numbers.T)
    if bits == 16:
        return frames.astype("<i2" if little else ">i2").tobytes()
    four = frames.astype("<i4" if little else ">i4").view(np.uint8).reshape(*frames.shape, 4)
    return np.ascontiguousarray(four[..., :3] if little else four[..., 1:]).tobytes()


def _chunk(name: bytes, content: bytes) -> bytes:
    return name + struct.pack("<I", len(content)) + content + b"\0" * (len(content) % 2)


def _text(text: str, size: int) -> bytes:
    """A text in a field of fixed size, which holds ASCII alone (EBU Tech 3285): other letters
    become those that sound or look most like them, "Größe" is "Grosse". iXML holds them as they
    are."""
    return str(anyascii(text)).encode("ascii", "replace")[:size].ljust(size, b"\0")


def _hundredths(value: float | None) -> int:
    return _NOT_MEASURED if value is None else max(-32767, min(32766, round(100.0 * value)))


def _bext(facts: SoundFacts) -> bytes:
    said = " - ".join(one for one in (facts.title, facts.description) if one)
    head = (
        _text(said, 256)
        + _text(facts.author or OWN_ORIGINATOR, 32)
        + _text(facts.source_reference or facts.reference, 32)
        + _text(facts.date or "2026-01-01", 10)
        + _text("00:00:00", 8)
    )
    loudness = struct.pack(
        "<5h",
        _hundredths(facts.loudness_lufs),
        _NOT_MEASURED,
        _hundredths(facts.true_peak_db),
        _NOT_MEASURED,
        _NOT_MEASURED,
    )
    return head + struct.pack("<IIH", 0, 0, 2) + b"\0" * 64 + loudness + b"\0" * 180


def _smpl(facts: SoundFacts, sample_rate: int, loop: tuple[int, int] | None) -> bytes:
    # Without a note, how far the sound lies from it says nothing.
    note, cent = (60, 0.0) if facts.root_note is None else (facts.root_note, facts.root_cent)
    fraction = round((cent % 100.0) / 100.0 * 2**32) & 0xFFFFFFFF
    # The pitch fraction only goes up: what lies below the note is written from the note beneath.
    if cent < 0.0 and fraction:
        note = max(0, note - 1)
    count = 1 if loop else 0
    head = struct.pack("<9I", 0, 0, round(1e9 / sample_rate), note, fraction, 0, 0, count, 0)
    return head + (struct.pack("<6I", 0, 0, loop[0], loop[1] - 1, 0, 0) if loop else b"")


def _cue(marks: list[tuple[int, str]]) -> bytes:
    points = b"".join(
        struct.pack("<II4sIII", n, at, b"data", 0, 0, at) for n, (at, _) in enumerate(marks, 1)
    )
    return struct.pack("<I", len(marks)) + points


def _labels(marks: list[tuple[int, str]]) -> bytes:
    return b"adtl" + b"".join(
        _chunk(b"labl", struct.pack("<I", n) + label.encode("utf-8") + b"\0")
        for n, (_, label) in enumerate(marks, 1)
    )


def _info(facts: SoundFacts) -> bytes:
    texts = (
        (b"INAM", facts.title),
        (b"IART", facts.author),
        (b"ICOP", facts.licence),
        (b"ICMT", facts.description),
        (b"IGNR", facts.genre),
        (b"IKEY", "; ".join(facts.tags)),
        (b"IPRD", facts.library),
        (b"ICRD", facts.date),
        (b"ISFT", OWN_ORIGINATOR),
    )
    return b"INFO" + b"".join(
        _chunk(name, text.encode("utf-8") + b"\0") for name, text in texts if text
    )
