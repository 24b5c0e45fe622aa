"""Room, shimmer, convolution and blur at work."""

from __future__ import annotations

import numpy as np

from nest_crate.core.dsp.filters.state_variable import filter_signal, high_cut
from nest_crate.core.dsp.space.convolution import convolved_signal, impulse_at, made_impulse
from nest_crate.core.dsp.space.room import room_signal, room_tail_s
from nest_crate.core.dsp.space.shimmer import shimmer_signal, shimmer_tail_s
from nest_crate.core.dsp.space.spectral_blur import blurred_signal
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.context import (
    ProcessContext,
    ProcessorWork,
    cycles_gone_by,
    values_at_frames,
)
from nest_crate.core.sound.processors import (
    BlurProcessor,
    ConvolutionProcessor,
    RoomProcessor,
    ShimmerProcessor,
)

__all__ = ["EFFECTS"]

# As long as any render may be; how soon it ends is seen from the signal.
_LONGEST_TAIL_S = 60.0
_LONGEST_IMPULSE_S = 60
_NO_LOW_CUT_HZ = 10.0
# Of a high-pass, in periods of its corner.
_RING_PERIODS = 3.0


def _room(signal: Signal, part: RoomProcessor, context: ProcessContext) -> Signal:
    return room_signal(
        signal,
        size_m=part.size_m,
        decay_s=part.decay_s,
        damping_hz=part.damping_hz,
        pre_delay_s=part.pre_delay_s,
        low_cut_hz=part.low_cut_hz,
        high_cut_hz=part.high_cut_hz,
        movement=part.movement,
        width=part.width,
        sample_rate=context.sample_rate,
    )


# How fast and how far a moved shimmer sways.
_SWAY_HZ, _SWAY_ST = 0.7, 0.15


def _shimmer(signal: Signal, part: ShimmerProcessor, context: ProcessContext) -> Signal:
    moved, count = context.moved.control, signal.shape[1]
    shift_st = values_at_frames(moved("shift_st", part.shift_st), count)
    if part.movement > 0.0:
        turn = 2.0 * np.pi * cycles_gone_by(_SWAY_HZ, count, context.sample_rate)
        shift_st = shift_st + part.movement * _SWAY_ST * np.sin(turn)
    return shimmer_signal(
        signal,
        shift_st=shift_st,
        amount=values_at_frames(moved("amount", part.amount), count),
        size_m=part.size_m,
        decay_s=part.decay_s,
        damping_hz=part.damping_hz,
        low_cut_hz=part.low_cut_hz,
        width=part.width,
        sample_rate=context.sample_rate,
    )


def _convolution(signal: Signal, part: ConvolutionProcessor, context: ProcessContext) -> Signal:
    rate = context.sample_rate
    if part.impulse == "imported":
        if part.recording is None:
            return signal
        recording = context.settings.recording(part.recording)
        impulse, from_rate = recording.samples, recording.sample_rate
        impulse = impulse[:, : _LONGEST_IMPULSE_S * from_rate]
    else:
        impulse, from_rate = made_impulse(part.impulse, rate), rate
    answer = convolved_signal(
        signal,
        impulse_at(
            impulse,
            from_rate=from_rate,
            size=part.size,
            decay_s=part.decay_s,
            sample_rate=rate,
        ),
        late_frames=round(part.pre_delay_s * rate),
    )
    if part.low_cut_hz != _NO_LOW_CUT_HZ:
        answer = filter_signal(
            answer,
            response="high_pass",
            slope_db=12,
            cutoff_hz=part.low_cut_hz,
            resonance=0.5**0.5,
            sample_rate=rate,
        )
    return high_cut(answer, part.high_cut_hz, sample_rate=rate)


def _convolution_tail_s(part: ConvolutionProcessor) -> float:
    if part.impulse == "imported" and part.recording is None:
        return 0.0
    ring_s = part.decay_s * 100.0 / 60.0 + _RING_PERIODS / part.low_cut_hz
    return min(_LONGEST_TAIL_S, part.pre_delay_s + ring_s)


def _blur(signal: Signal, part: BlurProcessor, context: ProcessContext) -> Signal:
    seed, name = context.random_key
    return blurred_signal(
        signal,
        time_s=part.time_s,
        width=part.width,
        seed=seed,
        part=f"{name}.blur",
        sample_rate=context.sample_rate,
    )


EFFECTS = {
    "room": ProcessorWork(
        _room,
        lambda part: room_tail_s(part.decay_s, part.pre_delay_s) + _RING_PERIODS / part.low_cut_hz,
        cost_ns=lambda part: 90.0 if part.movement == 0.0 else 300.0,
        room=7.0,
    ),
    "shimmer": ProcessorWork(
        _shimmer,
        lambda part: min(_LONGEST_TAIL_S, shimmer_tail_s(part.decay_s, part.amount)),
        rings={"amount": "up"},
        cost_ns=300.0,
        room=6.0,
    ),
    "convolution": ProcessorWork(_convolution, _convolution_tail_s, cost_ns=250.0, room=7.0),
    "blur": ProcessorWork(
        _blur, lambda part: 0.1 + part.time_s * 100.0 / 60.0, cost_ns=450.0, room=5.0
    ),
}
