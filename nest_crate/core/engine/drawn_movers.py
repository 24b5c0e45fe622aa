"""Drawn curves as movers: of a layer's level or pitch, or of the common pitch."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nest_crate.core.dsp.util.curves import curve_signal
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, control_points
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.stages import Load, Stage, stage
from nest_crate.core.sound import Curve

__all__ = ["DrawnMover", "drawn_scale"]


def drawn_scale(identifier: str) -> float:
    """What a curve's values are times as a mover: a level stays, semitones become octaves."""
    return 1.0 if identifier.endswith(".level") else 1.0 / 12.0


@dataclass(frozen=True)
class DrawnMover:
    """A curve that begins ``delay_s`` into a note, or ``before`` frames ahead of it.

    Its first value stands until then.
    """

    identifier: str
    curve: Curve
    delay_s: float
    before: int
    hold_s: float

    def stage(self, *, frames: int, sample_rate: int, every: bool) -> Stage:
        """Its control signal, shape (1, points), or its value at every frame."""
        step = 1 if every else CONTROL_FRAMES
        count = control_points(frames) * CONTROL_FRAMES
        start = min(count, round(self.delay_s * sample_rate))
        scale = drawn_scale(self.identifier)

        def work(_: list[Signal]) -> Signal:
            drawn = curve_signal(
                self.curve,
                frames=self.before + count - start,
                sample_rate=sample_rate,
                hold_s=self.hold_s,
            )
            values = np.full(count, self.curve.points[0].value)
            values[start:] = drawn[self.before :]
            return np.ascontiguousarray(scale * values[np.newaxis, ::step])

        facts = {
            "curve": self.curve.model_dump(),
            "start": start,
            "before": self.before,
            "hold_s": self.hold_s,
            "count": count,
            "rate": sample_rate,
            "scale": scale,
            "step": step,
        }
        load = Load(count // step, ns=20.0, room=float(step), channels=1)
        return stage(self.identifier, "mover", facts, work, load=load)
