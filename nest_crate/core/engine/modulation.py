"""Layers that act on each other: a source with another layer in its phase, pitch or level."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from nest_crate.core.dsp.filters.offset import without_offset
from nest_crate.core.dsp.resampling.oversampling import raise_cleanly, return_rate
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.sources import SOURCES, SourceContext

__all__ = ["modulated_source"]


def modulated_source(context: SourceContext, modulators: list[Signal]) -> Signal:
    """The layer's source, with the modulating layer's output (channels, frames) where it has one;
    for sync its pitch in Hz.

    Phase, frequency and sync need a tone; a noise, which has no phase, is left as it is by them.
    """
    layer = context.layer
    make = SOURCES[layer.source.kind]
    if not modulators:
        return make(context, layer.source)
    acting = modulators[0].mean(axis=0)[context.start : context.start + context.frames]
    amount = context.moved.at_frames(
        "modulation.amount", layer.modulation.amount, context.frames, context.start
    )
    if isinstance(amount, float) and amount == 0.0:
        # What does nothing leaves the very samples of a source without it. Seen from the number
        # alone: were it seen from the signals, the same sound would differ by how long it is.
        return make(context, layer.source)
    share = np.minimum(amount, 1.0)
    match layer.modulation.way:
        case "phase":
            return make(replace(context, phase_cycles=amount * acting), layer.source)
        case "frequency":
            return make(replace(context, frequency_share=amount * acting), layer.source)
        case "sync":
            back = np.broadcast_to(share, (context.frames,))
            return make(replace(context, sync_hz=acting, sync_share=back), layer.source)
        case "ring":
            source = make(context, layer.source)
            ringing = (1.0 - share) * source + _product(source, share * acting)
            # Two of one pitch make a tone of 0 Hz too.
            return without_offset(ringing, context.settings.sample_rate)
        case "amplitude":
            # At full amount the level goes from silence to as it is while the other swings once.
            source = make(context, layer.source)
            return (1.0 - 0.5 * share) * source + _product(source, 0.5 * share * acting)


def _product(signal: Signal, factor: Control) -> Signal:
    """Signal (channels, frames) times factor (frames,), at twice the rate, neither with an image
    of itself: what lies above the highest frequency of both is filtered away, none folds back."""
    if signal.shape[1] == 0:
        return signal
    raised = raise_cleanly(signal, 1) * raise_cleanly(factor[np.newaxis], 1)
    return return_rate(raised, 1)
