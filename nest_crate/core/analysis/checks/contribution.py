"""What a part contributes: how much is changed where it is muted, switched off or removed."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from nest_crate.core.analysis.checks.remarks import Edit, Fix
from nest_crate.core.analysis.measures.difference import (
    Difference,
    band_levels,
    difference,
    largest_change,
)
from nest_crate.core.dsp.util.signals import Signal, sum_signals
from nest_crate.core.engine import RenderSettings, StageMemory, render
from nest_crate.core.engine.ends import sounding_layers
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.chains import chain_places

__all__ = ["Contribution", "contributions_db", "list_contributions"]


def contributions_db(layers: dict[str, Signal]) -> dict[str, float]:
    """By how much each layer changes the level of the sum, at the most, in dB.

    Compared in frames of 512 samples and about octave-wide bands, the sum with and without the
    layer: a quiet tick over a loud low tone counts by its own band.
    """
    if not layers:
        return {}
    frames = next(iter(layers.values())).shape[1]
    total = sum_signals(list(layers.values()), frames)
    with_all = band_levels(total)
    return {
        key: largest_change(with_all, band_levels(total - signal)) for key, signal in layers.items()
    }


@dataclass(frozen=True)
class Contribution:
    """What one part does to the sound: the difference where it is gone, and how to remove it."""

    kind: str
    id: str
    name: str
    owner: str
    difference: Difference
    fix: Fix


def list_contributions(
    sound: Sound, hit: Hit, settings: RenderSettings, *, memory: StageMemory | None = None
) -> list[Contribution]:
    """Every layer that is heard, every processor that is on, and every link, each removed once.

    Only what comes after the part is rendered again where ``memory`` holds the rest.
    """
    whole = render(sound, hit, settings, memory=memory)
    found = []
    for kind, identifier, name, owner, without, fix in _each_taken_away(sound):
        other = render(without, hit, settings, memory=memory)
        found.append(Contribution(kind, identifier, name, owner, difference(whole, other), fix))
    return found


def _each_taken_away(sound: Sound) -> Iterator[tuple[str, str, str, str, Sound, Fix]]:
    """Kind, id, name and owner of each part, the sound without it, and the edit that removes it."""
    heard = {layer.id for layer in sounding_layers(sound)}
    for n, layer in enumerate(sound.layers):
        if layer.id in heard:
            edit = Edit(f"layers.{n}.mute", True)
            yield "layer", layer.id, layer.name, "", _edited(sound, edit), Fix("Mute", [edit])
    for place in chain_places(sound):
        for n, part in enumerate(place.chain):
            if part.on and (
                place.owner not in {one.id for one in sound.layers} or place.owner in heard
            ):
                edit = Edit(f"{place.path}.{n}.on", False)
                fix = Fix("Switch off", [edit])
                yield "processor", part.id, part.kind, place.name, _edited(sound, edit), fix
    names = {mover.id: mover.name for mover in sound.movers}
    for n, link in enumerate(sound.links):
        others = [one.model_dump(mode="json") for one in sound.links if one is not link]
        without = sound.model_copy(update={"links": sound.links[:n] + sound.links[n + 1 :]})
        fix = Fix("Unlink", [Edit("links", others)])
        yield "link", link.target, names[link.mover], link.mover, without, fix


def _edited(sound: Sound, edit: Edit) -> Sound:
    """The sound with one value put at a path."""

    def put(node: Any, keys: list[str]) -> Any:
        key, *rest = keys
        if isinstance(node, tuple):
            index = int(key)
            return (*node[:index], put(node[index], rest), *node[index + 1 :])
        inner = put(getattr(node, key), rest) if rest else edit.value
        return node.model_copy(update={key: inner})

    edited: Sound = put(sound, edit.path.split("."))
    return edited
