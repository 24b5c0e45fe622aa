"""The sound document: its parts, and the rules between them."""

from __future__ import annotations

from typing import Self

from pydantic import model_validator

from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.links import require_sound_links
from nest_crate.core.sound.parts import SoundParts
from nest_crate.core.sound.routes import require_sound_routes

__all__ = ["SCHEMA_VERSION", "Sound"]

SCHEMA_VERSION = 1


class Sound(SoundParts):
    """A one-shot, and the hit it is played with unless another is asked for."""

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
