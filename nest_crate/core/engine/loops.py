"""A drone as a loop that closes: a stretch of a held sound, whose end flows into its start."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.settings import MAX_LENGTH_S, Audio
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.units import note_to_hz

__all__ = ["Loop", "loop_of"]

# Of the loop, and at most: how long its end is faded into what came before its start.
_FADED, _LONGEST_FADE_S = 0.5, 2.0
# Tones that meet against each other are raised by no more than this correlation asks for.
_LEAST_ALIKE = -0.95
_MOST_TUNED_ST = 0.05
# Held on for so long, that no release is within the loop.
_HELD_ON_S = 0.05
# How far into the sound a loop begins, when it has settled.
_SETTLED_S = 1.0
_FIELD = "hit.loop_s"


@dataclass(frozen=True)
class Loop:
    """What is rendered for a loop, and which frames of it are the loop."""

    sound: Sound
    hit: Hit
    start: int
    end: int
    fade: int

    def part(self, samples: Signal) -> Signal:
        """The loop's frames as they were rendered."""
        return samples[:, self.start : self.end]

    def closed(self, audio: Audio) -> Audio:
        """The loop of what was rendered: its last frame is followed by its first.

        The last part is crossfaded into what sounded before the loop's start, at constant power,
        whatever both have in common; so what moves needs no whole number of cycles in it.

        Raises
        ------
        DocumentError
            where the sound was over before.
        """
        samples, rate = audio.samples, audio.sample_rate
        if samples.shape[1] < self.end:
            lasted_s = samples.shape[1] / rate
            message = f"the sound is over after {lasted_s:.1f} s: a loop needs a held one"
            raise DocumentError([FieldProblem(_FIELD, message, "too_short")])
        return Audio(_closed(samples, self.start, self.end, self.fade), rate, "length")


def loop_of(sound: Sound, hit: Hit, sample_rate: int) -> Loop:
    """What must be rendered for the loop that a hit asks for.

    It begins when the sound has settled. What follows the common pitch is tuned by up to 5 cents,
    so that its note has whole cycles in the loop.

    Raises
    ------
    DocumentError
        where loop and lead-in are longer than any render.
    """
    length_s = hit.loop_s
    fade_s = min(_FADED * length_s, _LONGEST_FADE_S)
    start_s = max(_SETTLED_S, fade_s)
    whole_s = start_s + length_s
    if whole_s + _HELD_ON_S > MAX_LENGTH_S:
        message = (
            f"a loop of {length_s:g} s and {start_s:g} s before it last {whole_s:.1f} s: "
            f"at most {MAX_LENGTH_S:g} s"
        )
        raise DocumentError([FieldProblem(_FIELD, message, "too_long")])
    held = hit.with_seconds(hold_s=whole_s + _HELD_ON_S, loop_s=0.0)
    tuned = _tuned(sound, held, length_s)
    start, end = round(start_s * sample_rate), round(start_s * sample_rate)
    end += max(1, round(length_s * sample_rate))
    return Loop(tuned, held, start, end, min(start, round(fade_s * sample_rate)))


def _tuned(sound: Sound, hit: Hit, length_s: float) -> Sound:
    """The sound with its common pitch moved so little that the loop holds whole cycles of the note,
    and harmonics meet themselves in phase; as it is where that would be heard."""
    cycles = note_to_hz(hit.note) * length_s
    shift_st = 12.0 * math.log2(max(1.0, round(cycles)) / cycles)
    if abs(shift_st) > _MOST_TUNED_ST:
        return sound
    points, release = (
        tuple(
            one.model_copy(update={"value": max(-120.0, min(120.0, one.value + shift_st))})
            for one in part
        )
        for part in (sound.pitch.points, sound.pitch.release)
    )
    pitch = sound.pitch.model_copy(update={"points": points, "release": release})
    return sound.model_copy(update={"pitch": pitch})


def _closed(samples: Signal, start: int, end: int, count: int) -> Signal:
    """Frames from start to end, the last ``count`` crossfaded into those before the start.

    Of two parts with a correlation c the sum (1 - w) a + w b has the power
    (1 - w)^2 + w^2 + 2 c w (1 - w); it is divided by its root.
    """
    made = samples[:, start:end].copy()
    going, coming = made[:, -count:], samples[:, start - count : start]
    alone = float(np.sqrt(np.sum(going**2) * np.sum(coming**2)))
    alike = max(_LEAST_ALIKE, float(np.sum(going * coming)) / alone) if alone > 0.0 else 1.0
    way = (np.arange(count) + 0.5) / count
    power = (1.0 - way) ** 2 + way**2 + 2.0 * alike * way * (1.0 - way)
    made[:, -count:] = ((1.0 - way) * going + way * coming) / np.sqrt(power)
    return made
