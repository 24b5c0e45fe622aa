"""Remarks on movement: what runs past its range, and what does not come back while held."""

from __future__ import annotations

import math

import numpy as np

from nest_crate.core.analysis.checks.remarks import Edit, Fix, Remark
from nest_crate.core.engine import RenderSettings, StageMemory
from nest_crate.core.engine.settled_values import base_value
from nest_crate.core.engine.traces import Reached, reached_values
from nest_crate.core.sound import Hit, Layer, Sound
from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.names import processor_name
from nest_crate.core.sound.parameters import Parameter
from nest_crate.core.sound.recipe import written_value
from nest_crate.core.sound.targets import moved_unit, targets_of

__all__ = ["check_movement"]

# Only a touch at the end of a range is no news; standing there for this part of the hit is.
_STANDING_SHARE = 0.05
# A pitch that falls so far is meant to come back to the note.
_FALL_ST = 5.0
_SHARP_ST = 0.3


def check_movement(
    sound: Sound, hit: Hit, settings: RenderSettings, *, memory: StageMemory | None = None
) -> list[Remark]:
    """Links that want more than a range has, and falling pitches that stay sharp while held."""
    remarks = []
    targets = targets_of(sound) if sound.links else {}
    for target, reached in reached_values(sound, hit, settings, memory=memory).items():
        remark = _past_range(sound, target, targets[target], reached)
        if remark is not None:
            remarks.append(remark)
    remarks += [remark for layer in sound.layers if (remark := _stays_sharp(sound, layer))]
    return remarks


def _past_range(sound: Sound, target: str, parameter: Parameter, reached: Reached) -> Remark | None:
    beyond = np.abs(reached.wanted - reached.within) > 1e-9 * max(1.0, abs(parameter.maximum))
    share = float(np.mean(beyond))
    if share < _STANDING_SHARE:
        return None
    above = float(reached.wanted[beyond].max()) > parameter.maximum
    bound = parameter.maximum if above else parameter.minimum
    part = target.split(".", 1)[0]
    lasting_s = share * float(reached.time_s[-1])
    name, end = _names(sound)[part], written_value(bound, parameter.unit)
    lasting = written_value(lasting_s, "s")
    text = f"{name}: {parameter.label} would pass {end} and stays there for {lasting}"
    first = float(reached.time_s[int(np.argmax(beyond))])
    layer = next((one.id for one in sound.layers if one.id == part), None)
    return Remark(
        "past_range",
        "warn",
        text,
        at_s=first,
        layer=layer,
        fixes=_shortened(sound, target, parameter, reached),
    )


def _shortened(sound: Sound, target: str, parameter: Parameter, reached: Reached) -> list[Fix]:
    """The amounts so much smaller that the furthest value just reaches the end of the range."""
    base = base_value(sound, target)
    octaves = moved_unit(parameter) == "octave"

    def way(value: float) -> float:
        return math.log2(max(1e-9, value) / base) if octaves else value - base

    factor = 1.0
    for wanted, bound in (
        (float(reached.wanted.max()), parameter.maximum),
        (float(reached.wanted.min()), parameter.minimum),
    ):
        if way(bound) and way(wanted) / way(bound) > 1.0:
            factor = min(factor, way(bound) / way(wanted))
    if factor >= 1.0:
        # It stands at the end of its range already, and is moved beyond it.
        return []
    edits = [
        Edit(f"links.{n}.amount", math.trunc(1e3 * factor * link.amount) / 1e3)
        for n, link in enumerate(sound.links)
        if link.target == target
    ]
    return [Fix("Less movement", edits)]


def _names(sound: Sound) -> dict[str, str]:
    names = {"main": "Main"} | {layer.id: layer.name for layer in sound.layers}
    names |= {bus.id: bus.name for bus in sound.buses}
    names |= {mover.id: mover.name for mover in sound.movers}
    for place in chain_places(sound):
        names |= {part.id: f"{place.name} {processor_name(part.kind)}" for part in place.chain}
    return names


def _stays_sharp(sound: Sound, layer: Layer) -> Remark | None:
    """A fall that ends above the note keeps a held hit sharp."""
    if layer.mute or layer.source.kind != "tone":
        return None
    curves = [(f"layers.{sound.layers.index(layer)}.pitch", layer.pitch)]
    if layer.follows_pitch:
        curves.append(("pitch", sound.pitch))
    fall_st = max(curve.points[0].value - curve.points[-1].value for _, curve in curves)
    rest_st = sum(curve.points[-1].value for _, curve in curves)
    if fall_st < _FALL_ST or rest_st < _SHARP_ST:
        return None
    edits = [
        Edit(f"{path}.points.{len(curve.points) - 1}.value", 0.0)
        for path, curve in curves
        if curve.points[-1].value != 0.0
    ]
    text = f"stays {rest_st:+.1f} st above its note while held; its pitch curve does not end at 0"
    return Remark("stays_sharp", "warn", text, layer=layer.id, fixes=[Fix("End at 0", edits)])
