"""A curve: a value drawn over time on the ruler."""

from __future__ import annotations

import itertools
from typing import Annotated, Self

from pydantic import Field, model_validator

from nest_crate.core.sound.parameters import DocumentModel, Timed, number

__all__ = ["MAX_POINTS", "MAX_TIME_S", "Curve", "CurveLoop", "CurvePoint"]

MAX_POINTS = 64
MAX_TIME_S = 60.0


class CurvePoint(Timed):
    """One point; ``bend`` shapes the way from the point before it to this one."""

    time_s: float = number(0.0, 0.0, MAX_TIME_S, label="Time", unit="s", scale="time", step=0.001)
    value: float = number(0.0, -120.0, 120.0, label="Value", step=0.01)
    bend: float = number(
        0.0,
        -10.0,
        10.0,
        label="Bend",
        step=0.1,
        text="0 is a straight line; above 0 moves early, below 0 moves late (exponential).",
    )


class CurveLoop(DocumentModel):
    """Points between which the held part goes round until the hold ends."""

    start: int = Field(ge=0, lt=MAX_POINTS)
    end: int = Field(ge=0, lt=MAX_POINTS)


class Curve(DocumentModel):
    """Held part from the start of the hit, and a release part from the end of the hold.

    ``points`` run from the start of the layer. With an empty ``release`` they run to their end
    whatever the hold (a one-shot). Otherwise the end of the hold jumps to the release part: its
    times count from there, and its first way starts at the value where the curve then stands.
    The value before the first point is the first point's, after the last point the last one's.
    """

    points: Annotated[tuple[CurvePoint, ...], Field(min_length=1, max_length=MAX_POINTS)]
    release: Annotated[tuple[CurvePoint, ...], Field(max_length=MAX_POINTS)] = ()
    loop: CurveLoop | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        for part, points in (("points", self.points), ("release", self.release)):
            for before, after in itertools.pairwise(points):
                if after.time_s < before.time_s:
                    raise ValueError(
                        f"{part} go back in time at {after.time_s} s; order them by time"
                    )
        if len(self.points) + len(self.release) > MAX_POINTS:
            raise ValueError(f"a curve has at most {MAX_POINTS} points, release part included")
        if self.loop is not None:
            if not self.loop.start < self.loop.end < len(self.points):
                raise ValueError("loop.start must lie before loop.end, and both on a point")
            if self.points[self.loop.start].time_s == self.points[self.loop.end].time_s:
                raise ValueError("the loop has no length; move its two points apart")
        return self

    def end_s(self, hold_s: float) -> float:
        """When the curve has reached its last value, in seconds from the layer's start."""
        if self.release:
            return hold_s + self.release[-1].time_s
        if self.loop is not None:
            tail_s = self.points[-1].time_s - self.points[self.loop.end].time_s
            return hold_s + tail_s
        return self.points[-1].time_s

    def final_value(self) -> float:
        """The value at which the curve stays."""
        return (self.release or self.points)[-1].value
