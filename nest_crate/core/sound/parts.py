"""The fields of a sound, before it is known whether they fit together."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.buses import MAX_BUSES, MAX_SENDS, Bus, Send
from nest_crate.core.sound.curve import Curve
from nest_crate.core.sound.layers import MAX_LAYERS, Layer, Main, flat_pitch
from nest_crate.core.sound.movers import MAX_LINKS, MAX_MOVERS, Link, Mover
from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.playing import Hit, Pattern, Playing
from nest_crate.core.sound.reference import Reference

__all__ = ["SoundParts"]


class SoundParts(DocumentModel):
    """What a sound consists of; ``Sound`` adds the rules between its parts."""

    schema_version: Literal[2] = 2
    name: Annotated[str, Field(min_length=1, max_length=120, title="Name")]
    seed: int = Field(default=1, ge=0, le=2**53 - 1, title="Seed")
    tempo_bpm: float = number(120.0, 20.0, 400.0, label="Tempo", unit="bpm", step=1.0)
    pitch: Curve = Field(default_factory=flat_pitch)
    """Common pitch curve in semitones, from the start of the hit; layers follow it or not."""
    layers: Annotated[tuple[Layer, ...], Field(max_length=MAX_LAYERS)] = ()
    buses: Annotated[tuple[Bus, ...], Field(max_length=MAX_BUSES)] = ()
    sends: Annotated[tuple[Send, ...], Field(max_length=MAX_SENDS)] = ()
    main: Main = Field(default_factory=Main)
    playing: Playing = Field(default_factory=Playing)
    pattern: Pattern = Field(default_factory=Pattern)
    movers: Annotated[tuple[Mover, ...], Field(max_length=MAX_MOVERS)] = ()
    links: Annotated[tuple[Link, ...], Field(max_length=MAX_LINKS)] = ()
    hit: Hit = Field(default_factory=Hit)
    reference: Reference | None = None
