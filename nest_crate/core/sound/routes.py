"""Where layers and buses go, and what routes may not do."""

from __future__ import annotations

from graphlib import CycleError, TopologicalSorter

from nest_crate.core.sound.buses import OUTPUTS, Bus, Send
from nest_crate.core.sound.chains import chain_ids, chain_places
from nest_crate.core.sound.parts import SoundParts

__all__ = ["buses_in_order", "is_each_note", "owners_of", "require_sound_routes", "sends_from"]


def owners_of(sound: SoundParts) -> dict[str, str]:
    """By id of everything that a send may start from, the layer, bus or ``main`` that it is in."""
    owners = {layer.id: layer.id for layer in sound.layers}
    owners |= {bus.id: bus.id for bus in sound.buses}
    for place in chain_places(sound):
        owners |= dict.fromkeys(chain_ids(place.chain), place.owner)
    return owners


def sends_from(sound: SoundParts, owner: str) -> list[Send]:
    """The sends that start in a layer, a bus or ``main``, or at one of its processors."""
    if not sound.sends:
        return []
    owners = owners_of(sound)
    return [send for send in sound.sends if owners[send.source] == owner]


def require_sound_routes(sound: SoundParts) -> None:
    """Every way leads to main or to the output, and none goes round.

    Raises
    ------
    ValueError
        naming the part and what to change.
    """
    known = {*OUTPUTS, *(bus.id for bus in sound.buses)}
    goes = [(f"layers.{n}", layer.to) for n, layer in enumerate(sound.layers)]
    goes += [(f"buses.{n}", bus.to) for n, bus in enumerate(sound.buses)]
    goes += [(f"sends.{n}", send.to) for n, send in enumerate(sound.sends)]
    for path, to in goes:
        if to not in known:
            raise ValueError(f"{path}: there is no bus {to!r} to go to")
    owners = owners_of(sound)
    for n, send in enumerate(sound.sends):
        if send.source not in owners:
            raise ValueError(f"sends.{n}: there is nothing {send.source!r} to send from")
        if send.to == "none":
            raise ValueError(f"sends.{n}: a send needs a bus, main or the output to go to")
    try:
        TopologicalSorter(_arrivals(sound)).prepare()
    except CycleError as error:
        # Each of the circle comes before the next, which is where it arrives.
        raise ValueError(f"routes go round: {' goes to '.join(error.args[1])}") from None
    _require_notes_apart(sound)


def _arrivals(sound: SoundParts) -> dict[str, set[str]]:
    """By bus and ``main``: the buses, and ``main``, that lead to it."""
    found: dict[str, set[str]] = {one: set() for one in ("main", *(bus.id for bus in sound.buses))}
    for bus in sound.buses:
        if bus.to in found:
            found[bus.to].add(bus.id)
    owners = owners_of(sound)
    for send in sound.sends:
        owner = owners[send.source]
        if owner in found and send.to in found:
            found[send.to].add(owner)
    return found


def is_each_note(sound: SoundParts, identifier: str) -> bool:
    """Whether a layer or a bus is made for each note by itself."""
    return any(layer.id == identifier for layer in sound.layers) or any(
        bus.id == identifier and bus.each_note for bus in sound.buses
    )


def _require_notes_apart(sound: SoundParts) -> None:
    """What hears all notes together cannot lead to what hears each note apart."""
    apart = {bus.id for bus in sound.buses if bus.each_note}
    for to, sources in _arrivals(sound).items():
        for source in sorted(sources):
            if to in apart and source not in apart:
                raise ValueError(
                    f"{to}: hears each note apart, but {source!r}, which leads to it, hears all "
                    "notes together; switch both or neither"
                )


def buses_in_order(sound: SoundParts) -> list[Bus | None]:
    """Buses, and None for the main chain, so that each comes after all that lead to it."""
    arrivals = _arrivals(sound)
    leads: dict[str, set[str]] = {one: set() for one in arrivals}
    for to, sources in arrivals.items():
        for source in sources:
            leads[source].add(to)

    def steps(one: str) -> int:
        """The most steps from here to an end."""
        return 1 + max((steps(to) for to in leads[one]), default=0)

    # Those as far from an end stand as in the document, main behind them.
    ordered: list[Bus | None] = [*sound.buses, None]
    return sorted(ordered, key=lambda bus: -steps("main" if bus is None else bus.id))
