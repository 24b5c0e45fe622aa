"""From a hit to its notes: what is played when, at which pitch, and how each is cut or slurred."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.playing import Pattern
from nest_crate.core.units import MAX_NOTE

__all__ = ["MAX_NOTES", "NOTE_FADE_S", "PlayedNote", "note_line", "played_notes"]

MAX_NOTES = 64
# A note that another ends goes down over this time.
NOTE_FADE_S = 0.003
# Hit numbers of a pattern's notes lie so far apart, so that no two hits share their randomness.
_NUMBER_STRIDE = 1_000_003
_TOUCHING_S = 1e-9


@dataclass(frozen=True)
class PlayedNote:
    """One note of a hit, in seconds from the hit's start.

    ``line`` holds further pitches that it slides to: (seconds from its own start, note).
    ``ends_s`` is when another note ends it, infinity where none does.
    """

    start_s: float
    note: int
    hold_s: float
    number: int
    gain_db: float = 0.0
    line: tuple[tuple[float, int], ...] = ()
    ends_s: float = math.inf

    def hit(self, hit: Hit) -> Hit:
        """The hit as this note alone plays it."""
        wanted: dict[str, Any] = {"note": self.note, "hold_s": self.hold_s, "number": self.number}
        return hit.model_copy(update={**wanted, "further": ()})


def played_notes(sound: Sound, hit: Hit) -> list[PlayedNote]:
    """The notes of a hit in the order in which they begin, one at least."""
    own = [(0.0, hit.note), *((one.at_s, one.note) for one in hit.further)]
    plain = [
        PlayedNote(at_s, note, max(0.0, hit.hold_s - at_s), hit.number)
        for at_s, note in sorted(own, key=lambda one: one[0])
        if at_s <= hit.hold_s or at_s == 0.0
    ]
    pattern = sound.pattern
    notes = plain if pattern.order == "off" else _patterned(sound, pattern, hit, plain)
    notes = [
        replace(one, number=hit.number + index * _NUMBER_STRIDE) for index, one in enumerate(notes)
    ]
    if sound.playing.way == "poly" or len(notes) == 1:
        return notes
    legato = sound.playing.way == "legato"
    return _one_at_a_time(notes, slurred=legato, glides=sound.playing.glide_s > 0.0)


def _patterned(
    sound: Sound, pattern: Pattern, hit: Hit, plain: list[PlayedNote]
) -> list[PlayedNote]:
    each_s = 60.0 / sound.tempo_bpm * pattern.beats if pattern.sync else pattern.every_s
    # What rounding leaves of a step is none.
    fitting = math.ceil(hit.hold_s / each_s - 1e-6)
    count = min(MAX_NOTES, max(1, pattern.notes or fitting))
    order = _order(pattern, sorted({one.note for one in plain}))
    notes = []
    for step in range(count):
        # The loudest note is as set: the first where they get softer, else the last.
        way = step / max(1, count - 1)
        gain_db = pattern.fade_db * way if pattern.fade_db < 0.0 else pattern.fade_db * (way - 1.0)
        for note in order[step % len(order)]:
            held_s = pattern.gate * each_s
            notes.append(PlayedNote(step * each_s, note, held_s, hit.number, gain_db))
    return notes[:MAX_NOTES]


def _order(pattern: Pattern, chord: list[int]) -> list[list[int]]:
    """What each step plays before it begins again."""
    if pattern.order == "repeat":
        return [chord]
    rising = [note + 12 * octave for octave in range(pattern.octaves) for note in chord]
    rising = [note for note in rising if note <= MAX_NOTE] or chord
    if pattern.order == "down":
        rising = rising[::-1]
    if pattern.order == "up_down" and len(rising) > 2:
        rising = rising + rising[-2:0:-1]
    return [[note] for note in rising]


def _one_at_a_time(notes: list[PlayedNote], *, slurred: bool, glides: bool) -> list[PlayedNote]:
    """Each note ends the one before; slurred, one that is still held goes on as the next."""
    kept: list[PlayedNote] = []
    before: PlayedNote | None = None
    for index, one in enumerate(notes):
        # Of notes that begin together the last is the newest.
        if index + 1 < len(notes) and notes[index + 1].start_s - one.start_s < _TOUCHING_S:
            continue
        if not kept or before is None:
            kept.append(one)
        elif slurred and one.start_s <= before.start_s + before.hold_s + _TOUCHING_S:
            first = kept[-1]
            since_s = one.start_s - first.start_s
            line = (*first.line, (since_s, one.note))
            kept[-1] = replace(first, line=line, hold_s=since_s + one.hold_s)
        else:
            kept[-1] = replace(kept[-1], ends_s=one.start_s)
            # Gliding, it begins at the pitch of the note before.
            glided = replace(one, note=before.note, line=((0.0, one.note),))
            kept.append(glided if glides and not slurred else one)
        before = one
    return kept


def note_line(
    played: PlayedNote, glide_s: float, *, frames: int, sample_rate: float
) -> NDArray[np.float64]:
    """Semitones above the note's own pitch at each frame, shape (frames,).

    Each slide leads straight from where the pitch stands to its note in ``glide_s``.
    """
    time_s = np.arange(frames) / sample_rate
    shift = np.zeros(frames)
    for at_s, note in played.line:
        begin = min(frames, max(0, math.ceil(at_s * sample_rate - 1e-6)))
        if begin == frames:
            break
        from_st, to_st = shift[begin], float(note - played.note)
        if glide_s > 0.0:
            way = np.minimum(1.0, (time_s[begin:] - at_s) / glide_s)
            shift[begin:] = from_st + (to_st - from_st) * way
        else:
            shift[begin:] = to_st
    return shift
