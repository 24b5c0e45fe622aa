"""The tone: one cycle, repeated at a pitch."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nest_crate.core.sound.parameters import number
from nest_crate.core.sound.sources.base import PartialSet, TunedSource, Unison

__all__ = ["ToneSource"]


class ToneSource(TunedSource):
    """One band-limited cycle, repeated at a pitch."""

    kind: Literal["tone"] = "tone"
    cycle: Literal["shape", "partials"] = Field(default="shape", title="Waveform from")
    shape: float = number(
        0.0,
        0.0,
        3.0,
        label="Shape",
        text="0 sine, 1 triangle, 2 sawtooth, 3 pulse; between them one turns into the next.",
        followed=True,
    )
    width: float = number(
        0.5,
        0.01,
        0.99,
        label="Pulse width",
        unit="percent",
        text="Only the pulse has a width.",
        followed=True,
    )
    partials: PartialSet = Field(default_factory=PartialSet)
    skew: float = number(
        0.0,
        -1.0,
        1.0,
        label="Skew",
        text="Moves the middle of the cycle later or earlier.",
        followed=True,
    )
    phase_deg: float = number(0.0, 0.0, 360.0, label="Start phase", unit="deg", step=1.0)
    phase_random: float = number(
        0.0,
        0.0,
        1.0,
        label="Random phase",
        unit="percent",
        text="How far the start phase strays from hit to hit.",
    )
    feedback: float = number(
        0.0,
        0.0,
        1.0,
        label="Feedback",
        unit="percent",
        text="The tone bends its own phase: from pure towards a sawtooth.",
        followed=True,
    )
    unison: Unison = Field(default_factory=Unison)
