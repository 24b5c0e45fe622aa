"""Loops and ambiences under a try-out, as they are or stretched to its tempo at their own pitch."""

from __future__ import annotations

import hashlib

import numpy as np

from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.sound import load_sound
from nest_crate.core.tryout.document import PlaysBed

__all__ = ["bed_reach_s", "bed_signal"]

# The engine renders up to a minute at a time.
_PIECE_S = 40.0
_SEAM_S = 0.02


def _speed(bed: PlaysBed, tempo_bpm: float) -> float:
    return tempo_bpm / bed.tempo_bpm if bed.follow and bed.tempo_bpm > 0.0 else 1.0


def bed_reach_s(bed: PlaysBed, tempo_bpm: float, length_s: float) -> float:
    """How many seconds of its recording a bed is heard of at the most, with some to spare."""
    return bed.first_beat_s + length_s * _speed(bed, tempo_bpm) + 2.0


def bed_signal(
    bed: PlaysBed, audio: Audio, tempo_bpm: float, length_s: float, settings: RenderSettings
) -> Signal:
    """A bed from its first beat on, ``length_s`` long at most; again and again where it loops."""
    rate = settings.sample_rate
    frames = round(length_s * rate)
    speed = _speed(bed, tempo_bpm)
    first = min(round(bed.first_beat_s * audio.sample_rate), audio.samples.shape[1])
    # No more of a long recording is looked at than is heard.
    heard = int(np.ceil(length_s * speed * audio.sample_rate)) + audio.sample_rate
    samples = audio.samples[:, first : first + heard]
    once = resample(samples, audio.sample_rate, rate) if samples.shape[1] else samples
    if speed != 1.0 and once.shape[1]:
        once = _stretched(once, speed, settings)
    if not bed.loop or once.shape[1] == 0:
        return once[:, :frames]
    return np.tile(once, (1, -(-frames // once.shape[1])))[:, :frames]


def _stretched(samples: Signal, speed: float, settings: RenderSettings) -> Signal:
    """A signal at another speed and its own pitch, in pieces that are faded into each other."""
    rate = settings.sample_rate
    frames = round(samples.shape[1] / speed)
    piece, seam = round(_PIECE_S * rate), round(_SEAM_S * rate)
    out = np.zeros((samples.shape[0], frames))
    for begin in range(0, frames, piece):
        wanted = min(piece + seam, frames - begin)
        first = round(begin * speed)
        part = samples[:, first : first + round((wanted + rate) * speed)]
        made = _grains(part, speed, wanted, settings)
        if begin:
            rise = np.minimum(1.0, np.arange(made.shape[1]) / seam)
            out[:, begin : begin + seam] *= 1.0 - rise[:seam][: out.shape[1] - begin]
            made = made * rise
        out[:, begin : begin + wanted] += made
    return out


def _grains(samples: Signal, speed: float, frames: int, settings: RenderSettings) -> Signal:
    """One piece, by the engine's own grains."""
    rate = settings.sample_rate
    seconds = frames / rate
    level = {"points": [{"time_s": 0.0, "value": 1.0}]}
    # What is worked out of a recording is remembered by its hash.
    key = hashlib.sha256(samples.tobytes()).hexdigest()
    source = {
        "kind": "sample",
        "recording": key,
        "reading": "grains",
        "speed": speed,
        "snap": False,
        "root_note": 60,
    }
    layer = {"id": "bed", "name": "Bed", "source": source, "level": level}
    sound = load_sound({"name": "Bed", "layers": [layer], "hit": {"hold_s": min(60.0, seconds)}})
    own = RenderSettings(
        sample_rate=rate,
        length_s=min(60.0, seconds + 0.01),
        recordings={key: Audio(samples, rate)},
        cancel=settings.cancel,
    )
    made = render(sound, sound.hit, own).samples
    if samples.shape[0] == 1:
        made = made[:1]
    return np.pad(made, ((0, 0), (0, max(0, frames - made.shape[1]))))[:, :frames]
