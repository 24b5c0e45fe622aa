"""Layers, what acts on them, and the main output."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from nest_crate.core.sound.buses import Destination
from nest_crate.core.sound.curve import Curve, CurvePoint
from nest_crate.core.sound.parameters import DocumentModel, Timed, number
from nest_crate.core.sound.processors import Chain, Identifier
from nest_crate.core.sound.sources import Source, ToneSource

__all__ = ["MAX_LAYERS", "MAX_MODULATORS", "Layer", "Main", "Modulator", "Pigment", "flat_pitch"]

MAX_LAYERS = 8
MAX_MODULATORS = 8

Pigment = Literal["rust", "teal", "ochre", "plum", "moss", "slate"]


def _full_level() -> Curve:
    """A plain level curve: up in 2 ms, stays, and 60 ms down after the hold."""
    return Curve(
        points=(CurvePoint(time_s=0.0, value=0.0), CurvePoint(time_s=0.002, value=1.0)),
        release=(CurvePoint(time_s=0.06, value=0.0, bend=3.0),),
    )


def flat_pitch() -> Curve:
    return Curve(points=(CurvePoint(time_s=0.0, value=0.0),))


class Modulator(DocumentModel):
    """Another layer acts on this one before its level."""

    id: Identifier
    by: Identifier
    on: bool = Field(default=True, title="On")
    way: Literal["phase", "frequency", "ring", "amplitude", "sync"] = Field(
        default="phase", title="Type"
    )
    amount: float = number(
        0.25,
        0.0,
        4.0,
        label="Amount",
        unit="percent",
        step=0.05,
        text="Phase: 100 % is one cycle at full scale; frequency: as much as the pitch itself. "
        "Ring, amplitude and sync: 100 % is all of it.",
        followed=True,
    )

    tap: Literal["source", "level", "output"] = Field(
        default="output",
        title="Tap",
        description="Where the other layer is taken: before its level curve, after it, or at its "
        "output, after its chain.",
    )
    by_voice: bool = Field(
        default=False,
        title="Voice by voice",
        description="Each voice by the other layer's voice of the same number, where both have "
        "as many and the tap lies before the chain.",
    )


class Layer(Timed):
    """One source with its own curves, chain and output.

    The level curve's values are amplitudes from 0 to 1; the pitch curve's are semitones.
    """

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=60, title="Name")]
    pigment: Pigment = Field(default="rust", title="Pigment")
    mute: bool = Field(default=False, title="Mute")
    solo: bool = Field(default=False, title="Solo")
    level_db: float = number(0.0, -72.0, 12.0, label="Level", unit="dB", step=0.5, followed=True)
    pan: float = number(0.0, -1.0, 1.0, label="Pan", unit="percent", followed=True)
    velocity_sense: float = number(
        0.5,
        0.0,
        1.0,
        label="Velocity sensitivity",
        unit="percent",
        text="How much velocity changes the level; velocity 100 plays the level as set.",
    )
    delay_s: float = number(0.0, 0.0, 10.0, label="Start", unit="s", scale="time", step=0.001)
    source: Source = Field(default_factory=ToneSource)
    modulators: Annotated[tuple[Modulator, ...], Field(max_length=MAX_MODULATORS)] = ()
    follows_pitch: bool = Field(default=True, title="Follows the common pitch")
    level: Curve = Field(default_factory=_full_level)
    pitch: Curve = Field(default_factory=flat_pitch)
    chain: Chain = ()
    to: Destination = "main"

    @model_validator(mode="after")
    def _level_is_amplitude(self) -> Self:
        if any(not 0.0 <= p.value <= 1.0 for p in (*self.level.points, *self.level.release)):
            raise ValueError("level: values are amplitudes from 0 to 1 (0 to 100 %)")
        return self


class Main(Timed):
    """The main output: all that leads to it is summed and goes through this chain."""

    chain: Chain = ()
    level_db: float = number(
        0.0, -72.0, 12.0, label="Main level", unit="dB", step=0.5, followed=True
    )
    limit_all: bool = Field(
        default=False,
        title="Limiter on everything",
        description="What goes past the main chain joins it before its last limiter.",
    )
    end_by_s: float = number(
        0.0,
        0.0,
        60.0,
        label="Latest end",
        unit="s",
        scale="time",
        step=0.1,
        text="A check warns where the sound lasts longer; 0: no limit.",
    )
