"""Hits of a try-out as a MIDI file (Standard MIDI Files 1.0, format 1), and back.

Each part is a track with its name; what is swung is written where it is heard.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

import mido

from nest_crate.core.errors import FormatError
from nest_crate.core.formats.midi import paired_notes
from nest_crate.core.sound.parameters import MAX_BEATS
from nest_crate.core.tryout.document import MAX_HITS, MAX_NOTES, MAX_PARTS, Part, PlacedHit, TryOut
from nest_crate.core.tryout.placing import swung_s

__all__ = ["MAX_MIDI_BYTES", "MidiPart", "hits_from_midi", "hits_to_midi"]

MAX_MIDI_BYTES = 2_000_000
_MOST_MESSAGES = 200_000
_TICKS_A_BEAT = 960
_PLAIN_NOTE = 60
_LONGEST_S = 120.0
# What a hit without a hold of its own is written as.
_PLAIN_HOLD_BEATS = 0.25


@dataclass(frozen=True)
class MidiPart:
    """The hits of one track, at places in beats."""

    name: str
    hits: tuple[PlacedHit, ...]


def hits_to_midi(tryout: TryOut) -> bytes:
    """All parts that have hits, as tracks of one file; chances and mutes are not looked at."""
    file = mido.MidiFile(type=1, ticks_per_beat=_TICKS_A_BEAT)
    head = mido.MidiTrack()
    head.append(mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(tryout.tempo_bpm)))
    head.append(
        mido.MetaMessage(
            "time_signature", numerator=tryout.beats_a_bar, denominator=tryout.beat_value
        )
    )
    file.tracks.append(head)
    for part in tryout.parts:
        if part.hits:
            file.tracks.append(_track(tryout, part))
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _track(tryout: TryOut, part: Part) -> mido.MidiTrack:
    beat_s = 60.0 / tryout.tempo_bpm
    messages: list[tuple[int, int, mido.Message]] = []
    for hit in part.hits:
        at_s = max(0.0, swung_s(tryout, hit) + part.offset_s)
        held_s = _PLAIN_HOLD_BEATS * beat_s if hit.hold_s is None else hit.hold_s
        begin = round(at_s / beat_s * _TICKS_A_BEAT)
        end = max(begin + 1, round((at_s + held_s) / beat_s * _TICKS_A_BEAT))
        for note in hit.notes or (_PLAIN_NOTE,):
            on = mido.Message("note_on", note=note, velocity=hit.velocity)
            # Of one moment, what ends comes before what begins.
            messages.append((begin, 1, on))
            messages.append((end, 0, mido.Message("note_off", note=note, velocity=0)))
    track = mido.MidiTrack([mido.MetaMessage("track_name", name=_latin(part.name))])
    now = 0
    for at, _, message in sorted(messages, key=lambda one: one[:2]):
        track.append(message.copy(time=at - now))
        now = at
    return track


def _latin(name: str) -> str:
    """A name as the format holds it."""
    return name.encode("latin-1", errors="replace").decode("latin-1")


def hits_from_midi(data: bytes, tempo_bpm: float) -> list[MidiPart]:
    """The hits of each track that has notes; notes that begin together are a chord.

    Places are in beats, so that they follow the try-out's own tempo; holds are seconds at it.

    Raises
    ------
    FormatError
        where it cannot be read, holds no note, or more than a try-out takes.
    """
    if len(data) > MAX_MIDI_BYTES:
        raise FormatError("The MIDI file is larger than 2 MB")
    try:
        file = mido.MidiFile(file=io.BytesIO(data), clip=True)
        if file.type == 2:
            raise ValueError("tracks that have no common time")
        if sum(len(track) for track in file.tracks) > _MOST_MESSAGES:
            raise FormatError(f"The MIDI file has more than {_MOST_MESSAGES:,} events")
        beat_s = 60.0 / tempo_bpm
        found = [_part(track, file.ticks_per_beat, beat_s) for track in file.tracks]
    except (OSError, EOFError, ValueError, KeyError, IndexError, TypeError, ZeroDivisionError) as e:
        raise FormatError("This is not a MIDI file, or it is damaged") from e
    parts = [one for one in found if one.hits]
    if not parts:
        raise FormatError("The MIDI file contains no notes")
    if len(parts) > MAX_PARTS:
        raise FormatError(f"The MIDI file has {len(parts)} tracks; a try-out has {MAX_PARTS} parts")
    for part in parts:
        if len(part.hits) > MAX_HITS:
            words = f"“{part.name}” has {len(part.hits):,} hits; a part has at most {MAX_HITS:,}"
            raise FormatError(words)
    return parts


def _part(track: mido.MidiTrack, ticks_per_beat: int, beat_s: float) -> MidiPart:
    names = [str(one.name).strip()[:120] for one in track if one.type == "track_name"]
    # Of one moment the order is that of notes, so that a chord is the same however it was written.
    notes = sorted(
        (begin, note, velocity, held) for note, velocity, begin, held in paired_notes(track)
    )
    return MidiPart(names[-1] if names else "", tuple(_hits(notes, ticks_per_beat, beat_s)))


def _hits(
    notes: list[tuple[float, int, int, float]], ticks_per_beat: int, beat_s: float
) -> list[PlacedHit]:
    chords: dict[tuple[float, float], list[tuple[int, int]]] = {}
    last = max((begin for begin, *_ in notes), default=0) / ticks_per_beat
    if last * beat_s > _LONGEST_S or last > MAX_BEATS:
        raise FormatError(f"The MIDI file lasts {last:.0f} beats, longer than a try-out can")
    for begin, note, velocity, held in notes:
        chords.setdefault((begin, held), []).append((note, velocity))
    found = []
    for (begin, held), chord in chords.items():
        for first in range(0, len(chord), MAX_NOTES):
            some = chord[first : first + MAX_NOTES]
            beats = begin / ticks_per_beat
            found.append(
                PlacedHit(
                    at_s=beats * beat_s,
                    in_beats={"at_s": beats},
                    notes=tuple(note for note, _ in some),
                    velocity=max(velocity for _, velocity in some),
                    hold_s=min(60.0, held / ticks_per_beat * beat_s),
                )
            )
    return found
