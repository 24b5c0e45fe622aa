"""Layers that act on each other: a source with another layer in its phase, pitch or level."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.filters.offset import without_offset
from nest_crate.core.dsp.resampling.oversampling import raise_cleanly, return_rate
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.moved import Moved
from nest_crate.core.engine.sources import SOURCES, SourceContext
from nest_crate.core.sound.layers import Modulator

__all__ = ["Acting", "modulated_source"]

Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class Acting:
    """A modulator at work: the other layer's signal (channels, frames), for sync its pitch in Hz,
    and what moves the amount."""

    modulator: Modulator
    signal: Signal
    moved: Moved
    voices: bool = False
    """Whether the signal's rows are voices, one for each of the source's own."""


def modulated_source(context: SourceContext, acting: list[Acting]) -> Signal:
    """The layer's source with all that acts on it.

    Phase, frequency and sync bend the source itself and add up; ring and amplitude work on what it
    makes, one after the other. What has no phase is left as it is by the first three.
    """
    layer = context.layer
    on_all: list[Callable[[Signal], Signal]] = []
    for one in acting:
        amount = one.moved.at_frames("amount", one.modulator.amount, context.frames, context.start)
        if isinstance(amount, float) and amount == 0.0:
            # What does nothing leaves the very samples of a source without it. Seen from the number
            # alone: were it seen from the signals, the same sound would differ by how long it is.
            continue
        signal = one.signal[:, context.start : context.start + context.frames]
        bends = one.modulator.way in ("phase", "frequency", "sync")
        if one.voices:
            if bends:
                bend = partial(_bent_by_voice, one.modulator.way, amount, signal)
                context = replace(context, by_voice=(*context.by_voice, bend))
            else:
                work = partial(_worked_by_voice, one.modulator.way, amount, signal, context)
                context = replace(context, on_voice=(*context.on_voice, work))
        elif bends:
            context = _bent(context, one.modulator.way, amount, signal.mean(axis=0))
        else:
            rate = context.settings.sample_rate
            heard = signal.mean(axis=0)
            on_all.append(partial(_worked, one.modulator.way, amount, heard, rate))
    source = SOURCES[layer.source.kind](context, layer.source)
    for work_on in on_all:
        source = work_on(source)
    return source


def _bent(
    context: SourceContext, way: str, amount: float | Control, signal: Numbers
) -> SourceContext:
    """A source whose phase, frequency or cycle another one (frames,) bends."""
    match way:
        case "phase":
            return replace(context, phase_cycles=_plus(context.phase_cycles, amount * signal))
        case "frequency":
            share = _plus(context.frequency_share, amount * signal)
            return replace(context, frequency_share=share)
    back = np.broadcast_to(np.minimum(amount, 1.0), (context.frames,))
    return replace(context, sync_hz=signal, sync_share=back)


def _bent_by_voice(
    way: str, amount: float | Control, signals: Signal, context: SourceContext, voice: int
) -> SourceContext:
    return _bent(context, way, amount, signals[voice])


def _worked(
    way: str, amount: float | Control, signal: Numbers, rate: int, source: Signal
) -> Signal:
    """What a source makes, ring or amplitude modulated by a signal (frames,)."""
    share = np.minimum(amount, 1.0)
    if way == "ring":
        ringing = (1.0 - share) * source + _product(source, share * signal)
        # Two of one pitch make a tone of 0 Hz too.
        return without_offset(ringing, rate)
    # At full amount the level goes from silence to as it is while the other swings once.
    return (1.0 - 0.5 * share) * source + _product(source, 0.5 * share * signal)


def _worked_by_voice(
    way: str,
    amount: float | Control,
    signals: Signal,
    context: SourceContext,
    made: Signal,
    voice: int,
) -> Signal:
    return _worked(way, amount, signals[voice], context.settings.sample_rate, made)


def _plus(before: Signal | None, more: Signal) -> Signal:
    return more if before is None else before + more


def _product(signal: Signal, factor: Control) -> Signal:
    """Signal (channels, frames) times factor (frames,), at twice the rate, neither with an image
    of itself: what lies above the highest frequency of both is filtered away, none folds back."""
    if signal.shape[1] == 0:
        return signal
    raised = raise_cleanly(signal, 1) * raise_cleanly(factor[np.newaxis], 1)
    return return_rate(raised, 1)
