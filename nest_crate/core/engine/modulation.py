"""Layers that act on each other: a source with another layer in its phase, pitch or level."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from nest_crate.core.dsp.filters.offset import without_offset
from nest_crate.core.dsp.resampling.oversampling import raise_cleanly, return_rate
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.moved import Moved
from nest_crate.core.engine.sources import SOURCES, SourceContext
from nest_crate.core.sound.layers import Modulator

__all__ = ["Acting", "modulated_source"]


@dataclass(frozen=True)
class Acting:
    """A modulator at work: the other layer's signal (channels, frames), for sync its pitch in Hz,
    and what moves the amount."""

    modulator: Modulator
    signal: Signal
    moved: Moved


def modulated_source(context: SourceContext, acting: list[Acting]) -> Signal:
    """The layer's source with all that acts on it.

    Phase, frequency and sync bend the source itself and add up; ring and amplitude work on what it
    makes, one after the other. A noise, which has no phase, is left as it is by the first three.
    """
    layer = context.layer
    later = []
    for one in acting:
        amount = one.moved.at_frames("amount", one.modulator.amount, context.frames, context.start)
        if isinstance(amount, float) and amount == 0.0:
            # What does nothing leaves the very samples of a source without it. Seen from the number
            # alone: were it seen from the signals, the same sound would differ by how long it is.
            continue
        signal = one.signal.mean(axis=0)[context.start : context.start + context.frames]
        match one.modulator.way:
            case "phase":
                phase = _plus(context.phase_cycles, amount * signal)
                context = replace(context, phase_cycles=phase)
            case "frequency":
                share = _plus(context.frequency_share, amount * signal)
                context = replace(context, frequency_share=share)
            case "sync":
                back = np.broadcast_to(np.minimum(amount, 1.0), (context.frames,))
                context = replace(context, sync_hz=signal, sync_share=back)
            case _:
                later.append((one.modulator.way, np.minimum(amount, 1.0), signal))
    source = SOURCES[layer.source.kind](context, layer.source)
    for way, share, signal in later:
        if way == "ring":
            ringing = (1.0 - share) * source + _product(source, share * signal)
            # Two of one pitch make a tone of 0 Hz too.
            source = without_offset(ringing, context.settings.sample_rate)
        else:
            # At full amount the level goes from silence to as it is while the other swings once.
            source = (1.0 - 0.5 * share) * source + _product(source, 0.5 * share * signal)
    return source


def _plus(before: Signal | None, more: Signal) -> Signal:
    return more if before is None else before + more


def _product(signal: Signal, factor: Control) -> Signal:
    """Signal (channels, frames) times factor (frames,), at twice the rate, neither with an image
    of itself: what lies above the highest frequency of both is filtered away, none folds back."""
    if signal.shape[1] == 0:
        return signal
    raised = raise_cleanly(signal, 1) * raise_cleanly(factor[np.newaxis], 1)
    return return_rate(raised, 1)
