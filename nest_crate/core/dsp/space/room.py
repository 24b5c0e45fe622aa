"""A room: early reflections of a box, and the dense answer of a feedback delay network."""

from __future__ import annotations

import math

import numpy as np

from nest_crate.core.dsp.filters.state_variable import filter_signal, high_cut
from nest_crate.core.dsp.modulation.swept import swept_copy
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.dsp.space.reflections import diffused, reflected
from nest_crate.core.dsp.space.room_network import UNDAMPED_HZ, Network, network_answer, rate_inside
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["room_signal", "room_tail_s", "widened"]

# How loud the early reflections are beside what the lines make.
_EARLY_LEVEL = 0.5


def room_signal(
    signal: Signal,
    *,
    size_m: float,
    decay_s: float,
    damping_hz: float,
    pre_delay_s: float,
    low_cut_hz: float,
    width: float,
    sample_rate: int,
    high_cut_hz: float = UNDAMPED_HZ,
    movement: float = 0.0,
) -> Signal:
    """The room's answer alone, shape (2, frames).

    Parameters
    ----------
    decay_s
        time to -60 dB at low frequencies.
    damping_hz
        where the decay is half as long; at 20 kHz it is the same everywhere.
    high_cut_hz
        of the whole answer; none at 20 kHz.
    movement
        depth of the modulation of the delay: 1 is 0.5 ms.
    width
        0 the same on both sides, 1 two answers that share nothing.
    """
    inside = rate_inside(sample_rate)
    if inside != sample_rate:
        # A tone's level hangs on every delay to a part of its period: no rounding to other frames.
        raised = resample(signal, sample_rate, inside)
        at_inside = room_signal(
            raised,
            size_m=size_m,
            decay_s=decay_s,
            damping_hz=damping_hz,
            pre_delay_s=pre_delay_s,
            low_cut_hz=low_cut_hz,
            width=width,
            sample_rate=inside,
            high_cut_hz=high_cut_hz,
            movement=movement,
        )
        return resample(at_inside, inside, sample_rate)[:, : signal.shape[1]]
    network = Network.of(
        size_m=size_m, decay_s=decay_s, damping_hz=damping_hz, sample_rate=sample_rate
    )
    # In single precision, whose rounding lies 140 dB below: twice as much at a time.
    source = np.zeros(signal.shape, dtype=np.float32)
    late = min(signal.shape[1], round(pre_delay_s * sample_rate))
    source[:, late:] = signal[:, : signal.shape[1] - late]
    early = reflected(source, size_m, decay_s, sample_rate)
    answer = network_answer(diffused(source, decay_s, sample_rate), network)
    if movement > 0.0:
        moved = _moved(answer.astype(np.float64), movement, sample_rate)
        answer = np.asarray(moved, dtype=np.float32)
    early *= np.float32(_EARLY_LEVEL)
    answer += early
    return widened(answer.astype(np.float64), width, low_cut_hz, high_cut_hz, sample_rate)


# Rates in Hz of the two slow sines that modulate the delay of each side; none is a multiple of
# another.
_MOVED_HZ = ((0.31, 0.71), (0.43, 0.57))
_MOVED_S = 0.0005


def _moved(out: Signal, movement: float, sample_rate: int) -> Signal:
    """The answer through one modulated delay per side, so that its resonances keep moving.

    Several taps would make a comb, and its peaks are resonances of their own.
    """
    time_s = np.arange(out.shape[1]) / sample_rate
    still = np.zeros(out.shape[1])
    swing = np.stack(
        [np.sin(2.0 * np.pi * np.multiply.outer(hz, time_s)).mean(axis=0) for hz in _MOVED_HZ]
    )
    delay_s = 4.0 / sample_rate + movement * _MOVED_S * (1.0 + swing)
    return swept_copy(out, delay_s=delay_s, feedback=still, sample_rate=sample_rate)


def widened(
    out: Signal, width: float, low_cut_hz: float, high_cut_hz: float, sample_rate: int
) -> Signal:
    """An answer of two sides narrowed by a turn that keeps the power, and cut at both ends."""
    wide = out
    if width < 1.0:
        middle, side = 0.5 * (out[0] + out[1]), 0.5 * (out[0] - out[1])
        angle = width * math.pi / 4.0
        wide = math.sqrt(2.0) * np.stack(
            [
                math.cos(angle) * middle + math.sin(angle) * side,
                math.cos(angle) * middle - math.sin(angle) * side,
            ]
        )
    wide = filter_signal(
        wide,
        response="high_pass",
        slope_db=12,
        cutoff_hz=low_cut_hz,
        resonance=math.sqrt(0.5),
        sample_rate=sample_rate,
    )
    return high_cut(wide, high_cut_hz, sample_rate=sample_rate)


def room_tail_s(decay_s: float, pre_delay_s: float) -> float:
    """Seconds to -100 dB."""
    return pre_delay_s + decay_s * 100.0 / 60.0
