"""Layers that act on each other: a source with another layer's output in its phase or its level."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from nest_crate.core.dsp.movement import Control
from nest_crate.core.dsp.oversampling import raise_rate, return_rate
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.engine.sources import SOURCES, SourceContext

__all__ = ["modulated_source"]


def modulated_source(context: SourceContext, modulators: list[Signal]) -> Signal:
    """The layer's source, with the modulating layer's output (channels, frames) where it has one.

    Phase modulation needs a tone; a noise, which has no phase, is left as it is by it.
    """
    layer = context.layer
    make = SOURCES[layer.source.kind]
    if not modulators:
        return make(context, layer.source)
    acting = modulators[0].mean(axis=0)[context.start : context.start + context.frames]
    amount = context.moved.at_frames(
        "modulation.amount", layer.modulation.amount, context.frames, context.start
    )
    if layer.modulation.way == "phase":
        return make(replace(context, phase_cycles=amount * acting), layer.source)
    share = np.minimum(amount, 1.0)
    plain = make(context, layer.source)
    if layer.modulation.way == "ring":
        factor = (1.0 - share) + share * acting
    else:
        # At full amount the level goes from silence to as it is while the other swings once.
        factor = 1.0 - share * 0.5 * (1.0 - acting)
    return _product(plain, factor)


def _product(signal: Signal, factor: Control) -> Signal:
    """Signal (channels, frames) times factor (frames,), at twice the rate: what lies above the
    highest frequency of both is filtered away instead of folding back."""
    if signal.shape[1] == 0:
        return signal
    raised = raise_rate(signal, 1) * raise_rate(np.ascontiguousarray(factor[np.newaxis]), 1)
    return return_rate(raised, 1)
