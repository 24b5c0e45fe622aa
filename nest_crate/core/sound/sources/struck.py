"""The struck body: an exciter, and what it makes ring."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.sources.base import WORKING, TunedSource

__all__ = ["MAX_MODES", "ModeChange", "StruckSource"]

MAX_MODES = 64


class ModeChange(DocumentModel):
    """One mode of a body, otherwise than the body's kind has it."""

    mode: int = Field(ge=1, le=MAX_MODES)
    """Counted from 1, in the order of the body's own list."""
    shift_cent: float = number(
        0.0, -3600.0, 3600.0, label="Frequency", unit="cent", step=5.0, text="From its own place."
    )
    level_db: float = number(0.0, -60.0, 24.0, label="Level", unit="dB", step=0.5)
    ring: float = number(
        1.0, 0.05, 20.0, label="Ring time", scale="log", step=0.05, text="Times its own."
    )
    mute: bool = Field(default=False, title="Mute")


class StruckSource(TunedSource):
    """A body with modes of its own, set ringing by a blow, a burst of noise or a sweep."""

    kind: Literal["struck"] = "struck"
    modulations: ClassVar[tuple[str, ...]] = WORKING
    body: Literal[
        "bar", "plate", "membrane", "tube", "stopped_tube", "string", "set", "string_loop"
    ] = Field(default="bar", title="Body")
    size: float = number(
        1.0,
        0.25,
        4.0,
        label="Size",
        scale="log",
        step=0.05,
        text="Twice as large, it sounds an octave lower and rings twice as long.",
    )
    modes: int = number(24, 1, MAX_MODES, label="Modes", step=1, whole=True)
    position: float = number(
        0.3,
        0.0,
        1.0,
        label="Position",
        unit="percent",
        text="Where it is struck: 0 % at the edge or end, 100 % in the middle.",
    )
    decay_s: float = number(
        1.0,
        0.01,
        30.0,
        label="Decay",
        unit="s",
        scale="time",
        step=0.05,
        text="Of the first mode, to -60 dB.",
    )
    damping: float = number(
        0.6,
        0.0,
        2.0,
        label="Damping",
        step=0.05,
        text="Each octave higher rings 2 to this power shorter: 0 all alike, 1 half, 2 a quarter.",
    )
    inharmonicity: float = number(
        0.0,
        0.0,
        0.1,
        label="Inharmonicity",
        scale="time",
        step=0.0005,
        text="The coefficient B of a stiff string; it spreads the upper modes.",
    )
    aspect: float = number(
        1.5,
        1.0,
        4.0,
        label="Plate aspect ratio",
        step=0.05,
        text="Length of one side relative to the other.",
    )
    spread: float = number(
        0.0, 0.0, 1.0, label="Stereo spread", unit="percent", text="Puts modes to either side."
    )
    set_st: Annotated[
        tuple[Annotated[float, Field(ge=-48.0, le=96.0)], ...], Field(min_length=1, max_length=32)
    ] = (0.0, 12.0, 19.0, 24.0, 28.0, 31.0)
    """Semitones of a tuned set above the pitch."""
    exciter: Literal["impulse", "noise", "sweep"] = Field(default="impulse", title="Exciter")
    exciter_s: float = number(
        0.01,
        0.0005,
        1.0,
        label="Exciter length",
        unit="s",
        scale="time",
        step=0.001,
        text="Of a noise burst or a sweep.",
    )
    sweep_from_hz: float = number(
        0.0,
        0.0,
        20000.0,
        label="Sweep from",
        unit="Hz",
        scale="time",
        step=10.0,
        text="0 Hz: by the hardness, from 500 Hz to 16 kHz.",
    )
    sweep_to_hz: float = number(
        30.0, 10.0, 20000.0, label="Sweep to", unit="Hz", scale="log", step=10.0
    )
    hardness: float = number(
        0.7,
        0.0,
        1.0,
        label="Hardness",
        unit="percent",
        text="A soft exciter leaves the upper modes at rest.",
    )
    knock: float = number(
        0.0,
        0.0,
        1.0,
        label="Knock",
        unit="percent",
        text="The exciter itself, heard beside the body.",
    )
    new_each_hit: bool = Field(default=False, title="New noise each hit")
    changes: Annotated[tuple[ModeChange, ...], Field(max_length=MAX_MODES)] = ()

    def change_of(self, mode: int) -> ModeChange:
        """What was changed of a mode, counted from 1; nothing where it is as the body has it."""
        found = next((one for one in self.changes if one.mode == mode), None)
        return ModeChange(mode=mode) if found is None else found

    def with_change(self, change: ModeChange) -> StruckSource:
        """The source with one mode's change put in the place of an earlier one."""
        others = tuple(one for one in self.changes if one.mode != change.mode)
        return self.model_copy(update={"changes": (*others, change)})

    @model_validator(mode="after")
    def _modes_are_changed_once(self) -> Self:
        numbers = [one.mode for one in self.changes]
        if len(set(numbers)) < len(numbers):
            raise ValueError("changes: a mode is changed twice; give each mode one change")
        return self
