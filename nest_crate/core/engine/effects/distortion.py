"""Drive and reducer at work."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from nest_crate.core.dsp.distortion.bit_reduction import reduced_signal
from nest_crate.core.dsp.distortion.drive import shaped_drive, soft_drive
from nest_crate.core.dsp.distortion.transfer import drawn_table
from nest_crate.core.dsp.filters.offset import without_offset
from nest_crate.core.dsp.filters.state_variable import filter_signal, high_cut
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.context import ProcessContext, ProcessorWork, values_at_frames
from nest_crate.core.sound.processors import DriveProcessor, ReducerProcessor

__all__ = ["EFFECTS", "drive_rest"]

_NO_LOW_CUT_HZ = 10.0
_REACH_S = 0.004
# The mean that is removed is taken over so much to either side.
_OFFSET_TAIL_S = 0.12
# At full asymmetry the wave is pushed so far in, re where curves bend.
_FURTHEST_BIAS = 0.9


def drive_rest(asymmetry: float | Control) -> Any:
    """The bias that an asymmetry makes."""
    return _FURTHEST_BIAS * asymmetry


def _low_cut(signal: Signal, corner_hz: float | Control, sample_rate: int) -> Signal:
    if isinstance(corner_hz, float) and corner_hz == _NO_LOW_CUT_HZ:
        return signal
    return filter_signal(
        signal,
        response="high_pass",
        slope_db=12,
        cutoff_hz=corner_hz,
        resonance=math.sqrt(0.5),
        sample_rate=sample_rate,
    )


def _drive(signal: Signal, part: DriveProcessor, context: ProcessContext) -> Signal:
    rate, moved = context.sample_rate, context.moved.control
    octaves = 3 if context.settings.quality == "final" else 2
    low_cut_hz = moved("low_cut_hz", part.low_cut_hz)
    signal = _low_cut(signal, low_cut_hz, rate)
    signal = high_cut(signal, moved("tone_hz", part.tone_hz), sample_rate=rate)
    drive_db = context.moved.at_frames("drive_db", part.drive_db, signal.shape[1])
    gain = 10.0 ** (drive_db / 20.0)
    asymmetry = moved("asymmetry", part.asymmetry)
    biased = not isinstance(asymmetry, float) or asymmetry != 0.0
    if part.shape == "soft" and not biased:
        if isinstance(gain, float):
            driven = soft_drive(signal, gain=gain, octaves=octaves, adaptive=True)
        else:
            driven = soft_drive(signal * gain, gain=1.0, octaves=octaves)
    else:
        bias = values_at_frames(drive_rest(asymmetry), signal.shape[1])
        rest = float(bias[0]) if bias.size else 0.0
        more: dict[str, Any] = {}
        if part.shape == "drawn":
            more["table"] = drawn_table(tuple((point.x, point.y) for point in part.drawn))
        driven = shaped_drive(
            signal * gain + bias, shape=part.shape, rest=rest, octaves=octaves, **more
        )
        # What silence has become, and the offset of what is not even to both sides.
        still = shaped_drive(
            np.full((1, 1), rest), shape=part.shape, rest=rest, octaves=octaves, **more
        )
        driven = driven - still[0, 0]
    driven = without_offset(driven, rate)
    high_cut_hz = moved("high_cut_hz", part.high_cut_hz)
    return high_cut(driven, high_cut_hz, sample_rate=rate)


def _drive_tail_s(part: DriveProcessor) -> float:
    """Its filters are symmetric and reach a few frames beyond the end; the others ring."""
    tail_s = _REACH_S + _OFFSET_TAIL_S
    if part.low_cut_hz > _NO_LOW_CUT_HZ:
        tail_s += 4.0 / part.low_cut_hz
    return tail_s + 4.0 / min(part.tone_hz, part.high_cut_hz)


def _reducer(signal: Signal, part: ReducerProcessor, context: ProcessContext) -> Signal:
    count = signal.shape[1]
    return reduced_signal(
        signal,
        bits=values_at_frames(context.moved.control("bits", part.bits), count),
        rate_hz=values_at_frames(context.moved.control("rate_hz", part.rate_hz), count),
        smooth=part.smooth,
        sample_rate=context.sample_rate,
    )


EFFECTS = {
    "drive": ProcessorWork(
        _drive,
        _drive_tail_s,
        rings={"asymmetry": "far", "low_cut_hz": "down", "tone_hz": "down", "high_cut_hz": "down"},
        cost_ns=450.0,
        room=5.0,
    ),
    "reducer": ProcessorWork(
        _reducer, lambda part: 12.0 / part.rate_hz, rings={"rate_hz": "down"}, cost_ns=20.0
    ),
}
