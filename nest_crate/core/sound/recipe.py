"""A sound as a readable list: every value with its name and its unit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import cast

from pydantic import BaseModel

from nest_crate.core.sound.buses import Bus
from nest_crate.core.sound.chains import branches_of, chain_places
from nest_crate.core.sound.curve import Curve
from nest_crate.core.sound.document import Sound
from nest_crate.core.sound.kinds import choices_of
from nest_crate.core.sound.layers import Layer
from nest_crate.core.sound.links import curve_movers
from nest_crate.core.sound.movers import Link, Mover
from nest_crate.core.sound.names import MOVER_NAMES, SOURCE_NAMES, processor_name
from nest_crate.core.sound.parameters import Parameter, Unit, declared_parameters
from nest_crate.core.sound.processors import Processor
from nest_crate.core.sound.sources import PitchedSource, SampleSource, StruckSource
from nest_crate.core.sound.targets import COMMON, moved_unit, targets_of
from nest_crate.core.units import gain_to_db, note_name, note_to_hz

__all__ = ["part_name", "recipe", "written_value"]

_SHAPES = ("sine", "triangle", "sawtooth", "pulse")


def _plain(value: float, digits: int) -> str:
    text = f"{value:.{digits}f}".rstrip("0").rstrip(".") if digits else f"{value:.0f}"
    return "0" if text in {"-0", ""} else text


def written_value(value: float, unit: Unit) -> str:
    """A stored number as people write it: 0.028 s is ``28 ms``, 0.5 of a percentage ``50 %``."""
    match unit:
        case "s":
            return f"{_plain(1e3 * value, 2)} ms" if value < 1.0 else f"{_plain(value, 3)} s"
        case "Hz":
            return f"{_plain(value, 2)} Hz"
        case "percent":
            return f"{_plain(100.0 * value, 1)} %"
        case "note":
            return f"{note_name(round(value))} ({note_to_hz(value):.1f} Hz)"
        case "st" | "cent" | "dB" | "octave":
            words = {"st": "st", "cent": "ct", "dB": "dB", "octave": "oct"}
            sign = "+" if value > 0.0 else ""
            return f"{sign}{_plain(value, 2)} {words[unit]}"
        case "deg":
            return f"{_plain(value, 1)}°"
        case "bpm":
            return f"{_plain(value, 2)} bpm"
        case "beat":
            return f"{_plain(value, 3)} beats"
        case "m":
            return f"{_plain(value, 1)} m"
        case "":
            return _plain(value, 3)


def recipe(sound: Sound) -> str:
    """The whole sound in words and numbers, one value a line, nested by two spaces.

    Parts that do nothing (a flat pitch curve, an empty chain) are left out; every other value
    is written, those left at their defaults too.
    """
    return "\n".join(_sound_lines(sound)) + "\n"


def _indented(lines: Iterator[str]) -> Iterator[str]:
    return (f"  {line}" for line in lines)


def _sound_lines(sound: Sound) -> Iterator[str]:
    yield sound.name
    yield from _fields(sound)
    yield f"Seed: {sound.seed}"
    yield "Hit"
    yield from _indented(_fields(sound.hit))
    for further in sound.hit.further:
        at = written_value(further.at_s, "s")
        yield f"  Further note: {written_value(further.note, 'note')} from {at}"
    yield from _curve("Common pitch curve", sound.pitch, "st")
    for number, layer in enumerate(sound.layers, 1):
        yield f"Layer {number}: {layer.name} ({SOURCE_NAMES[layer.source.kind]})"
        yield from _indented(_layer_lines(sound, layer))
    for bus in sound.buses:
        yield f"Bus: {bus.name}"
        yield from _indented(_bus_lines(sound, bus))
    for send in sound.sends:
        yield f"Send from {part_name(sound, send.source)} to {part_name(sound, send.to)}"
        yield from _indented(_fields(send))
    yield "Main output"
    yield from _indented(_fields(sound.main))
    for part in sound.main.chain:
        yield from _indented(_processor_lines(part))
    if sound.playing.way != "poly":
        yield "Several notes"
        yield from _indented(_fields(sound.playing))
    if sound.pattern.order != "off":
        yield "Pattern of notes"
        yield from _indented(_fields(sound.pattern))
    for mover in sound.movers:
        yield f"Mover: {mover.name} ({MOVER_NAMES[mover.kind]})"
        yield from _indented(_mover_lines(sound, mover))
    for name in curve_movers(sound):
        if any(link.mover == name for link in sound.links):
            yield f"Mover: {part_name(sound, name)}"
            yield from _indented(_link_lines(sound, name))


def _bus_lines(sound: Sound, bus: Bus) -> Iterator[str]:
    for line in _fields(bus):
        # Nothing is split at a crossover that is not there.
        if bus.split or not line.startswith(("Crossover", "Low part", "High part")):
            yield line
    yield f"Output: {part_name(sound, bus.to)}"
    for words, chain in (("Low part", bus.low_chain), ("High part", bus.chain)):
        if bus.split and chain:
            yield f"{words}'s chain"
        if bus.split or chain is bus.chain:
            for part in chain:
                yield from _processor_lines(part)


def _mover_lines(sound: Sound, mover: Mover) -> Iterator[str]:
    yield from _fields(mover, except_names=("name",))
    match mover.kind:
        case "curve":
            yield from _curve("Curve", mover.curve, "")
        case "steps":
            yield "Steps: " + ", ".join(_plain(value, 3) for value in mover.values)
        case "follower":
            if mover.layer is not None:
                yield f"Follows: {next(one.name for one in sound.layers if one.id == mover.layer)}"
            else:
                yield "Pulses: " + ", ".join(_plain(value, 3) for value in mover.pulses)
    yield from _link_lines(sound, mover.id)


def _link_lines(sound: Sound, mover: str) -> Iterator[str]:
    targets = targets_of(sound)
    for link in sound.links:
        if link.mover != mover:
            continue
        parameter = targets[link.target]
        part = part_name(sound, link.target.split(".", 1)[0])
        once = "" if parameter.followed else ", once a hit"
        bend = f", bend {_plain(link.bend, 2)}" if link.bend else ""
        scaled = f", scaled by {part_name(sound, link.scaled_by)}" if link.scaled_by else ""
        yield (
            f"Moves {part}, {_mode(link.target)}{parameter.label}: "
            f"{_amount(link, parameter)}{bend}{scaled}{once}"
        )


def _amount(link: Link, parameter: Parameter) -> str:
    if link.law == "amplitude":
        return f"{written_value(link.amount, 'percent')} as amplitude"
    unit = parameter.unit if link.law == "linear" else moved_unit(parameter)
    return written_value(link.amount, cast(Unit, unit))


def _mode(target: str) -> str:
    """Which mode of a body a target belongs to, where it does."""
    inner = target.split(".")[-2]
    number = inner.removeprefix("mode")
    return f"mode {number}, " if number.isdigit() else ""


_ENDS = {"main": "Main", "output": "Output", "none": "None", COMMON: "Common pitch"}


def part_name(sound: Sound, identifier: str) -> str:
    """What a part is called; ``layer.level`` is the level curve of a layer."""
    owner, _, curve = identifier.partition(".")
    names = _ENDS | {layer.id: layer.name for layer in sound.layers}
    for layer in sound.layers:
        names |= {one.id: f"{layer.name} modulator" for one in layer.modulators}
    names |= {mover.id: mover.name for mover in sound.movers}
    names |= {bus.id: bus.name for bus in sound.buses}
    for place in chain_places(sound):
        for part in place.chain:
            names[part.id] = _kind_words(part)
            names |= {branch.id: branch.name for branch in branches_of(part)}
    names |= {send.id: f"Send to {names[send.to]}" for send in sound.sends}
    return f"{names[owner]} {curve} curve" if curve and owner != COMMON else names[owner]


def _layer_lines(sound: Sound, layer: Layer) -> Iterator[str]:
    yield from _fields(layer, except_names=("pigment",))
    if layer.to != "main":
        yield f"Output: {part_name(sound, layer.to)}"
    for modulator in layer.modulators:
        yield f"Modulated by the layer {part_name(sound, modulator.by)}"
        yield from _indented(_fields(modulator))
    yield "Source"
    source = layer.source
    yield from _indented(_fields(source))
    yield from _indented(_source_parts(source))
    yield from _curve("Level curve", layer.level, "percent")
    if isinstance(source, PitchedSource):
        yield from _curve("Pitch curve", layer.pitch, "st")
    for part in layer.chain:
        yield from _processor_lines(part)


def _source_parts(source: BaseModel) -> Iterator[str]:
    for name, model in source:
        if not isinstance(model, BaseModel):
            continue
        if name == "partials" and getattr(source, "cycle", "") != "partials":
            continue
        if name == "unison" and getattr(model, "voices", 1) == 1:
            continue
        yield name.capitalize()
        yield from _indented(_fields(model))
        if name == "partials":
            levels = model.model_dump()["amplitudes"]
            written = [f"{k}: {written_value(a, 'percent')}" for k, a in enumerate(levels, 1) if a]
            yield "  Amplitudes: " + ", ".join(written)
    if isinstance(source, StruckSource):
        yield from _body_parts(source)
    if isinstance(source, SampleSource) and source.recording:
        yield f"Recording: {source.name or source.recording[:8]}"


def _body_parts(source: StruckSource) -> Iterator[str]:
    if source.body == "set":
        yield "Tuned set: " + ", ".join(written_value(st, "st") for st in source.set_st)
    for change in source.changes:
        words = ", ".join(one for one in _fields(change) if one)
        yield f"Mode {change.mode}: {words}"


def _processor_lines(part: Processor) -> Iterator[str]:
    yield f"{_kind_words(part)} ({'on' if part.on else 'off'})"
    yield from _indented(_fields(part, except_names=("on",)))
    for name, inner in part:
        if isinstance(inner, BaseModel) and getattr(inner, "on", True):
            yield f"  {name.replace('_', ' ').capitalize()}"
            yield from _indented(_indented(_fields(inner, except_names=("on",))))
    for branch in branches_of(part):
        yield f"  Branch: {branch.name}"
        yield from _indented(_indented(_fields(branch)))
        for inside in branch.chain:
            yield from _indented(_indented(_processor_lines(inside)))
    if part.kind == "drive" and part.shape == "drawn":
        points = ", ".join(f"{_plain(one.x, 3)}: {_plain(one.y, 3)}" for one in part.drawn)
        yield f"  Transfer curve: {points}"
    if part.kind == "resonators" and part.tuning == "own":
        yield "  Custom tuning: " + ", ".join(written_value(st, "st") for st in part.own_st)
    if part.kind in ("compressor", "gate") and part.side is not None:
        yield f"  Sidechain source: layer {part.side}"
    if part.kind == "convolution" and part.impulse == "imported" and part.recording:
        yield f"  Recording: {part.recording[:8]}"


def _kind_words(part: Processor) -> str:
    return processor_name(part.kind)


def _fields(part: BaseModel, except_names: tuple[str, ...] = ()) -> Iterator[str]:
    values = dict(part)
    for choice in choices_of(type(part)):
        if choice["name"] in except_names:
            continue
        value = values[choice["name"]]
        word = ("on" if value else "off") if isinstance(value, bool) else str(value)
        yield f"{choice['label']}: {word.replace('_', '-')}"
    for parameter in declared_parameters(type(part)):
        text = _with_beats(part, parameter.name, parameter.unit)
        if parameter.name == "shape":
            text += f" (nearest {_SHAPES[round(float(values['shape']))]})"
        yield f"{parameter.label}: {text}"


def _with_beats(part: BaseModel, name: str, unit: Unit) -> str:
    """A number with its unit; of a time that is kept as beats, those too."""
    text = written_value(float(getattr(part, name)), unit)
    beats = getattr(part, "in_beats", {}).get(name)
    if beats is None:
        return text
    more = getattr(part, "and_seconds", {}).get(name, 0.0)
    sign = "+" if more > 0.0 else "−"
    besides = f" {sign} {written_value(abs(more), unit)}" if more else ""
    return f"{written_value(beats, 'beat')}{besides} ({text})"


def _curve(title: str, curve: Curve, unit: Unit) -> Iterator[str]:
    points = (*curve.points, *curve.release)
    if len(points) == 1 and points[0].value == 0.0:
        return
    yield title
    for words, part in (("", curve.points), ("after the hold ", curve.release)):
        for point in part:
            value = written_value(point.value, unit)
            if unit == "percent" and point.value > 0.0:
                value += f" ({gain_to_db(point.value):.1f} dB)"
            bend = f", bend {_plain(point.bend, 2)}" if point.bend else ""
            yield f"  {words}{_with_beats(point, 'time_s', 's')}: {value}{bend}"
    if curve.loop is not None:
        yield f"  loops from point {curve.loop.start + 1} to {curve.loop.end + 1} while held"
