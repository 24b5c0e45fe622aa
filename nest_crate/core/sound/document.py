"""The sound document: how a one-shot is made."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from nest_crate.core.sound.buses import MAX_BUSES, Bus, Destination
from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.curve import Curve, CurvePoint
from nest_crate.core.sound.links import require_sound_links
from nest_crate.core.sound.movers import MAX_LINKS, MAX_MOVERS, Link, Mover
from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.playing import Hit, Pattern, Playing
from nest_crate.core.sound.processors import Chain, Identifier
from nest_crate.core.sound.reference import Reference
from nest_crate.core.sound.routes import require_sound_routes
from nest_crate.core.sound.sources import Source, ToneSource

__all__ = ["MAX_LAYERS", "SCHEMA_VERSION", "Layer", "Main", "Modulation", "Pigment", "Sound"]

SCHEMA_VERSION = 1
MAX_LAYERS = 8

Pigment = Literal["rust", "teal", "ochre", "plum", "moss", "slate"]


def _full_level() -> Curve:
    """A plain level curve: up in 2 ms, stays, and 60 ms down after the hold."""
    return Curve(
        points=(CurvePoint(time_s=0.0, value=0.0), CurvePoint(time_s=0.002, value=1.0)),
        release=(CurvePoint(time_s=0.06, value=0.0, bend=3.0),),
    )


def _flat_pitch() -> Curve:
    return Curve(points=(CurvePoint(time_s=0.0, value=0.0),))


class Modulation(DocumentModel):
    """Another layer acts on this one before its level."""

    by: Identifier | None = None
    way: Literal["phase", "frequency", "ring", "amplitude", "sync"] = Field(
        default="phase", title="Way"
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
    )


class Layer(DocumentModel):
    """One source with its own curves, chain and output.

    The level curve's values are amplitudes from 0 to 1; the pitch curve's are semitones.
    """

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=60, title="Name")]
    pigment: Pigment = Field(default="rust", title="Pigment")
    mute: bool = Field(default=False, title="Mute")
    solo: bool = Field(default=False, title="Solo")
    level_db: float = number(0.0, -72.0, 12.0, label="Level", unit="dB", step=0.5)
    pan: float = number(0.0, -1.0, 1.0, label="Pan", unit="percent")
    velocity_sense: float = number(
        0.5,
        0.0,
        1.0,
        label="Velocity sense",
        unit="percent",
        text="How much velocity changes the level; velocity 100 plays the level as set.",
    )
    delay_s: float = number(0.0, 0.0, 10.0, label="Start", unit="s", scale="time", step=0.001)
    source: Source = Field(default_factory=ToneSource)
    modulation: Modulation = Field(default_factory=Modulation)
    follows_pitch: bool = Field(default=True, title="Follows the common pitch")
    level: Curve = Field(default_factory=_full_level)
    pitch: Curve = Field(default_factory=_flat_pitch)
    chain: Chain = ()
    to: Destination = "main"

    @model_validator(mode="after")
    def _level_is_amplitude(self) -> Self:
        if any(not 0.0 <= p.value <= 1.0 for p in (*self.level.points, *self.level.release)):
            raise ValueError("level: values are amplitudes from 0 to 1 (0 to 100 %)")
        return self


class Main(DocumentModel):
    """The main output: every layer's sum goes through this chain."""

    chain: Chain = ()
    level_db: float = number(0.0, -72.0, 12.0, label="Main level", unit="dB", step=0.5)
    end_by_s: float = number(
        0.0,
        0.0,
        60.0,
        label="End by",
        unit="s",
        scale="time",
        step=0.1,
        text="A check speaks where it sounds on; 0: whenever it ends.",
    )


class Sound(DocumentModel):
    """A one-shot, and the hit it is played with unless another is asked for."""

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120, title="Name")]
    seed: int = Field(default=1, ge=0, le=2**53 - 1, title="Seed")
    tempo_bpm: float = number(120.0, 20.0, 400.0, label="Tempo", unit="bpm", step=1.0)
    pitch: Curve = Field(default_factory=_flat_pitch)
    """Common pitch curve in semitones, from the start of the hit; layers follow it or not."""
    layers: Annotated[tuple[Layer, ...], Field(max_length=MAX_LAYERS)] = ()
    buses: Annotated[tuple[Bus, ...], Field(max_length=MAX_BUSES)] = ()
    main: Main = Field(default_factory=Main)
    playing: Playing = Field(default_factory=Playing)
    pattern: Pattern = Field(default_factory=Pattern)
    movers: Annotated[tuple[Mover, ...], Field(max_length=MAX_MOVERS)] = ()
    links: Annotated[tuple[Link, ...], Field(max_length=MAX_LINKS)] = ()
    hit: Hit = Field(default_factory=Hit)
    reference: Reference | None = None

    @model_validator(mode="after")
    def _ids_are_unique(self) -> Self:
        ids = [layer.id for layer in self.layers]
        ids += [bus.id for bus in self.buses]
        ids += [part.id for place in chain_places(self) for part in place.chain]
        ids += [mover.id for mover in self.movers]
        for identifier in ids:
            if identifier in ("main", "output"):
                raise ValueError(f"id {identifier!r} is taken by the output; choose another")
            if ids.count(identifier) > 1:
                raise ValueError(f"id {identifier!r} is used twice; give each part its own")
        return self

    @model_validator(mode="after")
    def _links_and_routes_lead_somewhere(self) -> Self:
        require_sound_routes(self)
        require_sound_links(self)
        return self
