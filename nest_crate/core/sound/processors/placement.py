"""Processors that move partials, sides, levels and moments to other places."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import number
from nest_crate.core.sound.processors.base import (
    DISTORTION,
    DYNAMICS,
    SPACE,
    ProcessorBase,
    ProcessorName,
)

__all__ = [
    "FadeProcessor",
    "GainProcessor",
    "ReverseProcessor",
    "ShifterProcessor",
    "WidenerProcessor",
    "WidthProcessor",
]


class ShifterProcessor(ProcessorBase):
    """Moves every partial by the same number of Hz, or multiplies with a sine."""

    kind: Literal["shifter"] = "shifter"
    called: ClassVar = ProcessorName("Frequency shifter", DISTORTION, "ring modulator modulation")
    way: Literal["up", "down", "ring"] = Field(default="up", title="Mode")
    shift_hz: float = number(
        60.0, 0.1, 10000.0, label="Shift", unit="Hz", scale="log", step=1.0, followed=True
    )


class WidthProcessor(ProcessorBase):
    """The sides against the middle; below a frequency all is mono."""

    kind: Literal["width"] = "width"
    called: ClassVar = ProcessorName("Width", SPACE, "stereo mono mid side")
    width: float = number(
        1.0,
        0.0,
        2.0,
        label="Width",
        unit="percent",
        text="0 % mono, 100 % as it is.",
        followed=True,
    )
    mono_below_hz: float = number(
        120.0,
        10.0,
        1000.0,
        label="Mono below",
        unit="Hz",
        scale="log",
        step=5.0,
        text="10 Hz: nowhere.",
    )
    slope_db: Literal[12, 24, 48] = Field(
        default=24, title="Mono slope", description="How fast the sides fade below; -6 dB there."
    )


class WidenerProcessor(ProcessorBase):
    """A mono signal made wide: all-passed copies of its middle on both sides, opposite in polarity.

    They cancel in mono, where the signal is as it was before.
    """

    kind: Literal["widener"] = "widener"
    called: ClassVar = ProcessorName("Widener", SPACE, "stereo wide spread pseudo decorrelate haas")
    amount: float = number(0.5, 0.0, 1.0, label="Amount", unit="percent", followed=True)
    above_hz: float = number(
        200.0,
        20.0,
        5000.0,
        label="Widens above",
        unit="Hz",
        scale="log",
        step=10.0,
        text="Lows below it stay in the middle.",
    )


class GainProcessor(ProcessorBase):
    """Level and place between the sides."""

    kind: Literal["gain"] = "gain"
    called: ClassVar = ProcessorName("Gain", DYNAMICS, "volume level pan polarity invert phase")
    gain_db: float = number(0.0, -72.0, 48.0, label="Gain", unit="dB", step=0.5, followed=True)
    pan: float = number(0.0, -1.0, 1.0, label="Pan", unit="percent", step=0.05, followed=True)
    invert: bool = Field(default=False, title="Invert polarity")


class ReverseProcessor(ProcessorBase):
    """All that comes in, from its end to its start."""

    kind: Literal["reverse"] = "reverse"
    called: ClassVar = ProcessorName("Reverse", SPACE, "backwards")
    fade_s: float = number(
        0.003,
        0.0,
        0.5,
        label="Fade at the end",
        unit="s",
        scale="time",
        step=0.001,
        text="The start of the sound is now its end, and often a step.",
    )


class FadeProcessor(ProcessorBase):
    """In at the start, out at a moment after which there is nothing."""

    kind: Literal["fade"] = "fade"
    called: ClassVar = ProcessorName("Fade", DYNAMICS, "in out length")
    in_s: float = number(0.0, 0.0, 10.0, label="In", unit="s", scale="time", step=0.005)
    out_s: float = number(0.2, 0.002, 20.0, label="Out", unit="s", scale="time", step=0.01)
    end_s: float = number(1.0, 0.005, 60.0, label="Silent from", unit="s", scale="time", step=0.01)
    way: Literal["smooth", "straight"] = Field(default="smooth", title="Curve")
