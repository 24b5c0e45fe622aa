"""Conversions between the units that people type and the numbers that the engine uses."""

from __future__ import annotations

import math
import re

__all__ = [
    "A4_HZ",
    "MAX_NOTE",
    "SILENCE_DB",
    "db_to_gain",
    "gain_to_db",
    "hz_to_note",
    "note_name",
    "note_to_hz",
    "parse_note",
]

A4_HZ = 440.0
MAX_NOTE = 127

# The level that stands for digital silence wherever a finite number is needed.
SILENCE_DB = -144.0

_NAMES = ("C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B")
_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
_NOTE = re.compile(r"^([A-Ga-g])([#b♯♭]?)(-?\d)$")


def db_to_gain(level_db: float) -> float:
    """Amplitude factor of a level in dB; at or below ``SILENCE_DB`` it is exactly 0."""
    return 0.0 if level_db <= SILENCE_DB else float(10.0 ** (level_db / 20.0))


def gain_to_db(gain: float) -> float:
    """Level in dB of an amplitude factor; never below ``SILENCE_DB`` (silence)."""
    size = abs(gain)
    return SILENCE_DB if size <= 0.0 else max(SILENCE_DB, 20.0 * math.log10(size))


def note_to_hz(note: float) -> float:
    """Frequency of a note number, equal temperament, note 69 = A4 = 440 Hz."""
    return float(A4_HZ * 2.0 ** ((note - 69.0) / 12.0))


def hz_to_note(frequency_hz: float) -> float:
    """Note number (with fraction) of a frequency above 0 Hz."""
    return 69.0 + 12.0 * math.log2(frequency_hz / A4_HZ)


def note_name(note: int) -> str:
    """Name of a note number: 31 is ``G1`` (note 60 is C4)."""
    return f"{_NAMES[note % 12]}{note // 12 - 1}"


def parse_note(text: str) -> int:
    """Note number of a name such as ``G1``, ``F#2`` or ``Bb-1``.

    Raises
    ------
    ValueError
        where the text is no note name or the note is outside 0 to 127.
    """
    match = _NOTE.match(text.strip())
    if match is None:
        raise ValueError(f"note={text!r} is not a note name; write one like G1, F#2 or Bb3")
    letter, accidental, octave = match.groups()
    shift = {"": 0, "#": 1, "♯": 1, "b": -1, "♭": -1}[accidental]
    note = _STEPS[letter.upper()] + shift + 12 * (int(octave) + 1)
    if not 0 <= note <= MAX_NOTE:
        raise ValueError(f"note={text!r} is outside C-1 to G9")
    return note
