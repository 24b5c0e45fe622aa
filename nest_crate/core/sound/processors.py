"""Processors: what stands in a chain. Each kind is one closed document part."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number

__all__ = [
    "MAX_PROCESSORS",
    "CeilingProcessor",
    "Chain",
    "ChorusProcessor",
    "CombProcessor",
    "CompressorProcessor",
    "DelayProcessor",
    "DriveProcessor",
    "FilterProcessor",
    "FormantProcessor",
    "Identifier",
    "Processor",
    "RoomProcessor",
    "ShifterProcessor",
    "WidthProcessor",
]

MAX_PROCESSORS = 24

Identifier = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,31}$")]


class _Processor(DocumentModel):
    id: Identifier
    on: bool = Field(default=True, title="On")
    mix: float = number(1.0, 0.0, 1.0, label="Mix", unit="percent")
    level_db: float = number(0.0, -48.0, 24.0, label="Output level", unit="dB", step=0.5)


class FilterProcessor(_Processor):
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
        label="Key follow",
        unit="percent",
        step=0.05,
        text="100 %: the cutoff goes with the note, and is as set at C4.",
    )
    drive_db: float = number(
        0.0,
        0.0,
        36.0,
        label="Drive inside",
        unit="dB",
        step=0.5,
        text="Saturates what goes in and the resonance itself; full scale stays full scale.",
    )


class DriveProcessor(_Processor):
    """Soft saturation, oversampled so that it adds harmonics and nothing else."""

    kind: Literal["drive"] = "drive"
    drive_db: float = number(6.0, 0.0, 48.0, label="Drive", unit="dB", step=0.5)


class CombProcessor(_Processor):
    """A delay of one period, fed back: it rings at a pitch and its multiples."""

    kind: Literal["comb"] = "comb"
    follows_note: bool = Field(default=False, title="Follows the note")
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
    forward: float = number(0.0, -1.0, 1.0, label="Forward", unit="percent")
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


class FormantProcessor(_Processor):
    """Two resonances side by side, as a throat makes them; all between them is held back."""

    kind: Literal["formant"] = "formant"
    first_hz: float = number(
        650.0, 80.0, 4000.0, label="First formant", unit="Hz", scale="log", step=10.0
    )
    second_hz: float = number(
        1100.0, 200.0, 12000.0, label="Second formant", unit="Hz", scale="log", step=10.0
    )
    sharpness: float = number(
        8.0, 0.7, 40.0, label="Sharpness", scale="log", step=0.1, text="Quality factor of both."
    )
    second_db: float = number(-3.0, -48.0, 12.0, label="Second level", unit="dB", step=0.5)
    shift_st: float = number(
        0.0, -36.0, 36.0, label="Shift", unit="st", step=1.0, text="Moves both together."
    )
    key_follow: float = number(0.0, -1.0, 2.0, label="Key follow", unit="percent", step=0.05)


class DelayProcessor(_Processor):
    """Echoes: the sound again after a time, each time through two filters and softer."""

    kind: Literal["delay"] = "delay"
    mix: float = number(0.3, 0.0, 1.0, label="Mix", unit="percent")
    sync: bool = Field(default=False, title="In beats")
    time_s: float = number(0.25, 0.0005, 5.0, label="Time", unit="s", scale="time", step=0.005)
    beats: float = number(
        0.75,
        1.0 / 64.0,
        16.0,
        label="Length",
        unit="beat",
        scale="log",
        step=0.25,
        text="3/4 is a dotted eighth of a bar of four.",
    )
    feedback: float = number(
        0.35, -0.98, 0.98, label="Feedback", unit="percent", text="Loop gain of the echoes."
    )
    crossing: bool = Field(
        default=False, title="Crossing", description="Echoes go from side to side."
    )
    low_cut_hz: float = number(
        80.0, 10.0, 5000.0, label="Low cut", unit="Hz", scale="log", step=10.0
    )
    high_cut_hz: float = number(
        8000.0, 200.0, 20000.0, label="High cut", unit="Hz", scale="log", step=100.0
    )


class ChorusProcessor(_Processor):
    """Up to eight copies, each a little late by a time that goes to and fro."""

    kind: Literal["chorus"] = "chorus"
    mix: float = number(0.5, 0.0, 1.0, label="Mix", unit="percent")
    voices: int = number(3, 1, 8, label="Voices", step=1, whole=True)
    delay_s: float = number(0.012, 0.0005, 0.05, label="Delay", unit="s", scale="time", step=0.001)
    depth_s: float = number(0.003, 0.0, 0.02, label="Depth", unit="s", scale="time", step=0.0005)
    rate_hz: float = number(0.6, 0.01, 20.0, label="Rate", unit="Hz", scale="log", step=0.1)
    feedback: float = number(
        0.0, -0.95, 0.95, label="Feedback", unit="percent", text="Near the ends it rings."
    )
    width: float = number(1.0, 0.0, 1.0, label="Stereo width", unit="percent")


class CompressorProcessor(_Processor):
    """Lowers what is louder than a threshold, by a ratio."""

    kind: Literal["compressor"] = "compressor"
    threshold_db: float = number(-18.0, -60.0, 0.0, label="Threshold", unit="dB", step=0.5)
    ratio: float = number(3.0, 1.0, 50.0, label="Ratio", scale="log", step=0.1)
    knee_db: float = number(6.0, 0.0, 24.0, label="Knee", unit="dB", step=0.5)
    attack_s: float = number(0.01, 0.0, 0.5, label="Attack", unit="s", scale="time", step=0.001)
    release_s: float = number(0.12, 0.001, 3.0, label="Release", unit="s", scale="time", step=0.01)
    look_ahead_s: float = number(
        0.0, 0.0, 0.02, label="Look-ahead", unit="s", scale="time", step=0.001
    )
    measure: Literal["peak", "rms"] = Field(default="peak", title="Measures")
    make_up_db: float = number(0.0, 0.0, 24.0, label="Make-up", unit="dB", step=0.5)


class ShifterProcessor(_Processor):
    """Moves every partial by the same number of Hz, or multiplies with a sine."""

    kind: Literal["shifter"] = "shifter"
    way: Literal["up", "down", "ring"] = Field(default="up", title="Way")
    shift_hz: float = number(60.0, 0.1, 10000.0, label="Shift", unit="Hz", scale="log", step=1.0)


class WidthProcessor(_Processor):
    """The sides against the middle; below a frequency all is mono."""

    kind: Literal["width"] = "width"
    width: float = number(
        1.0, 0.0, 2.0, label="Width", unit="percent", text="0 % mono, 100 % as it is."
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


class RoomProcessor(_Processor):
    """A room: sixteen delay lines that feed each other, damped like walls and air."""

    kind: Literal["room"] = "room"
    mix: float = number(0.25, 0.0, 1.0, label="Mix", unit="percent")
    size_m: float = number(
        12.0, 1.0, 60.0, label="Size", scale="log", step=0.5, text="Metres between its walls."
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
        text="Above it the room dies away sooner; not at all at 20 kHz.",
    )
    pre_delay_s: float = number(
        0.01, 0.0, 0.5, label="Pre-delay", unit="s", scale="time", step=0.005
    )
    low_cut_hz: float = number(
        150.0, 10.0, 2000.0, label="Low cut", unit="Hz", scale="log", step=10.0
    )
    width: float = number(1.0, 0.0, 1.0, label="Stereo width", unit="percent")


class CeilingProcessor(_Processor):
    """Nothing passes above it, not even between the samples."""

    kind: Literal["ceiling"] = "ceiling"
    ceiling_db: float = number(-1.0, -24.0, 0.0, label="Ceiling", unit="dB", step=0.1)
    gain_db: float = number(0.0, 0.0, 24.0, label="Gain before", unit="dB", step=0.5)
    release_s: float = number(0.08, 0.005, 1.0, label="Release", unit="s", scale="time", step=0.01)


Processor = Annotated[
    FilterProcessor
    | DriveProcessor
    | CombProcessor
    | FormantProcessor
    | DelayProcessor
    | ChorusProcessor
    | CompressorProcessor
    | ShifterProcessor
    | WidthProcessor
    | RoomProcessor
    | CeilingProcessor,
    Field(discriminator="kind"),
]
Chain = Annotated[tuple[Processor, ...], Field(max_length=MAX_PROCESSORS)]
