"""Processors that put the sound into a room, a body or a haze."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import number
from nest_crate.core.sound.processors.base import SPACE, Need, ProcessorBase, ProcessorName
from nest_crate.core.sound.sources.base import RecordingId

__all__ = [
    "BlurProcessor",
    "ConvolutionProcessor",
    "RoomProcessor",
    "ShimmerProcessor",
]


class RoomProcessor(ProcessorBase):
    """A room: sixteen delay lines that feed each other, damped like walls and air."""

    kind: Literal["room"] = "room"
    called: ClassVar = ProcessorName("Reverb", SPACE, "room hall tail")
    mix: float = number(0.25, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    size_m: float = number(
        12.0,
        1.0,
        60.0,
        label="Room size (m)",
        scale="log",
        step=0.5,
        text="Distance between the walls.",
    )
    decay_s: float = number(
        1.4, 0.1, 20.0, label="Decay", unit="s", scale="time", step=0.1, text="To -60 dB."
    )
    damping_hz: float = number(
        7000.0,
        500.0,
        20000.0,
        label="Damping",
        unit="Hz",
        scale="log",
        step=100.0,
        text="Highs above it decay faster; no damping at 20 kHz.",
    )
    pre_delay_s: float = number(
        0.01, 0.0, 0.5, label="Pre-delay", unit="s", scale="time", step=0.005
    )
    low_cut_hz: float = number(
        150.0, 10.0, 2000.0, label="Low cut", unit="Hz", scale="log", step=10.0
    )
    high_cut_hz: float = number(
        20000.0, 500.0, 20000.0, label="High cut", unit="Hz", scale="log", step=100.0
    )
    movement: float = number(
        0.0,
        0.0,
        1.0,
        label="Movement",
        unit="percent",
        text="Modulates the delay lines, so that a long tail keeps moving.",
    )
    width: float = number(1.0, 0.0, 1.0, label="Stereo width", unit="percent")


class ShimmerProcessor(ProcessorBase):
    """A room whose tail climbs or falls by an interval, again and again."""

    kind: Literal["shimmer"] = "shimmer"
    called: ClassVar = ProcessorName("Shimmer", SPACE, "reverb octave tail")
    mix: float = number(0.35, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    shift_st: float = number(12.0, -24.0, 24.0, label="Shift", unit="st", step=1.0, followed=True)
    amount: float = number(
        0.5,
        0.0,
        0.9,
        label="Amount",
        unit="percent",
        text="How much of the tail is shifted again.",
        followed=True,
    )
    size_m: float = number(20.0, 1.0, 60.0, label="Room size (m)", scale="log", step=0.5)
    decay_s: float = number(
        3.0, 0.1, 20.0, label="Decay", unit="s", scale="time", step=0.1, text="Of the reverb alone."
    )
    damping_hz: float = number(
        6000.0, 500.0, 20000.0, label="Damping", unit="Hz", scale="log", step=100.0
    )
    low_cut_hz: float = number(
        150.0, 10.0, 2000.0, label="Low cut", unit="Hz", scale="log", step=10.0
    )
    movement: float = number(
        0.0,
        0.0,
        1.0,
        label="Movement",
        unit="percent",
        text="Sways what is transposed by up to 15 cents, so that the tail keeps moving.",
    )
    width: float = number(1.0, 0.0, 1.0, label="Stereo width", unit="percent")


class ConvolutionProcessor(ProcessorBase):
    """The answer of a body to a click, given to every sample of the sound."""

    kind: Literal["convolution"] = "convolution"
    called: ClassVar = ProcessorName(
        "Convolution", SPACE, "impulse body box spring plate speaker reverb"
    )
    mix: float = number(0.5, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    impulse: Literal["small_box", "large_box", "speaker", "spring", "plate", "imported"] = Field(
        default="small_box", title="Impulse"
    )
    recording: RecordingId | None = Field(
        default=None, title="Recording", description="Of an imported impulse."
    )
    size: float = number(
        1.0, 0.25, 4.0, label="Size", scale="log", step=0.05, text="2: twice as long and low."
    )
    decay_s: float = number(
        2.0, 0.01, 20.0, label="Decay", unit="s", scale="time", step=0.05, text="Fades it by 60 dB."
    )
    pre_delay_s: float = number(
        0.0, 0.0, 0.5, label="Pre-delay", unit="s", scale="time", step=0.005
    )
    low_cut_hz: float = number(
        40.0, 10.0, 2000.0, label="Low cut", unit="Hz", scale="log", step=10.0
    )
    high_cut_hz: float = number(
        20000.0, 500.0, 20000.0, label="High cut", unit="Hz", scale="log", step=100.0
    )


class BlurProcessor(ProcessorBase):
    """Spreads the spectrum over time: what was a hit becomes a cloud."""

    kind: Literal["blur"] = "blur"
    called: ClassVar = ProcessorName("Spectral blur", SPACE, "haze spectrum cloud freeze spread")
    time_s: float = number(
        0.3, 0.01, 5.0, label="Time", unit="s", scale="time", step=0.05, text="To -60 dB."
    )
    width: float = number(0.5, 0.0, 1.0, label="Stereo width", unit="percent")

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        return frozenset({"random"})
