"""AIFF with names, instrument and markers (Apple, "Audio Interchange File Format", 1989)."""

from __future__ import annotations

import math
import struct
from typing import Literal

from nest_crate.core.dsp.util.signals import Signal, require_signal
from nest_crate.core.formats.broadcast_wav import packed
from nest_crate.core.formats.file_words import annotation
from nest_crate.core.formats.quantisation import quantised
from nest_crate.core.formats.tagged import SoundFacts

__all__ = ["aiff_file"]

_FORWARD = 1


def aiff_file(
    signal: Signal,
    sample_rate: int,
    *,
    bits: Literal[16, 24],
    facts: SoundFacts,
    dither: bool = False,
) -> bytes:
    """The bytes of an AIFF file of a signal (1 or 2, frames) with its facts."""
    signal = require_signal(signal)
    channels, frames = signal.shape
    common = struct.pack(">hIh", channels, frames, bits) + _extended(float(sample_rate))
    sound = struct.pack(">II", 0, 0)
    sound += packed(quantised(signal, bits, dither=dither), bits, little=False)
    chunks = [(b"COMM", common)]
    loop = facts.loop_frames(sample_rate, frames)
    marks = [(round(mark.at_s * sample_rate), mark.label) for mark in facts.marks]
    places = [*([(loop[0], "loop start"), (loop[1], "loop end")] if loop else []), *marks]
    if places:
        chunks.append((b"MARK", _markers(places)))
    if facts.root_note is not None or loop:
        chunks.append((b"INST", _instrument(facts, bool(loop))))
    texts = (
        (b"ANNO", f"Date: {facts.date}" if facts.date else ""),
        (b"NAME", facts.title),
        (b"AUTH", facts.author),
        (b"(c) ", facts.licence),
        (b"ANNO", facts.description),
        (b"ANNO", f"Keywords: {'; '.join(facts.tags)}" if facts.tags else ""),
        (b"ANNO", f"Category: {facts.genre}" if facts.genre else ""),
        (b"ANNO", "" if facts.tempo_bpm is None else f"Tempo: {facts.tempo_bpm:g}"),
        *((b"ANNO", f"{annotation(name)}: {text}") for name, text in facts.further.items()),
    )
    chunks += [(name, text.encode("utf-8")) for name, text in texts if text]
    chunks.append((b"SSND", sound))
    content = b"AIFF" + b"".join(_chunk(name, data) for name, data in chunks)
    return b"FORM" + struct.pack(">I", len(content)) + content


def _chunk(name: bytes, content: bytes) -> bytes:
    return name + struct.pack(">I", len(content)) + content + b"\0" * (len(content) % 2)


def _extended(value: float) -> bytes:
    """A positive number in the 80 bits of IEEE 754 extended precision."""
    mantissa, exponent = math.frexp(value)
    return struct.pack(">HQ", exponent + 16382, round(mantissa * 2**64))


def _markers(places: list[tuple[int, str]]) -> bytes:
    made = struct.pack(">H", len(places))
    for number, (at, label) in enumerate(places, 1):
        # Cut behind a whole letter.
        text = label.encode("utf-8")[:254].decode("utf-8", "ignore").encode("utf-8")
        # A Pascal string: its length, its letters, an even number of bytes in all.
        pad = b"" if len(text) % 2 else b"\0"
        made += struct.pack(">hIB", number, at, len(text)) + text + pad
    return made


def _instrument(facts: SoundFacts, loop: bool) -> bytes:
    # Without a note, how far the sound lies from it says nothing.
    note, cent = (60, 0.0) if facts.root_note is None else (facts.root_note, facts.root_cent)
    # AIFF says by how much to detune for the note, the other way round.
    detune = -max(-50, min(50, round(cent)))
    sustain = struct.pack(">hhh", _FORWARD, 1, 2) if loop else struct.pack(">hhh", 0, 0, 0)
    release = struct.pack(">hhh", 0, 0, 0)
    return struct.pack(">Bbbbbbh", note, detune, 0, 127, 1, 127, 0) + sustain + release
