"""The fork, whose branches are stages of their own: what is left is to take their sum."""

from __future__ import annotations

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.context import ProcessContext, ProcessorWork
from nest_crate.core.sound.processors import ForkProcessor

__all__ = ["EFFECTS"]


def _fork(signal: Signal, part: ForkProcessor, context: ProcessContext) -> Signal:
    return context.heard[0] if context.heard else signal


EFFECTS = {"fork": ProcessorWork(_fork, lambda part: 0.0, cost_ns=0.5, room=1.0)}
