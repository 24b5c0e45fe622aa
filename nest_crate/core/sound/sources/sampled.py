"""The sample: a stored recording, read at a pitch."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import number
from nest_crate.core.sound.sources.base import WORKING, PitchedSource, RecordingId, Unison

__all__ = ["SampleSource"]

_LONGEST_S = 600.0


class SampleSource(PitchedSource):
    """A stored recording: a part of it, forwards or reversed, looped, slowed or hastened."""

    kind: Literal["sample"] = "sample"
    modulations: ClassVar[tuple[str, ...]] = ("phase", "frequency", *WORKING)
    recording: RecordingId | None = None
    name: Annotated[str, Field(max_length=120)] = ""
    start_s: float = number(0.0, 0.0, _LONGEST_S, label="Start", unit="s", scale="time", step=0.005)
    end_s: float = number(
        0.0,
        0.0,
        _LONGEST_S,
        label="End",
        unit="s",
        scale="time",
        step=0.005,
        text="0: the recording's end.",
    )
    snap: bool = Field(default=True, title="Snap to zero crossings")
    reverse: bool = Field(default=False, title="Reverse")
    root_note: int = number(
        60,
        0,
        127,
        label="Root note",
        unit="note",
        step=1,
        whole=True,
        text="The note the file plays.",
    )
    root_cent: float = number(0.0, -100.0, 100.0, label="Root fine tune", unit="cent", step=1.0)
    loop: Literal["off", "held", "always"] = Field(default="off", title="Loop")
    loop_way: Literal["forwards", "back_and_forth"] = Field(
        default="forwards", title="Loop direction"
    )
    loop_start_s: float = number(
        0.0, 0.0, _LONGEST_S, label="Loop start", unit="s", scale="time", step=0.005
    )
    loop_end_s: float = number(
        0.0,
        0.0,
        _LONGEST_S,
        label="Loop end",
        unit="s",
        scale="time",
        step=0.005,
        text="0: the end of what is played.",
    )
    crossfade_s: float = number(
        0.01,
        0.0,
        5.0,
        label="Crossfade",
        unit="s",
        scale="time",
        step=0.005,
        text="Length of the crossfade at the loop point.",
    )
    reading: Literal["plain", "grains"] = Field(default="plain", title="Playback")
    speed: float = number(
        1.0,
        0.0,
        8.0,
        label="Speed",
        unit="percent",
        step=0.05,
        text="In grains the pitch stays: 50 % is half as fast, 0 % stands still.",
        followed=True,
    )
    grain_s: float = number(0.06, 0.005, 0.5, label="Grain", unit="s", scale="time", step=0.005)
    spray_s: float = number(
        0.0,
        0.0,
        1.0,
        label="Spray",
        unit="s",
        scale="time",
        step=0.005,
        text="Random offset of each grain.",
    )
    advance_s: float = number(
        0.0,
        0.0,
        10.0,
        label="Advance each hit",
        unit="s",
        scale="time",
        step=0.005,
        text="Each hit starts this much later than the one before.",
    )
    random_start_s: float = number(
        0.0,
        0.0,
        10.0,
        label="Random start",
        unit="s",
        scale="time",
        step=0.005,
        text="Each hit starts up to this much later.",
    )
    unison: Unison = Field(default_factory=Unison)
