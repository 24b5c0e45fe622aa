"""Shifter, width, gain, reverse and fade at work."""

from __future__ import annotations

import math

import numpy as np

from nest_crate.core.dsp.filters.offset import without_offset
from nest_crate.core.dsp.modulation.frequency_shift import shifted_signal, width_signal
from nest_crate.core.dsp.space.widening import WIDENING_TAIL_S, widened_middle
from nest_crate.core.dsp.util.signals import Signal, fade_end, loud_frames, pan_signal
from nest_crate.core.engine.context import ProcessContext, ProcessorWork, cycles_gone_by
from nest_crate.core.sound.processors import (
    FadeProcessor,
    GainProcessor,
    ReverseProcessor,
    ShifterProcessor,
    WidenerProcessor,
    WidthProcessor,
)

__all__ = ["EFFECTS"]

# The shifter takes away what lies near 0 Hz, by a filter that rings so long.
_SHIFTER_S = 0.3
# What is softer is not brought to the front.
_SILENT = 1e-5


def _shifter(signal: Signal, part: ShifterProcessor, context: ProcessContext) -> Signal:
    shift_hz = context.moved.control("shift_hz", part.shift_hz)
    cycles = cycles_gone_by(shift_hz, signal.shape[1], context.sample_rate)
    if not cycles.size:
        return signal
    moved = shifted_signal(signal, cycles, way=part.way, sample_rate=context.sample_rate)
    return without_offset(moved, context.sample_rate)


def _width(signal: Signal, part: WidthProcessor, context: ProcessContext) -> Signal:
    return width_signal(
        signal,
        width=context.moved.at_frames("width", part.width, signal.shape[1]),
        mono_below_hz=part.mono_below_hz,
        slope_db=part.slope_db,
        sample_rate=context.sample_rate,
    )


def _gain(signal: Signal, part: GainProcessor, context: ProcessContext) -> Signal:
    moved, count = context.moved.at_frames, signal.shape[1]
    gain = 10.0 ** (np.asarray(moved("gain_db", part.gain_db, count)) / 20.0)
    louder = signal * (-gain if part.invert else gain)
    return pan_signal(louder, moved("pan", part.pan, count))


def _reverse(signal: Signal, part: ReverseProcessor, context: ProcessContext) -> Signal:
    """From the last moment that is heard to the first; silence behind it."""
    end = int(loud_frames(signal, _SILENT))
    out = np.zeros_like(signal)
    turned = np.ascontiguousarray(signal[:, :end][:, ::-1])
    out[:, :end] = fade_end(turned, round(part.fade_s * context.sample_rate))
    return out


def _fade(signal: Signal, part: FadeProcessor, context: ProcessContext) -> Signal:
    time_s = np.arange(signal.shape[1]) / context.sample_rate
    shape = np.ones(signal.shape[1])
    # Shorter than a frame there is nothing to fade.
    if part.in_s * context.sample_rate >= 1.0:
        shape = np.clip(time_s / part.in_s, 0.0, 1.0)
    shape = np.minimum(shape, np.clip((part.end_s - time_s) / part.out_s, 0.0, 1.0))
    if part.way == "smooth":
        shape = 0.5 - 0.5 * np.cos(np.pi * shape)
    return np.asarray(signal * shape)


def _nothing(part: object) -> float:
    return 0.0


def _widener(signal: Signal, part: WidenerProcessor, context: ProcessContext) -> Signal:
    return widened_middle(
        signal,
        amount=context.moved.at_frames("amount", part.amount, signal.shape[1]),
        above_hz=part.above_hz,
        sample_rate=context.sample_rate,
    )


def _silent_from_s(part: FadeProcessor) -> float:
    """Nothing passes by it only where all goes through it."""
    return part.end_s if part.mix == 1.0 and part.band == "all" else math.inf


EFFECTS = {
    "shifter": ProcessorWork(_shifter, lambda part: _SHIFTER_S, cost_ns=450.0, room=12.0),
    "width": ProcessorWork(
        _width, lambda part: part.slope_db / 6.0 / part.mono_below_hz, cost_ns=30.0, room=6.0
    ),
    "widener": ProcessorWork(_widener, lambda part: WIDENING_TAIL_S, cost_ns=60.0, room=4.0),
    "gain": ProcessorWork(_gain, _nothing, cost_ns=8.0, room=2.0),
    "reverse": ProcessorWork(_reverse, _nothing, cost_ns=6.0, room=4.0, needs_end=True),
    "fade": ProcessorWork(_fade, _nothing, cost_ns=15.0, room=3.0, ends_at_s=_silent_from_s),
}
