"""Where layers and buses go, and what routes may not do."""

from __future__ import annotations

from nest_crate.core.sound.buses import OUTPUTS, Bus
from nest_crate.core.sound.parts import SoundParts

__all__ = ["buses_in_order", "require_sound_routes", "way_from"]


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
    for path, to in goes:
        if to not in known:
            raise ValueError(f"{path}: there is no bus {to!r} to go to")
    for bus in sound.buses:
        seen = [bus.id]
        for after in way_from(sound, bus.to):
            if after.id in seen:
                circle = " goes to ".join((*seen[seen.index(after.id) :], after.id))
                raise ValueError(f"routes go round: {circle}")
            seen.append(after.id)


def way_from(sound: SoundParts, to: str) -> list[Bus]:
    """The buses on the way from ``to`` to the output; one more than all where it goes round."""
    buses = {bus.id: bus for bus in sound.buses}
    way: list[Bus] = []
    while to in buses and len(way) <= len(buses):
        way.append(buses[to])
        to = buses[to].to
    return way


def buses_in_order(sound: SoundParts) -> list[Bus]:
    """Buses so that each comes after all that lead to it."""
    return sorted(sound.buses, key=lambda bus: -len(way_from(sound, bus.to)))
