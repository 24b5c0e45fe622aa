"""Stages that sum others, and that put them at a level."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from nest_crate.core.dsp.util.signals import Signal, sum_signals
from nest_crate.core.engine.moved import Moves
from nest_crate.core.engine.stages import Load, Stage, stage

__all__ = ["added_up", "all_added", "at_gain", "levelled"]


def at_gain(signal: Signal, gain: float | Signal) -> Signal:
    """A signal times a factor; the very same where that is 1."""
    return signal if isinstance(gain, float) and gain == 1.0 else np.asarray(signal * gain)


def levelled(moves: Moves, kind: str, level_db: float, before: Stage, frames: int) -> Stage:
    """A stage at the ``level_db`` of a part, as it is moved."""

    def work(inputs: list[Signal]) -> Signal:
        return at_gain(inputs[0], moves.read(inputs[1:]).gain("level_db", level_db, frames))

    facts = {"level_db": level_db, "moved": moves.facts()}
    load = Load(frames, 4.0, 1.0)
    return stage(moves.part, kind, facts, work, (before, *moves.stages), load=load)


def added_up(owner: str, parts: Sequence[Stage], frames: int) -> Stage:
    """The sum of stages, one added after the other, so that each may be let go at once."""
    total = all_added(owner, parts[:1], frames)
    for part in parts[1:]:
        total = all_added(owner, [total, part], frames)
    return total


def all_added(owner: str, parts: Sequence[Stage], frames: int) -> Stage:
    """The sum of a few stages in one step."""
    return stage(
        owner,
        "sum",
        {"frames": frames},
        lambda inputs: sum_signals(inputs, frames),
        parts,
        load=Load(frames, 2.0),
    )
