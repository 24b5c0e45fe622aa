"""Every chain of a sound and where it stands, so that nothing has to know the places by heart."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nest_crate.core.sound.parts import SoundParts
from nest_crate.core.sound.processors import Branch, ForkProcessor, Processor

__all__ = ["ChainPlace", "branches_of", "chain_ids", "chain_places", "chains_of", "every_processor"]


@dataclass(frozen=True)
class ChainPlace:
    """A chain: whose it is by id and name, where it stands in the document, what it holds.

    ``depth`` counts the forks that it lies in.
    """

    owner: str
    name: str
    path: str
    chain: tuple[Processor, ...]
    depth: int = 0


def branches_of(part: object) -> tuple[Branch, ...]:
    """The branches of a fork; none of anything else."""
    return part.branches if isinstance(part, ForkProcessor) else ()


def every_processor(chain: tuple[Processor, ...]) -> Iterator[Processor]:
    """The processors of a chain, those in the branches of a fork before the fork itself."""
    for part in chain:
        for branch in branches_of(part):
            yield from every_processor(branch.chain)
        yield part


def chain_ids(chain: tuple[Processor, ...]) -> list[str]:
    """Ids of the processors of a chain and of the branches within it."""
    found: list[str] = []
    for part in every_processor(chain):
        found += [branch.id for branch in branches_of(part)]
        found.append(part.id)
    return found


def chains_of(sound: SoundParts) -> list[tuple[Processor, ...]]:
    """The chains of layers, buses and main, without those in branches."""
    chains = [layer.chain for layer in sound.layers]
    for bus in sound.buses:
        chains += [bus.low_chain, bus.chain]
    return [*chains, sound.main.chain]


def chain_places(sound: SoundParts) -> Iterator[ChainPlace]:
    """The chains in the order of the path: layers, buses (low part first), main; each before the
    branches of the forks in it."""
    for n, layer in enumerate(sound.layers):
        yield from _with_branches(
            ChainPlace(layer.id, layer.name, f"layers.{n}.chain", layer.chain)
        )
    for n, bus in enumerate(sound.buses):
        low = ChainPlace(bus.id, f"{bus.name} low", f"buses.{n}.low_chain", bus.low_chain)
        yield from _with_branches(low)
        name = f"{bus.name} high" if bus.split else bus.name
        yield from _with_branches(ChainPlace(bus.id, name, f"buses.{n}.chain", bus.chain))
    yield from _with_branches(ChainPlace("main", "Main", "main.chain", sound.main.chain))


def _with_branches(place: ChainPlace) -> Iterator[ChainPlace]:
    yield place
    for n, part in enumerate(place.chain):
        for k, branch in enumerate(branches_of(part)):
            path = f"{place.path}.{n}.branches.{k}.chain"
            name = f"{place.name} {branch.name}"
            within = ChainPlace(place.owner, name, path, branch.chain, place.depth + 1)
            yield from _with_branches(within)
