"""How the effects work on a signal, and how long they ring on; entries of ``PROCESSORS``."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from nest_crate.core.dsp.delays import chorus_signal, echo_signal, echo_tail_s
from nest_crate.core.dsp.dynamics import ceiling_signal, compressor_gain_db
from nest_crate.core.dsp.movement import Control, at_frames
from nest_crate.core.dsp.room import room_signal, room_tail_s
from nest_crate.core.dsp.shifting import shifted_signal, width_signal
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.sound.processors import (
    CeilingProcessor,
    ChorusProcessor,
    CompressorProcessor,
    DelayProcessor,
    RoomProcessor,
    ShifterProcessor,
    WidthProcessor,
)

if TYPE_CHECKING:
    from nest_crate.core.engine.processing import ProcessContext

__all__ = ["EFFECTS", "TAILS"]


def _frames(value: float | Control, count: int) -> Control:
    """A number or a control signal at every frame."""
    return np.full(count, value) if isinstance(value, float) else at_frames(value, count)


def _cycles(rate_hz: float | Control, count: int, sample_rate: int) -> Control:
    """Cycles gone by at every frame of a rate that may move."""
    rates = _frames(rate_hz, count)
    return np.concatenate([[0.0], np.cumsum(rates[:-1])]) / sample_rate if count else rates


def _delay(signal: Signal, part: DelayProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    time_s: float | Control = moved("time_s", part.time_s)
    if part.sync:
        time_s = 60.0 / context.tempo_bpm * part.beats
    return echo_signal(
        signal,
        time_s=time_s,
        feedback=moved("feedback", part.feedback),
        crossing=part.crossing,
        low_cut_hz=part.low_cut_hz,
        high_cut_hz=part.high_cut_hz,
        sample_rate=context.settings.sample_rate,
    )


def _delay_tail_s(part: DelayProcessor) -> float:
    return min(40.0, echo_tail_s(part.time_s, part.feedback))


def _chorus(signal: Signal, part: ChorusProcessor, context: ProcessContext) -> Signal:
    moved, count = context.moved.control, signal.shape[1]
    rate = context.settings.sample_rate
    return chorus_signal(
        signal,
        voices=part.voices,
        delay_s=_frames(moved("delay_s", part.delay_s), count),
        depth_s=_frames(moved("depth_s", part.depth_s), count),
        cycles=_cycles(moved("rate_hz", part.rate_hz), count, rate),
        feedback=_frames(moved("feedback", part.feedback), count),
        width=part.width,
        sample_rate=rate,
    )


def _compressor(signal: Signal, part: CompressorProcessor, context: ProcessContext) -> Signal:
    gain_db = compressor_gain_db(
        signal,
        threshold_db=part.threshold_db,
        ratio=part.ratio,
        knee_db=part.knee_db,
        attack_s=part.attack_s,
        release_s=part.release_s,
        look_ahead_s=part.look_ahead_s,
        measure=part.measure,
        sample_rate=context.settings.sample_rate,
    )
    return np.asarray(signal * 10.0 ** ((gain_db + part.make_up_db) / 20.0))


def _shifter(signal: Signal, part: ShifterProcessor, context: ProcessContext) -> Signal:
    shift_hz = context.moved.control("shift_hz", part.shift_hz)
    cycles = _cycles(shift_hz, signal.shape[1], context.settings.sample_rate)
    if not cycles.size:
        return signal
    rate = context.settings.sample_rate
    return shifted_signal(signal, cycles, way=part.way, sample_rate=rate)


def _width(signal: Signal, part: WidthProcessor, context: ProcessContext) -> Signal:
    return width_signal(
        signal,
        width=context.moved.at_frames("width", part.width, signal.shape[1]),
        mono_below_hz=part.mono_below_hz,
        sample_rate=context.settings.sample_rate,
    )


def _room(signal: Signal, part: RoomProcessor, context: ProcessContext) -> Signal:
    return room_signal(
        signal,
        size_m=part.size_m,
        decay_s=part.decay_s,
        damping_hz=part.damping_hz,
        pre_delay_s=part.pre_delay_s,
        low_cut_hz=part.low_cut_hz,
        width=part.width,
        sample_rate=context.settings.sample_rate,
    )


def _ceiling(signal: Signal, part: CeilingProcessor, context: ProcessContext) -> Signal:
    return ceiling_signal(
        signal,
        ceiling_db=part.ceiling_db,
        gain_db=part.gain_db,
        release_s=part.release_s,
        sample_rate=context.settings.sample_rate,
    )


EFFECTS: dict[str, Any] = {
    "delay": _delay,
    "chorus": _chorus,
    "compressor": _compressor,
    "shifter": _shifter,
    "width": _width,
    "room": _room,
    "ceiling": _ceiling,
}

# Filters that reach beyond the end of a signal, both ways.
_REACH_S = 0.005
# The shifter takes away what lies near 0 Hz, by a filter that rings so long.
_SHIFTER_S = 0.3

TAILS: dict[str, Any] = {
    "delay": _delay_tail_s,
    "chorus": lambda part: echo_tail_s(part.delay_s + part.depth_s, part.feedback),
    "compressor": lambda part: 0.0,
    "shifter": lambda part: _SHIFTER_S,
    "width": lambda part: 4.0 / part.mono_below_hz,
    "room": lambda part: room_tail_s(part.decay_s, part.pre_delay_s),
    "ceiling": lambda part: _REACH_S,
}
