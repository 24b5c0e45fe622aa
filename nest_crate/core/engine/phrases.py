"""Test phrases: the same few hits for every sound, so that playing skill decides nothing."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nest_crate.core.dsp.util.signals import fade_end
from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.notes import NOTE_FADE_S
from nest_crate.core.engine.render import render
from nest_crate.core.engine.settings import Audio, RenderSettings
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.sound import Sound
from nest_crate.core.units import MAX_NOTE

__all__ = ["PHRASES", "Phrase", "PhraseHit", "render_phrase"]

_LONGEST_S = 30.0
_TAP_S = 0.03


@dataclass(frozen=True)
class PhraseHit:
    """One hit: when and how long in beats (``hold`` None: the sound's own), from its note."""

    at: float
    steps: int = 0
    hold: float | None = None
    tap: bool = False


@dataclass(frozen=True)
class Phrase:
    label: str
    hits: tuple[PhraseHit, ...]


_SCALE = (0, 2, 4, 5, 7, 9, 11, 12)
# Our own: up a fifth, back by steps, an octave to end on.
_MELODY = ((0, 0, 1), (1, 7, 0.5), (1.5, 5, 0.5), (2, 3, 1), (3, 2, 0.5), (3.5, 0, 0.5), (4, 12, 2))

PHRASES: dict[str, Phrase] = {
    "one_shot": Phrase("One shot", (PhraseHit(0),)),
    "held": Phrase("Held", (PhraseHit(0, hold=8),)),
    "tap_and_hold": Phrase("Tap and hold", (PhraseHit(0, tap=True), PhraseHit(4, hold=4))),
    "eight_hits": Phrase("Eight hits", tuple(PhraseHit(n) for n in range(8))),
    "scale": Phrase("Scale", tuple(PhraseHit(n / 2, s, 0.4) for n, s in enumerate(_SCALE))),
    "melody": Phrase("Melody", tuple(PhraseHit(at, s, 0.9 * length) for at, s, length in _MELODY)),
}


def render_phrase(
    sound: Sound, name: str, settings: RenderSettings, *, memory: StageMemory | None = None
) -> Audio:
    """A phrase played with a sound at its tempo, note and velocity, at most 30 s long.

    Each hit has the next hit number. Where the sum passes full scale nothing is lowered here.

    Raises
    ------
    DocumentError
        where there is no such phrase.
    """
    if name not in PHRASES:
        known = ", ".join(PHRASES)
        raise DocumentError([FieldProblem("phrase", f"{name!r} is none of {known}", "unknown")])
    beat_s = 60.0 / sound.tempo_bpm
    rate = settings.sample_rate
    parts: list[tuple[int, Audio]] = []
    for number, hit in enumerate(PHRASES[name].hits):
        hold_s = sound.hit.hold_s if hit.hold is None else hit.hold * beat_s
        wanted = {
            "note": min(MAX_NOTE, sound.hit.note + hit.steps),
            "hold_s": min(_LONGEST_S, _TAP_S if hit.tap else hold_s),
            "number": sound.hit.number + number,
        }
        played = sound.hit.model_copy(update=wanted)
        parts.append(
            (round(hit.at * beat_s * rate), render(sound, played, settings, memory=memory))
        )
    longest = round(_LONGEST_S * rate)
    frames = min(longest, max(start + part.samples.shape[1] for start, part in parts))
    mixed = np.zeros((max(part.samples.shape[0] for _, part in parts), frames))
    one_at_a_time = sound.playing.way != "poly"
    starts = [start for start, _ in parts]
    for index, (start, part) in enumerate(parts):
        samples = part.samples[:, : max(0, frames - start)]
        if one_at_a_time and index + 1 < len(starts):
            # The next note ends this one.
            fade = round(NOTE_FADE_S * rate)
            until = starts[index + 1] - start + fade
            if until < samples.shape[1]:
                samples = fade_end(samples[:, :until], fade)
        mixed[:, start : start + samples.shape[1]] += samples
    return Audio(fade_end(mixed, round(0.01 * rate)), rate)
