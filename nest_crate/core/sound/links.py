"""What links may not do: lead nowhere, stand twice, go round."""

from __future__ import annotations

from graphlib import CycleError, TopologicalSorter

from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.movers import MAX_MACROS
from nest_crate.core.sound.parts import SoundParts
from nest_crate.core.sound.targets import differs_by_voice, targets_of

__all__ = ["require_sound_links"]


def require_sound_links(sound: SoundParts) -> None:
    """Every link has a mover, a target and, where it is scaled, a scaling mover; none goes round.

    Raises
    ------
    ValueError
        naming the link and what to change.
    """
    if sum(mover.kind == "macro" for mover in sound.movers) > MAX_MACROS:
        raise ValueError(f"a sound has at most {MAX_MACROS} macros")
    movers = {mover.id for mover in sound.movers}
    voices = {mover.id for mover in sound.movers if mover.kind == "voice"}
    targets = targets_of(sound) if sound.links else {}
    seen = set()
    for index, link in enumerate(sound.links):
        for identifier in (link.mover, link.scaled_by):
            if identifier is not None and identifier not in movers:
                raise ValueError(f"links.{index}: there is no mover {identifier!r}")
        if link.target not in targets:
            raise ValueError(f"links.{index}: there is no parameter {link.target!r}")
        if (link.mover, link.target) in seen:
            raise ValueError(f"links.{index}: {link.mover!r} moves {link.target!r} already")
        seen.add((link.mover, link.target))
        if {link.mover, link.scaled_by} & voices and not differs_by_voice(sound, link.target):
            raise ValueError(
                f"links.{index}: voices cannot differ in {link.target!r}; only in numbers of a "
                "tone that are followed through the hit"
            )
    _require_layers(sound)
    _require_no_loop(sound)


def _require_layers(sound: SoundParts) -> None:
    """Modulators, followed layers and layers that processors listen to are there."""
    layers = {layer.id for layer in sound.layers}
    for layer in sound.layers:
        by = layer.modulation.by
        if by is not None and by not in layers:
            raise ValueError(f"{layer.id}: there is no layer {by!r} to modulate it")
    for place in chain_places(sound):
        for index, part in enumerate(place.chain):
            for heard in part.hears():
                if heard not in layers:
                    raise ValueError(
                        f"{place.path}.{index}.side: there is no layer {heard!r} to listen to"
                    )
    for mover in sound.movers:
        if mover.kind == "follower" and mover.layer is not None and mover.layer not in layers:
            raise ValueError(f"{mover.id}: there is no layer {mover.layer!r} to follow")


def _require_no_loop(sound: SoundParts) -> None:
    """What each part waits for: movers for what moves them, layers too, followers for layers."""
    layers = {layer.id for layer in sound.layers}
    owners = {layer: layer for layer in layers}
    for place in chain_places(sound):
        if place.owner in layers:
            owners |= {part.id: place.owner for part in place.chain}
    needs: dict[str, set[str]] = {}
    for place in chain_places(sound):
        if place.owner in layers:
            heard = {layer for part in place.chain for layer in part.hears()}
            needs.setdefault(place.owner, set()).update(heard)
    for link in sound.links:
        part = link.target.split(".", 1)[0]
        wanted = needs.setdefault(owners.get(part, part), set())
        wanted |= {link.mover} | ({link.scaled_by} if link.scaled_by else set())
    for mover in sound.movers:
        if mover.kind == "follower" and mover.layer is not None:
            needs.setdefault(mover.id, set()).add(mover.layer)
    for layer in sound.layers:
        if layer.modulation.by is not None:
            needs.setdefault(layer.id, set()).add(layer.modulation.by)
    try:
        TopologicalSorter(needs).prepare()
    except CycleError as error:
        # Each of the circle comes before the next, which is the one that waits.
        circle = " waits for ".join(reversed(error.args[1]))
        raise ValueError(f"links go round: {circle}") from None
