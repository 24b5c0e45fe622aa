"""Processors that let some frequencies through and hold others back."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import number
from nest_crate.core.sound.processors.base import EQ, Need, ProcessorBase, ProcessorName

__all__ = [
    "CombProcessor",
    "FilterProcessor",
    "FormantProcessor",
    "ResonatorsProcessor",
    "TiltProcessor",
]


class FilterProcessor(ProcessorBase):
    """Zero-delay-feedback state-variable filter."""

    kind: Literal["filter"] = "filter"
    called: ClassVar = ProcessorName(
        "Filter", EQ, "low-pass high-pass band-pass notch resonance cutoff"
    )
    response: Literal[
        "low_pass", "high_pass", "band_pass", "notch", "peak", "low_shelf", "high_shelf"
    ] = Field(default="low_pass", title="Response")
    slope_db: Literal[6, 12, 24, 36] = Field(
        default=12,
        title="Slope",
        description="Band-pass, notch and peak have 12 dB per octave at least.",
    )
    cutoff_hz: float = number(
        2000.0,
        10.0,
        20000.0,
        label="Cutoff",
        unit="Hz",
        scale="log",
        step=10.0,
        followed=True,
    )
    resonance: float = number(
        0.707,
        0.5,
        40.0,
        label="Resonance",
        scale="log",
        step=0.01,
        text="Quality factor Q.",
        followed=True,
    )
    gain_db: float = number(
        0.0,
        -36.0,
        36.0,
        label="Gain",
        unit="dB",
        step=0.5,
        text="Of a peak or a shelf.",
        followed=True,
    )
    key_follow: float = number(
        0.0,
        -1.0,
        2.0,
        label="Key tracking",
        unit="percent",
        step=0.05,
        text="100 %: the cutoff goes with the note, and is as set at C4.",
        followed=True,
    )
    drive_db: float = number(
        0.0,
        0.0,
        36.0,
        label="Drive",
        unit="dB",
        step=0.5,
        text="Saturates the input and the resonance; full scale stays full scale.",
        followed=True,
    )

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        tracks = self.key_follow or "key_follow" in moved
        return frozenset({"note"}) if tracks else frozenset()


class TiltProcessor(ProcessorBase):
    """Highs up and lows down alike around a pivot, or the other way round."""

    kind: Literal["tilt"] = "tilt"
    called: ClassVar = ProcessorName("Tilt", EQ, "tone control brighter darker shelf")
    tilt_db: float = number(
        3.0,
        -18.0,
        18.0,
        label="Tilt",
        unit="dB",
        step=0.5,
        text="Highs rise by it and lows fall by it; below 0 the other way round.",
        followed=True,
    )
    pivot_hz: float = number(
        650.0,
        50.0,
        10000.0,
        label="Pivot",
        unit="Hz",
        scale="log",
        step=10.0,
        text="What lies there stays as loud.",
        followed=True,
    )


class CombProcessor(ProcessorBase):
    """A delay of one period, fed back: it rings at a pitch and its multiples."""

    kind: Literal["comb"] = "comb"
    called: ClassVar = ProcessorName("Comb filter", EQ, "tuned delay feedback")
    follows_note: bool = Field(default=False, title="Key tracking")
    frequency_hz: float = number(
        220.0,
        20.0,
        8000.0,
        label="Frequency",
        unit="Hz",
        scale="log",
        step=1.0,
        followed=True,
    )
    transpose_st: float = number(
        0.0,
        -48.0,
        48.0,
        label="Transpose",
        unit="st",
        step=1.0,
        text="From the note it follows.",
        followed=True,
    )
    feedback: float = number(
        0.7,
        -0.999,
        0.999,
        label="Feedback",
        unit="percent",
        text="Below 0 only the odd partials ring, an octave lower.",
        followed=True,
    )
    forward: float = number(0.0, -1.0, 1.0, label="Feedforward", unit="percent", followed=True)
    damping_hz: float = number(
        12000.0,
        100.0,
        20000.0,
        label="Damping",
        unit="Hz",
        scale="log",
        step=100.0,
        text="Highs above it die away sooner; none at 20 kHz.",
        followed=True,
    )

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        return frozenset({"note"}) if self.follows_note else frozenset()


class FormantProcessor(ProcessorBase):
    """Two resonances side by side, as a throat makes them; all between them is held back."""

    kind: Literal["formant"] = "formant"
    called: ClassVar = ProcessorName("Formant filter", EQ, "vowel voice throat")
    first_hz: float = number(
        650.0,
        80.0,
        4000.0,
        label="First formant",
        unit="Hz",
        scale="log",
        step=10.0,
        followed=True,
    )
    second_hz: float = number(
        1100.0,
        200.0,
        12000.0,
        label="Second formant",
        unit="Hz",
        scale="log",
        step=10.0,
        followed=True,
    )
    sharpness: float = number(
        8.0,
        0.7,
        40.0,
        label="Q",
        scale="log",
        step=0.1,
        text="Quality factor of both.",
        followed=True,
    )
    second_db: float = number(
        -3.0, -48.0, 12.0, label="Second level", unit="dB", step=0.5, followed=True
    )
    shift_st: float = number(
        0.0,
        -36.0,
        36.0,
        label="Shift",
        unit="st",
        step=1.0,
        text="Moves both together.",
        followed=True,
    )
    key_follow: float = number(
        0.0, -1.0, 2.0, label="Key tracking", unit="percent", step=0.05, followed=True
    )

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        tracks = self.key_follow or "key_follow" in moved
        return frozenset({"note"}) if tracks else frozenset()


class ResonatorsProcessor(ProcessorBase):
    """A set of tuned strings that ring along with what they hear."""

    kind: Literal["resonators"] = "resonators"
    called: ClassVar = ProcessorName("Resonators", EQ, "strings chord tuned ring")
    mix: float = number(0.5, 0.0, 1.0, label="Mix", unit="percent", followed=True)
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

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        return frozenset({"note"}) if self.follows_note else frozenset()
