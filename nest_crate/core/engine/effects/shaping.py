"""Drive and reducer at work."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from nest_crate.core.dsp.drive import shaped_drive, soft_drive
from nest_crate.core.dsp.filters import filter_signal
from nest_crate.core.dsp.movement import Control
from nest_crate.core.dsp.reducing import reduced_signal
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.dsp.transfer import drawn_table
from nest_crate.core.engine.context import ProcessContext, ProcessorWork, values_at_frames
from nest_crate.core.sound.processors import DriveProcessor, ReducerProcessor

__all__ = ["EFFECTS", "drive_rest"]

_NO_LOW_CUT_HZ, _NO_HIGH_CUT_HZ = 10.0, 20000.0
# What blocks an offset turns here, far below hearing.
_OFFSET_HZ = 8.0
_REACH_S = 0.004
_OFFSET_TAIL_S = 0.25
# At full asymmetry the wave is pushed so far in, re where curves bend.
_FURTHEST_BIAS = 0.9


def drive_rest(asymmetry: float | Control) -> Any:
    """The bias that an asymmetry makes."""
    return _FURTHEST_BIAS * asymmetry


def _cut(
    signal: Signal, response: str, corner_hz: float | Control, sample_rate: int, none_hz: float
) -> Signal:
    if isinstance(corner_hz, float) and corner_hz == none_hz:
        return signal
    return filter_signal(
        signal,
        response=response,
        slope_db=12,
        cutoff_hz=corner_hz,
        resonance=math.sqrt(0.5),
        sample_rate=sample_rate,
    )


def _drive(signal: Signal, part: DriveProcessor, context: ProcessContext) -> Signal:
    rate, moved = context.sample_rate, context.moved.control
    octaves = 3 if context.settings.quality == "final" else 2
    low_cut_hz = moved("low_cut_hz", part.low_cut_hz)
    signal = _cut(signal, "high_pass", low_cut_hz, rate, _NO_LOW_CUT_HZ)
    signal = _cut(signal, "low_pass", moved("tone_hz", part.tone_hz), rate, _NO_HIGH_CUT_HZ)
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
        driven = filter_signal(
            driven - still[0, 0],
            response="high_pass",
            slope_db=6,
            cutoff_hz=_OFFSET_HZ,
            resonance=1.0,
            sample_rate=rate,
        )
    high_cut_hz = moved("high_cut_hz", part.high_cut_hz)
    return _cut(driven, "low_pass", high_cut_hz, rate, _NO_HIGH_CUT_HZ)


def _drive_tail_s(part: DriveProcessor) -> float:
    """Its filters are symmetric and reach a few frames beyond the end; the others ring."""
    tail_s = _REACH_S
    if part.shape != "soft" or part.asymmetry != 0.0:
        tail_s += _OFFSET_TAIL_S
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
