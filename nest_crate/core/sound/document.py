"""The sound document: its parts, and the rules between them."""

from __future__ import annotations

from collections import Counter
from typing import Self

from pydantic import model_validator

from nest_crate.core.sound.chains import chain_ids, chain_places, chains_of
from nest_crate.core.sound.links import require_sound_links
from nest_crate.core.sound.parts import SoundParts
from nest_crate.core.sound.processors import MAX_FORK_DEPTH
from nest_crate.core.sound.routes import require_sound_routes

__all__ = ["RESERVED", "SCHEMA_VERSION", "Sound"]

SCHEMA_VERSION = 2
# Ids that mean something else: the main chain, the two ends of routes, the common pitch.
RESERVED = frozenset({"main", "output", "none", "common"})
MAX_PROCESSORS_IN_ALL = 1024


class Sound(SoundParts):
    """A one-shot, and the hit it is played with unless another is asked for."""

    @model_validator(mode="after")
    def _ids_are_unique(self) -> Self:
        ids = [layer.id for layer in self.layers]
        ids += [bus.id for bus in self.buses]
        ids += [modulator.id for layer in self.layers for modulator in layer.modulators]
        ids += [send.id for send in self.sends]
        for chain in chains_of(self):
            ids += chain_ids(chain)
        ids += [mover.id for mover in self.movers]
        for identifier, times in Counter(ids).items():
            if identifier in RESERVED:
                raise ValueError(f"id {identifier!r} is taken by the program; choose another")
            if times > 1:
                raise ValueError(f"id {identifier!r} is used twice; give each part its own")
        return self

    @model_validator(mode="after")
    def _is_bounded(self) -> Self:
        for place in chain_places(self):
            if place.depth > MAX_FORK_DEPTH:
                raise ValueError(
                    f"{place.path}: forks lie at most {MAX_FORK_DEPTH} deep; take one out"
                )
        count = sum(len(place.chain) for place in chain_places(self))
        if count > MAX_PROCESSORS_IN_ALL:
            raise ValueError(
                f"a sound has at most {MAX_PROCESSORS_IN_ALL} processors; this one has {count}"
            )
        return self

    @model_validator(mode="after")
    def _links_and_routes_lead_somewhere(self) -> Self:
        require_sound_routes(self)
        require_sound_links(self)
        return self
