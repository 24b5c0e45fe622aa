"""Every chain of a sound and where it stands, so that nothing has to know the places by heart."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nest_crate.core.sound.parts import SoundParts
from nest_crate.core.sound.processors import Processor

__all__ = ["ChainPlace", "chain_places"]


@dataclass(frozen=True)
class ChainPlace:
    """A chain: whose it is by id and name, where it stands in the document, what it holds."""

    owner: str
    name: str
    path: str
    chain: tuple[Processor, ...]


def chain_places(sound: SoundParts) -> Iterator[ChainPlace]:
    """The chains in the order of the path: layers, buses (low part first), main."""
    for n, layer in enumerate(sound.layers):
        yield ChainPlace(layer.id, layer.name, f"layers.{n}.chain", layer.chain)
    for n, bus in enumerate(sound.buses):
        yield ChainPlace(bus.id, f"{bus.name} low", f"buses.{n}.low_chain", bus.low_chain)
        name = f"{bus.name} high" if bus.split else bus.name
        yield ChainPlace(bus.id, name, f"buses.{n}.chain", bus.chain)
    yield ChainPlace("main", "Main", "main.chain", sound.main.chain)
