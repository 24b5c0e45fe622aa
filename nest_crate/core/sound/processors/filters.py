"""Processors that let some frequencies through and hold others back."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import number
from nest_crate.core.sound.processors.base import ProcessorBase

__all__ = ["CombProcessor", "FilterProcessor", "FormantProcessor", "ResonatorsProcessor"]


class FilterProcessor(ProcessorBase):
    """Zero-delay-feedback state-variable filter."""

    kind: Literal["filter"] = "filter"
    response: Literal[
        "low_pass", "high_pass", "band_pass", "notch", "peak", "low_shelf", "high_shelf"
    ] = Field(default="low_pass", title="Response")
    slope_db: Literal[6, 12, 24, 36] = Field(
        default=12,
        title="Slope",
        description="Band-pass, notch and peak have 12 dB per octave at least.",
    )
    cutoff_hz: float = number(
        2000.0, 10.0, 20000.0, label="Cutoff", unit="Hz", scale="log", step=10.0
    )
    resonance: float = number(
        0.707, 0.5, 40.0, label="Resonance", scale="log", step=0.01, text="Quality factor Q."
    )
    gain_db: float = number(
        0.0, -36.0, 36.0, label="Gain", unit="dB", step=0.5, text="Of a peak or a shelf."
    )
    key_follow: float = number(
        0.0,
        -1.0,
        2.0,
        label="Key tracking",
        unit="percent",
        step=0.05,
        text="100 %: the cutoff goes with the note, and is as set at C4.",
    )
    drive_db: float = number(
        0.0,
        0.0,
        36.0,
        label="Drive",
        unit="dB",
        step=0.5,
        text="Saturates the input and the resonance; full scale stays full scale.",
    )


class CombProcessor(ProcessorBase):
    """A delay of one period, fed back: it rings at a pitch and its multiples."""

    kind: Literal["comb"] = "comb"
    follows_note: bool = Field(default=False, title="Key tracking")
    frequency_hz: float = number(
        220.0, 20.0, 8000.0, label="Frequency", unit="Hz", scale="log", step=1.0
    )
    transpose_st: float = number(
        0.0, -48.0, 48.0, label="Transpose", unit="st", step=1.0, text="From the note it follows."
    )
    feedback: float = number(
        0.7,
        -0.999,
        0.999,
        label="Feedback",
        unit="percent",
        text="Below 0 only the odd partials ring, an octave lower.",
    )
    forward: float = number(0.0, -1.0, 1.0, label="Feedforward", unit="percent")
    damping_hz: float = number(
        12000.0,
        100.0,
        20000.0,
        label="Damping",
        unit="Hz",
        scale="log",
        step=100.0,
        text="Highs above it die away sooner; none at 20 kHz.",
    )


class FormantProcessor(ProcessorBase):
    """Two resonances side by side, as a throat makes them; all between them is held back."""

    kind: Literal["formant"] = "formant"
    first_hz: float = number(
        650.0, 80.0, 4000.0, label="First formant", unit="Hz", scale="log", step=10.0
    )
    second_hz: float = number(
        1100.0, 200.0, 12000.0, label="Second formant", unit="Hz", scale="log", step=10.0
    )
    sharpness: float = number(
        8.0, 0.7, 40.0, label="Q", scale="log", step=0.1, text="Quality factor of both."
    )
    second_db: float = number(-3.0, -48.0, 12.0, label="Second level", unit="dB", step=0.5)
    shift_st: float = number(
        0.0, -36.0, 36.0, label="Shift", unit="st", step=1.0, text="Moves both together."
    )
    key_follow: float = number(0.0, -1.0, 2.0, label="Key tracking", unit="percent", step=0.05)


class ResonatorsProcessor(ProcessorBase):
    """A set of tuned strings that ring along with what they hear."""

    kind: Literal["resonators"] = "resonators"
    mix: float = number(0.5, 0.0, 1.0, label="Mix", unit="percent")
    tuning: Literal[
        "octaves", "fifths", "major", "minor", "fourths", "tritone", "cluster", "own"
    ] = Field(default="fifths", title="Tuning")
    own_st: Annotated[
        tuple[Annotated[float, Field(ge=-48.0, le=48.0)], ...],
        Field(min_length=1, max_length=8, description="Steps of a custom tuning, in semitones."),
    ] = (0.0, 7.0, 12.0)
    follows_note: bool = Field(default=True, title="Key tracking")
    frequency_hz: float = number(
        220.0, 20.0, 4000.0, label="Frequency", unit="Hz", scale="log", step=1.0
    )
    transpose_st: float = number(
        0.0, -48.0, 48.0, label="Transpose", unit="st", step=1.0, text="From the note they follow."
    )
    ring_s: float = number(
        0.8, 0.01, 20.0, label="Decay", unit="s", scale="time", step=0.05, text="To -60 dB."
    )
    damping_hz: float = number(
        9000.0,
        200.0,
        20000.0,
        label="Damping",
        unit="Hz",
        scale="log",
        step=100.0,
        text="Highs above it die away sooner; none at 20 kHz.",
    )
    width: float = number(0.6, 0.0, 1.0, label="Stereo width", unit="percent")
