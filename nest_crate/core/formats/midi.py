"""Notes of a MIDI file, for trying a sound."""

from __future__ import annotations

import io
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import islice

import mido

from nest_crate.core.errors import FormatError

__all__ = ["MAX_MIDI_BYTES", "MidiNote", "paired_notes", "read_notes"]

MAX_MIDI_BYTES = 1_000_000
_MOST_MESSAGES = 100_000


@dataclass(frozen=True)
class MidiNote:
    """One note: when it begins and for how long it is held, in seconds."""

    note: int
    velocity: int
    at_s: float
    hold_s: float


def read_notes(data: bytes) -> list[MidiNote]:
    """The notes of a MIDI file in the order in which they begin, the first at 0 s.

    Raises
    ------
    FormatError
        where it cannot be read or holds no note.
    """
    if len(data) > MAX_MIDI_BYTES:
        raise FormatError("The MIDI file is larger than 1 MB")
    try:
        notes = _notes(mido.MidiFile(file=io.BytesIO(data), clip=True))
    except (OSError, EOFError, ValueError, KeyError, IndexError, TypeError, ZeroDivisionError) as e:
        raise FormatError("This is not a MIDI file, or it is damaged") from e
    if not notes:
        raise FormatError("The MIDI file contains no notes")
    first = min(one.at_s for one in notes)
    moved = [MidiNote(one.note, one.velocity, one.at_s - first, one.hold_s) for one in notes]
    return sorted(moved, key=lambda one: (one.at_s, one.note))


def _notes(file: mido.MidiFile) -> list[MidiNote]:
    """Every note that is let go, and those that never are, held to the end."""
    if file.type == 2:
        raise ValueError("tracks that have no common time")
    return [MidiNote(*one) for one in paired_notes(islice(file, _MOST_MESSAGES))]


def paired_notes(messages: Iterable[mido.Message]) -> list[tuple[int, int, float, float]]:
    """(note, velocity, begin, held) of each note, in the time that the messages are in; those that
    are never let go are held to the end."""
    down: dict[tuple[int, int], list[tuple[float, int]]] = {}
    found: list[tuple[int, int, float, float]] = []
    now = 0.0
    for message in messages:
        now += message.time
        if message.type not in ("note_on", "note_off"):
            continue
        key = (message.channel, message.note)
        if message.type == "note_on" and message.velocity > 0:
            down.setdefault(key, []).append((now, message.velocity))
        elif down.get(key):
            begin, velocity = down[key].pop(0)
            found.append((message.note, velocity, begin, now - begin))
    for (_, note), held in down.items():
        found += [(note, velocity, begin, now - begin) for begin, velocity in held]
    return found
