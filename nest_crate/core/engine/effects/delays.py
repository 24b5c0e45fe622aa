"""Chorus, flanger, phaser, vibrato and delays at work."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from nest_crate.core.dsp.delays.echoes import chorus_signal, echo_signal, echo_tail_s
from nest_crate.core.dsp.delays.pitch_heads import transposed_echoes
from nest_crate.core.dsp.modulation.swept import phased_signal, swept_copy, vibrato_depth_s
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.context import (
    Longer,
    ProcessContext,
    ProcessorWork,
    TailFacts,
    cycles_gone_by,
    values_at_frames,
)
from nest_crate.core.sound.processors import (
    ChorusProcessor,
    DelayProcessor,
    FlangerProcessor,
    PhaserProcessor,
    PitchDelayProcessor,
    VibratoProcessor,
)

__all__ = ["EFFECTS"]

# As long as any render may be; how soon it ends is seen from the signal.
_LONGEST_TAIL_S = 60.0


def _swings(rate_hz: float | Control, apart_deg: float, count: int, sample_rate: int) -> Control:
    """A sine that begins at 0 with the hit, and the other side's where they stand apart."""
    turn = 2.0 * np.pi * cycles_gone_by(rate_hz, count, sample_rate)
    if apart_deg == 0.0:
        return np.sin(turn)[np.newaxis]
    return np.stack([np.sin(turn), np.sin(turn + math.radians(apart_deg))])


def _standing_delay(part: Any, facts: TailFacts) -> Any:
    if not part.sync:
        return part
    return part.model_copy(update={"time_s": 60.0 / facts.tempo_bpm * part.beats})


def _beats_s(beats: float, context: ProcessContext) -> float:
    return 60.0 / context.tempo_bpm * beats


def _delay(signal: Signal, part: DelayProcessor, context: ProcessContext) -> Signal:
    moved, count = context.moved.control, signal.shape[1]
    wobble = None
    wobble_s = context.moved.at_frames("wobble_s", part.wobble_s, count)
    if not isinstance(wobble_s, float) or wobble_s > 0.0:
        wobble_hz = moved("wobble_hz", part.wobble_hz)
        wobble = wobble_s * _swings(wobble_hz, 0.0, count, context.sample_rate)[0]
    shift = np.exp2(moved("shift_oct", part.shift_oct))
    return echo_signal(
        signal,
        time_s=_beats_s(part.beats, context) if part.sync else moved("time_s", part.time_s),
        feedback=moved("feedback", part.feedback),
        crossing=part.crossing,
        low_cut_hz=part.low_cut_hz * shift,
        high_cut_hz=part.high_cut_hz * shift,
        sample_rate=context.sample_rate,
        wobble=wobble,
    )


def _delay_tail_s(part: DelayProcessor) -> float:
    return min(_LONGEST_TAIL_S, echo_tail_s(part.time_s + part.wobble_s, part.feedback))


def _pitch_delay(signal: Signal, part: PitchDelayProcessor, context: ProcessContext) -> Signal:
    moved, count = context.moved.control, signal.shape[1]
    shift_st = values_at_frames(moved("shift_st", part.shift_st), count)

    def echoes(of: Signal, cents: float) -> Signal:
        return transposed_echoes(
            of,
            time_s=_beats_s(part.beats, context) if part.sync else part.time_s,
            ratio=np.exp2((shift_st + cents / 100.0) / 12.0),
            feedback=values_at_frames(moved("feedback", part.feedback), count),
            grain_s=part.grain_s,
            low_cut_hz=part.low_cut_hz,
            high_cut_hz=part.high_cut_hz,
            sample_rate=context.sample_rate,
        )

    if part.detune_cent == 0.0:
        return echoes(signal, 0.0)
    half = 0.5 * part.detune_cent
    return np.concatenate([echoes(signal[:1], half), echoes(signal[-1:], -half)])


def _pitch_delay_tail_s(part: PitchDelayProcessor) -> float:
    return min(_LONGEST_TAIL_S, echo_tail_s(part.time_s + part.grain_s, part.feedback))


def _chorus(signal: Signal, part: ChorusProcessor, context: ProcessContext) -> Signal:
    at_frames, count, rate = context.moved.at_frames, signal.shape[1], context.sample_rate
    return chorus_signal(
        signal,
        voices=part.voices,
        delay_s=at_frames("delay_s", part.delay_s, count),
        depth_s=at_frames("depth_s", part.depth_s, count),
        cycles=cycles_gone_by(context.moved.control("rate_hz", part.rate_hz), count, rate),
        feedback=at_frames("feedback", part.feedback, count),
        width=part.width,
        sample_rate=rate,
    )


def _flanger(signal: Signal, part: FlangerProcessor, context: ProcessContext) -> Signal:
    moved, count, rate = context.moved.control, signal.shape[1], context.sample_rate
    swings = _swings(moved("rate_hz", part.rate_hz), part.apart_deg, count, rate)
    delay_s = context.moved.at_frames("delay_s", part.delay_s, count)
    depth_s = context.moved.at_frames("depth_s", part.depth_s, count)
    return swept_copy(
        signal,
        delay_s=delay_s + depth_s * swings,
        feedback=values_at_frames(moved("feedback", part.feedback), count),
        sample_rate=rate,
    )


def _phaser(signal: Signal, part: PhaserProcessor, context: ProcessContext) -> Signal:
    moved, count, rate = context.moved.control, signal.shape[1], context.sample_rate
    swings = _swings(moved("rate_hz", part.rate_hz), part.apart_deg, count, rate)
    centre_hz = context.moved.at_frames("centre_hz", part.centre_hz, count)
    depth_oct = context.moved.at_frames("depth_oct", part.depth_oct, count)
    return phased_signal(
        signal,
        corner_hz=centre_hz * np.exp2(depth_oct * swings),
        notches=part.notches,
        feedback=values_at_frames(moved("feedback", part.feedback), count),
        sample_rate=rate,
    )


def _phaser_tail_s(part: PhaserProcessor) -> float:
    """All-passes ring by their corner; feedback lets each round ring on."""
    lowest_hz = float(part.centre_hz * 2.0**-part.depth_oct)
    rounds = math.log(1e-5) / math.log(max(0.05, abs(part.feedback)))
    once_s = 2.0 * part.notches * 2.0 / (2.0 * math.pi * lowest_hz)
    return min(_LONGEST_TAIL_S, once_s * (2.0 + rounds))


def _vibrato(signal: Signal, part: VibratoProcessor, context: ProcessContext) -> Signal:
    moved, count, rate = context.moved.control, signal.shape[1], context.sample_rate
    rate_hz = moved("rate_hz", part.rate_hz)
    cents = context.moved.at_frames("depth_cent", part.depth_cent, count)
    rates = values_at_frames(rate_hz, count)
    depth_s = (np.exp2(cents / 1200.0) - 1.0) / (2.0 * np.pi * rates)
    # The middle stays where it is: as late as the furthest swing that links may ask for, whether
    # or not it comes to that in what is rendered.
    middle_s = vibrato_depth_s(
        context.moved.furthest("depth_cent", part.depth_cent, up=True),
        context.moved.furthest("rate_hz", part.rate_hz, up=False),
    )
    swings = _swings(rate_hz, part.apart_deg, count, rate)
    return swept_copy(
        signal,
        delay_s=middle_s + 4.0 / rate + depth_s * swings,
        feedback=np.zeros(count),
        sample_rate=rate,
    )


def _swept_tail_s(part: ChorusProcessor | FlangerProcessor) -> float:
    return min(_LONGEST_TAIL_S, echo_tail_s(part.delay_s + part.depth_s, part.feedback))


_SWEPT: dict[str, Longer] = {"feedback": "far", "delay_s": "up", "depth_s": "up"}

EFFECTS = {
    "delay": ProcessorWork(
        _delay,
        _delay_tail_s,
        standing=_standing_delay,
        rings={"feedback": "far", "time_s": "up", "wobble_s": "up"},
        cost_ns=35.0,
        room=4.0,
    ),
    "pitch_delay": ProcessorWork(
        _pitch_delay,
        _pitch_delay_tail_s,
        standing=_standing_delay,
        rings={"feedback": "far"},
        cost_ns=90.0,
        room=4.0,
    ),
    "chorus": ProcessorWork(
        _chorus, _swept_tail_s, rings=_SWEPT, cost_ns=lambda part: 8.0 + 8.0 * part.voices, room=5.0
    ),
    "flanger": ProcessorWork(_flanger, _swept_tail_s, rings=_SWEPT, cost_ns=40.0, room=5.0),
    "phaser": ProcessorWork(
        _phaser,
        _phaser_tail_s,
        rings={"feedback": "far", "depth_oct": "up", "centre_hz": "down"},
        cost_ns=lambda part: 30.0 + 15.0 * part.notches,
        room=6.0,
    ),
    "vibrato": ProcessorWork(
        _vibrato,
        lambda part: 0.002 + 2.0 * vibrato_depth_s(part.depth_cent, part.rate_hz),
        rings={"depth_cent": "up", "rate_hz": "down"},
        cost_ns=35.0,
        room=5.0,
    ),
}
