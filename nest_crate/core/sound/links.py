"""What links may not do: lead nowhere, stand twice, go round."""

from __future__ import annotations

from graphlib import CycleError, TopologicalSorter

from nest_crate.core.sound.chains import chain_ids, chain_places
from nest_crate.core.sound.curve import Curve
from nest_crate.core.sound.movers import MAX_MACROS, Link
from nest_crate.core.sound.parts import SoundParts
from nest_crate.core.sound.sources import PitchedSource
from nest_crate.core.sound.targets import COMMON, LEVELS, differs_by_voice, targets_of

__all__ = ["curve_movers", "require_sound_links"]


def require_sound_links(sound: SoundParts) -> None:
    """Every link has a mover, a target and, where it is scaled, a scaling mover; none goes round.

    Raises
    ------
    ValueError
        naming the link and what to change.
    """
    if sum(mover.kind == "macro" for mover in sound.movers) > MAX_MACROS:
        raise ValueError(f"a sound has at most {MAX_MACROS} macros")
    movers = {mover.id for mover in sound.movers} | set(curve_movers(sound))
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
        _require_law(index, link)
        if {link.mover, link.scaled_by} & voices and not differs_by_voice(sound, link.target):
            raise ValueError(
                f"links.{index}: voices cannot differ in {link.target!r}; only in numbers of a "
                "tone that are followed through the hit, and in its start phase"
            )
        for name in (link.mover, link.scaled_by):
            _require_other(index, name, link.target)
    _require_layers(sound)
    _require_no_loop(sound)


def _require_law(index: int, link: Link) -> None:
    """Only levels go by amplitude, and no further than from all of it to nothing."""
    if link.law != "amplitude":
        return
    if link.target.partition(".")[2] not in LEVELS:
        raise ValueError(f"links.{index}: only a level can be moved as amplitude")
    if abs(link.amount) > 1.0:
        raise ValueError(f"links.{index}: as amplitude the amount is from -1 to 1 (-100 to 100 %)")


# What a curve says already, and when it begins.
_OF_CURVES = {"level": ("level_db", "delay_s"), "pitch": ("pitch_st", "delay_s")}


def _require_other(index: int, mover: str | None, target: str) -> None:
    """A curve does not move what it is itself."""
    owner, _, curve = (mover or "").partition(".")
    if target in [f"{owner}.{name}" for name in _OF_CURVES.get(curve, ())]:
        raise ValueError(
            f"links.{index}: {mover!r} cannot move its own {target.partition('.')[2]}; draw the "
            "curve as you want it, or take another mover"
        )


def curve_movers(sound: SoundParts) -> dict[str, tuple[Curve, float]]:
    """Curves that act as movers, by name: the curve, and when it begins in seconds."""
    found = {f"{COMMON}.pitch": (sound.pitch, 0.0)}
    for layer in sound.layers:
        found[f"{layer.id}.level"] = (layer.level, layer.delay_s)
        found[f"{layer.id}.pitch"] = (layer.pitch, layer.delay_s)
    return found


def _require_layers(sound: SoundParts) -> None:
    """Modulators, followed layers and layers that processors listen to are there."""
    layers = {layer.id for layer in sound.layers}
    for layer in sound.layers:
        for modulator in layer.modulators:
            if modulator.by not in layers:
                raise ValueError(f"{layer.id}: there is no layer {modulator.by!r} to modulate it")
        if sum(one.on and one.way == "sync" for one in layer.modulators) > 1:
            raise ValueError(f"{layer.id}: only one layer at a time can sync it; switch others off")
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
    for layer in sound.layers:
        inner = [*chain_ids(layer.chain), *(one.id for one in layer.modulators)]
        owners |= dict.fromkeys(inner, layer.id)
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
        waits = {one.by for one in layer.modulators}
        if layer.follows_pitch and isinstance(layer.source, PitchedSource):
            waits.add(COMMON)
        needs.setdefault(layer.id, set()).update(waits)
    try:
        TopologicalSorter(needs).prepare()
    except CycleError as error:
        # Each of the circle comes before the next, which is the one that waits.
        circle = " waits for ".join(reversed(error.args[1]))
        raise ValueError(f"links go round: {circle}") from None
