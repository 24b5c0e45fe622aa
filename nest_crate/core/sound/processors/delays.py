"""Processors that add the sound again, late."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import number
from nest_crate.core.sound.processors.base import MODULATION, Need, ProcessorBase, ProcessorName

__all__ = [
    "ChorusProcessor",
    "DelayProcessor",
    "FlangerProcessor",
    "PhaserProcessor",
    "PitchDelayProcessor",
    "VibratoProcessor",
]


class DelayProcessor(ProcessorBase):
    """Echoes: the sound again after a time, each time through two filters and softer."""

    kind: Literal["delay"] = "delay"
    called: ClassVar = ProcessorName("Delay", MODULATION, "echo beats dotted ping-pong")
    mix: float = number(0.3, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    sync: bool = Field(default=False, title="Tempo sync")
    time_s: float = number(
        0.25, 0.0005, 5.0, label="Time", unit="s", scale="time", step=0.005, followed=True
    )
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
        0.35,
        -0.98,
        0.98,
        label="Feedback",
        unit="percent",
        text="Loop gain of the echoes.",
        followed=True,
    )
    crossing: bool = Field(
        default=False, title="Ping-pong", description="Echoes alternate between left and right."
    )
    low_cut_hz: float = number(
        80.0, 10.0, 5000.0, label="Low cut", unit="Hz", scale="log", step=10.0
    )
    high_cut_hz: float = number(
        8000.0, 200.0, 20000.0, label="High cut", unit="Hz", scale="log", step=100.0
    )
    shift_oct: float = number(
        0.0,
        -5.0,
        5.0,
        label="Filter shift",
        unit="octave",
        step=1.0 / 12.0,
        text="Moves low cut and high cut together.",
        followed=True,
        octaves=False,
    )
    wobble_hz: float = number(
        0.5,
        0.01,
        2000.0,
        label="Modulation rate",
        unit="Hz",
        scale="log",
        step=0.1,
        text="How fast the delay time is modulated; at high rates it buzzes.",
        followed=True,
    )
    wobble_s: float = number(
        0.0,
        0.0,
        0.02,
        label="Modulation depth",
        unit="s",
        scale="time",
        step=0.0005,
        followed=True,
    )

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        return frozenset({"tempo"}) if self.sync else frozenset()


class ChorusProcessor(ProcessorBase):
    """Up to eight copies, each a little late by a time that goes back and forth."""

    kind: Literal["chorus"] = "chorus"
    called: ClassVar = ProcessorName("Chorus", MODULATION, "ensemble detune")
    mix: float = number(0.5, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    voices: int = number(3, 1, 8, label="Voices", step=1, whole=True)
    delay_s: float = number(
        0.012, 0.0005, 0.05, label="Delay", unit="s", scale="time", step=0.001, followed=True
    )
    depth_s: float = number(
        0.003, 0.0, 0.02, label="Depth", unit="s", scale="time", step=0.0005, followed=True
    )
    rate_hz: float = number(
        0.6, 0.01, 20.0, label="Rate", unit="Hz", scale="log", step=0.1, followed=True
    )
    feedback: float = number(
        0.0,
        -0.95,
        0.95,
        label="Feedback",
        unit="percent",
        text="Near the ends it rings.",
        followed=True,
    )
    width: float = number(1.0, 0.0, 1.0, label="Stereo width", unit="percent")


class FlangerProcessor(ProcessorBase):
    """One copy so close that both meet in a comb, which goes up and down."""

    kind: Literal["flanger"] = "flanger"
    called: ClassVar = ProcessorName("Flanger", MODULATION, "jet sweep")
    mix: float = number(0.5, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    delay_s: float = number(
        0.003, 0.0001, 0.02, label="Delay", unit="s", scale="time", step=0.0005, followed=True
    )
    depth_s: float = number(
        0.002, 0.0, 0.01, label="Depth", unit="s", scale="time", step=0.0005, followed=True
    )
    rate_hz: float = number(
        0.25, 0.01, 20.0, label="Rate", unit="Hz", scale="log", step=0.1, followed=True
    )
    feedback: float = number(
        0.4,
        -0.98,
        0.98,
        label="Feedback",
        unit="percent",
        text="Near the ends it rings.",
        followed=True,
    )
    apart_deg: float = number(90.0, 0.0, 180.0, label="Stereo phase", unit="deg", step=15.0)


class PhaserProcessor(ProcessorBase):
    """Notches that go up and down, made by all-passes."""

    kind: Literal["phaser"] = "phaser"
    called: ClassVar = ProcessorName("Phaser", MODULATION, "all-pass notches")
    mix: float = number(0.5, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    notches: int = number(3, 1, 6, label="Notches", step=1, whole=True)
    centre_hz: float = number(
        800.0,
        50.0,
        8000.0,
        label="Centre",
        unit="Hz",
        scale="log",
        step=10.0,
        followed=True,
    )
    depth_oct: float = number(1.5, 0.0, 4.0, label="Depth", unit="octave", step=0.1, followed=True)
    rate_hz: float = number(
        0.3, 0.01, 20.0, label="Rate", unit="Hz", scale="log", step=0.1, followed=True
    )
    feedback: float = number(0.3, -0.95, 0.95, label="Feedback", unit="percent", followed=True)
    apart_deg: float = number(60.0, 0.0, 180.0, label="Stereo phase", unit="deg", step=15.0)


class VibratoProcessor(ProcessorBase):
    """The pitch of all that comes in goes up and down."""

    kind: Literal["vibrato"] = "vibrato"
    called: ClassVar = ProcessorName("Vibrato", MODULATION, "pitch modulation")
    depth_cent: float = number(
        25.0, 0.0, 200.0, label="Depth", unit="cent", step=1.0, followed=True
    )
    rate_hz: float = number(
        5.0, 0.5, 20.0, label="Rate", unit="Hz", scale="log", step=0.1, followed=True
    )
    apart_deg: float = number(0.0, 0.0, 180.0, label="Stereo phase", unit="deg", step=15.0)


class PitchDelayProcessor(ProcessorBase):
    """Echoes of which each is higher or lower than the one before."""

    kind: Literal["pitch_delay"] = "pitch_delay"
    called: ClassVar = ProcessorName("Pitch delay", MODULATION, "echo climbing shift")
    mix: float = number(0.4, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    sync: bool = Field(default=False, title="Tempo sync")
    time_s: float = number(0.2, 0.005, 5.0, label="Time", unit="s", scale="time", step=0.005)
    beats: float = number(
        0.5, 1.0 / 64.0, 16.0, label="Length", unit="beat", scale="log", step=0.25
    )
    shift_st: float = number(7.0, -24.0, 24.0, label="Shift", unit="st", step=1.0, followed=True)
    feedback: float = number(
        0.5,
        0.0,
        0.95,
        label="Feedback",
        unit="percent",
        text="Loop gain of the echoes.",
        followed=True,
    )
    detune_cent: float = number(
        0.0,
        0.0,
        100.0,
        label="Stereo detune",
        unit="cent",
        step=1.0,
        text="Left is shifted up and right down by half of it, so that the echoes widen.",
    )
    grain_s: float = number(
        0.06,
        0.01,
        0.2,
        label="Grain",
        unit="s",
        scale="time",
        step=0.005,
        text="Short for clicks and hits, long for tones.",
    )
    low_cut_hz: float = number(
        80.0, 10.0, 5000.0, label="Low cut", unit="Hz", scale="log", step=10.0
    )
    high_cut_hz: float = number(
        8000.0, 200.0, 20000.0, label="High cut", unit="Hz", scale="log", step=100.0
    )

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        return frozenset({"tempo"}) if self.sync else frozenset()
