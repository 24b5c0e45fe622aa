"""The struck body at work: exciter, modes or string loop, and a level that stays within bounds."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.signal import fftconvolve

from nest_crate.core.dsp.bodies.exciters import blow_correction, noise_burst, pulse, sweep
from nest_crate.core.dsp.bodies.modes import decay_times_s, modal_signal, mode_ratios, stiffened
from nest_crate.core.dsp.filters.comb import (
    UNDAMPED_HZ,
    comb_signal,
    ringing_feedback,
    ringing_loop,
)
from nest_crate.core.dsp.util.fixed_rate_noise import THROWN_RATE
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES
from nest_crate.core.dsp.util.signals import Signal, peak
from nest_crate.core.engine.sources.context import SourceContext, pitch_signal
from nest_crate.core.sound import StruckSource

__all__ = [
    "BodyModes",
    "body_modes",
    "loop_feedback",
    "struck_end_s",
    "struck_exciter",
    "struck_source",
]

Numbers = NDArray[np.float64]

# From the time to -60 dB to that of silence, and a little of the loop's own.
_TO_SILENCE = 1.6
_GOLDEN = (math.sqrt(5.0) - 1.0) / 2.0
# The loop's damping is set where it matters, three octaves above the first partial.
_DAMPED_AT = 8.0
# The peak that a body is brought to, and how much of its beginning is looked at for it.
_PEAK = 0.9
_MEASURED_S, _MEASURED_RATE = 0.1, 96000
_QUIETEST = 1e-7
_SINC_REACH, _SINC_SHAPE = 24, 7.0


@dataclass(frozen=True)
class BodyModes:
    """A body's modes in the order of their numbers: frequency re the first, level as struck
    (signed), seconds to -60 dB, whether it is heard; arrays of equal length."""

    ratios: Numbers
    strikes: Numbers
    decays_s: Numbers
    heard: NDArray[np.bool_]


def body_modes(source: StruckSource) -> BodyModes:
    """The modes of a body with what was changed of them by hand; of a loop its harmonics."""
    body = "string" if source.body == "string_loop" else source.body
    ratios, strikes = mode_ratios(
        body, source.modes, position=source.position, aspect=source.aspect, set_st=source.set_st
    )
    ratios = stiffened(ratios, source.inharmonicity)
    decays_s = decay_times_s(ratios, source.decay_s * source.size, source.damping)
    heard = np.ones(ratios.size, dtype=np.bool_)
    ratios, strikes = ratios.copy(), strikes.copy()
    for change in source.changes:
        at = change.mode - 1
        if at < ratios.size:
            ratios[at] *= 2.0 ** (change.shift_cent / 1200.0)
            strikes[at] *= 10.0 ** (change.level_db / 20.0)
            decays_s[at] *= change.ring
            heard[at] = not change.mute
    return BodyModes(ratios, strikes, decays_s, heard)


def struck_end_s(source: StruckSource) -> float:
    """Seconds after which a body that was struck has fallen silent."""
    exciter_s = 0.01 if source.exciter == "impulse" else source.exciter_s + 0.01
    if source.body == "string_loop":
        return exciter_s + _TO_SILENCE * source.decay_s * source.size
    return exciter_s + _TO_SILENCE * float(body_modes(source).decays_s.max(initial=0.0))


def struck_source(context: SourceContext, source: StruckSource) -> Signal:
    """A body that is struck at the layer's start, shape (1 or 2, frames).

    Its level is brought to just below full scale whatever the settings, so that none of them is an
    accident.
    """
    if not context.frames:
        return np.zeros((1, 0))
    pitch_hz = pitch_signal(context, source)[0] / source.size
    exciter = struck_exciter(context, source)
    body = _string_loop if source.body == "string_loop" else _modes
    # Measured on a stretch that is always the same, whatever length and rate are rendered.
    stretch = np.full(round(_MEASURED_S * _MEASURED_RATE), pitch_hz[0])
    measured = exciter
    if context.settings.sample_rate != _MEASURED_RATE:
        settings = replace(context.settings, sample_rate=_MEASURED_RATE)
        measured = struck_exciter(replace(context, settings=settings), source)
    loudest = peak(body(measured, stretch, source, _MEASURED_RATE))
    rung = body(exciter, pitch_hz, source, context.settings.sample_rate)
    rung *= _PEAK / max(loudest, _QUIETEST)
    if source.knock > 0.0:
        heard = exciter[: context.frames] / max(float(np.abs(exciter).max()), 1e-9)
        rung[:, : heard.size] += source.knock * heard
    return rung


def struck_exciter(context: SourceContext, source: StruckSource) -> Numbers:
    """What strikes the body, shape (frames,)."""
    rate = context.settings.sample_rate
    if source.exciter == "impulse":
        return pulse(source.hardness, rate)
    if source.exciter == "sweep":
        return sweep(
            source.exciter_s,
            source.hardness,
            rate,
            from_hz=source.sweep_from_hz,
            to_hz=source.sweep_to_hz,
        )
    return noise_burst(
        source.exciter_s,
        source.hardness,
        rate,
        seed=context.seed,
        part=f"{context.layer.id}.exciter",
        hit_number=context.hit_number if source.new_each_hit else 0,
    )


def _modes(exciter: Numbers, pitch_hz: Numbers, source: StruckSource, rate: int) -> Signal:
    modes = body_modes(source)
    first_hz = float(pitch_hz[0])
    still = bool(np.all(pitch_hz == first_hz))
    strikes = np.where(modes.heard, modes.strikes, 0.0)
    if source.exciter == "impulse":
        strikes = strikes * blow_correction(source.hardness, modes.ratios * first_hz, rate)
    return modal_signal(
        exciter,
        frames=pitch_hz.size,
        frequencies_hz=modes.ratios * first_hz,
        decays_s=modes.decays_s,
        gains=strikes * _sides(modes.ratios.size, source.spread),
        sample_rate=rate,
        shift=None if still else pitch_hz / first_hz,
    )


def _sides(count: int, spread: float) -> Signal:
    """Gains of modes to one side or two, shape (channels, modes), each at a place of its own."""
    if spread == 0.0:
        return np.ones((1, count))
    # The first mode stands in the middle; neighbours lie apart.
    places = spread * (2.0 * ((np.arange(count) * _GOLDEN + 0.5) % 1.0) - 1.0)
    angles = (places + 1.0) * np.pi / 4.0
    return np.asarray(np.sqrt(2.0) * np.stack([np.cos(angles), np.sin(angles)]))


def loop_feedback(source: StruckSource, hz: float, sample_rate: int) -> tuple[float, float]:
    """Feedback and pole of the damping of a string loop at a pitch.

    The feedback lets the first partial ring for the decay; the one-pole low-pass (1 - p) /
    (1 - p z^-1) lets the eighth harmonic ring 8^damping times less, so far as it can.
    """
    decay_s = source.decay_s * source.size
    if source.damping == 0.0:
        return ringing_feedback(hz, decay_s, 0.0, sample_rate), 0.0
    round_trip = 10.0 ** (-3.0 / (hz * decay_s))
    # In dB per round, the eighth harmonic loses so much more than the first.
    wanted = round_trip ** (_DAMPED_AT**source.damping - 1.0)
    turn = 2.0 * math.pi * min(_DAMPED_AT * hz, 0.4 * sample_rate) / sample_rate
    square = max(1e-6, wanted**2)
    b = (1.0 - square * math.cos(turn)) / max(1e-9, 1.0 - square)
    pole = min(0.98, b - math.sqrt(max(0.0, b * b - 1.0)))
    return ringing_feedback(hz, decay_s, pole, sample_rate), pole


def _delayed(exciter: Numbers, frames: float) -> Numbers:
    """An exciter (frames,) so many frames later, between two frames by a windowed sinc."""
    whole = math.floor(frames)
    rest = frames - whole
    if rest < 1e-9:
        return np.concatenate([np.zeros(whole), exciter])
    places = np.arange(-_SINC_REACH, _SINC_REACH + 1) - rest
    taps = np.sinc(places) * np.kaiser(2 * _SINC_REACH + 1, _SINC_SHAPE)
    taps /= taps.sum()
    moved = np.concatenate([np.zeros(whole), fftconvolve(exciter, taps)])
    # What the sinc begins with before the blow itself is left away.
    return np.asarray(moved[_SINC_REACH:])


def _string_loop(exciter: Numbers, pitch_hz: Numbers, source: StruckSource, rate: int) -> Signal:
    hz = float(pitch_hz[0])
    feedback, pole = loop_feedback(source, hz, rate)
    driven = np.zeros((1, pitch_hz.size))
    # Exciters are as strong as modes need them, which hear the sum of their frames; a loop hands on
    # each frame as it is.
    exciter = exciter * (rate / THROWN_RATE)
    count = min(pitch_hz.size, exciter.size)
    driven[0, :count] = exciter[:count]
    # Struck at a place, the wave that runs the other way comes back upside down so much later;
    # this leaves nothing at 0 Hz either.
    back = _delayed(exciter, max(1.0, (0.01 + 0.49 * source.position) * rate / hz))
    count = min(pitch_hz.size, back.size)
    driven[0, :count] -= back[:count]
    if np.all(pitch_hz == hz):
        return ringing_loop(driven, hz, feedback=feedback, pole=pole, sample_rate=rate)
    return comb_signal(
        driven,
        frequency_hz=pitch_hz[::CONTROL_FRAMES].copy(),
        feedback=feedback,
        forward=0.0,
        damping_hz=UNDAMPED_HZ,
        pole=pole,
        sample_rate=rate,
    )
