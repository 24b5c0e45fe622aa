"""When a sound ends: how long layers, chains and routes may sound on."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import partial
from typing import Any, cast

from nest_crate.core.engine.context import Longer, TailFacts
from nest_crate.core.engine.effects import PROCESSORS
from nest_crate.core.engine.moved import moved_furthest
from nest_crate.core.engine.notes import NOTE_FADE_S, PlayedNote, played_notes
from nest_crate.core.engine.settings import MAX_LENGTH_S, RenderSettings
from nest_crate.core.engine.settled_values import put_numbers
from nest_crate.core.engine.sources.ends import source_end_s
from nest_crate.core.sound import Bus, Hit, Layer, Processor, Sound
from nest_crate.core.sound.chains import branches_of
from nest_crate.core.sound.movers import Link
from nest_crate.core.sound.parameters import declared_parameters
from nest_crate.core.sound.routes import sends_from

__all__ = [
    "SILENCE_HOLD_S",
    "layer_end_s",
    "note_frames",
    "planned_frames",
    "sounding_layers",
]

# What a split lets ring on, in periods of its frequency.
_SPLIT_PERIODS = 4.0

# A render ends once the output has stayed silent this long.
SILENCE_HOLD_S = 0.05


def sounding_layers(sound: Sound) -> list[Layer]:
    """The layers that are heard: none that is muted, only the solo ones where there are any."""
    soloed = any(layer.solo for layer in sound.layers)
    return [layer for layer in sound.layers if not layer.mute and (layer.solo or not soloed)]


@dataclass(frozen=True)
class NoteRange:
    """The lowest and the highest note of a hit, for what follows the keys."""

    low: int
    high: int


def note_range(notes: list[PlayedNote]) -> NoteRange:
    """All notes of a hit, slides included."""
    every = [one.note for one in notes] + [note for one in notes for _, note in one.line]
    return NoteRange(min(every), max(every))


def _links_to(sound: Sound, target: str) -> list[Link]:
    return [link for link in sound.links if link.target == target]


def _reach(sound: Sound, part: Processor, name: str) -> float:
    """How far links may move a number to either side."""
    return sum(abs(link.amount) for link in _links_to(sound, f"{part.id}.{name}"))


def _furthest(sound: Sound, part: Processor, notes: NoteRange) -> Processor:
    """A processor where movement and notes take it to its longest tail: each number that its kind
    declares as far as links may move it there."""
    changed: dict[str, float] = {}
    targets = {link.target for link in sound.links}
    for path, end in PROCESSORS[part.kind].rings.items():
        if f"{part.id}.{path}" in targets:
            changed[path] = _moved_to(sound, part, path, end)
    moved: Any = put_numbers(part, changed) if changed else part
    standing = PROCESSORS[part.kind].standing
    if standing is not None:
        reach = partial(_reach, sound, part)
        moved = standing(moved, TailFacts(part, sound.tempo_bpm, notes.low, notes.high, reach))
    return cast(Processor, moved)


def _moved_to(sound: Sound, part: Processor, path: str, end: Longer) -> float:
    """The number at a path, as far towards an end as links may move it within its range."""
    *inner, name = path.split(".")
    owner: Any = part
    for one in inner:
        owner = getattr(owner, one)
    declared = next(one for one in declared_parameters(owner.__class__) if one.name == name)
    base = float(getattr(owner, name))
    up = not (end == "down" or (end == "far" and base < 0.0))
    return moved_furthest(_links_to(sound, f"{part.id}.{path}"), declared, base, up=up)


def chain_end_s(
    sound: Sound, chain: tuple[Processor, ...], notes: NoteRange, end_s: float
) -> float:
    """When a chain has fallen silent whose input does so at ``end_s``: each processor's tail
    later, and no later than a fade lets it."""
    for part in chain:
        if part.on:
            work = PROCESSORS[part.kind]
            own_s = end_s + work.tail_s(_furthest(sound, part, notes))
            for branch in branches_of(part):
                own_s = max(own_s, chain_end_s(sound, branch.chain, notes, end_s))
            end_s = own_s
            if work.ends_at_s is not None:
                end_s = min(end_s, work.ends_at_s(part))
            if part.band != "all":
                end_s += _SPLIT_PERIODS / part.split_hz
    return end_s


def _after(
    sound: Sound, owner: str, to: str, notes: NoteRange, end_s: float, *, apart: bool = False
) -> float:
    """When all has fallen silent that a layer, a bus or main leads to, which itself does so at
    ``end_s``; of buses that hear each note apart alone where asked.

    A send from within its chain may end earlier or, before a fade, later: the signal decides.
    """
    ends = [end_s] if apart or to == "output" else []
    for way in (to, *(send.to for send in sends_from(sound, owner))):
        bus = next((one for one in sound.buses if one.id == way), None)
        if bus is not None and (bus.each_note or not apart):
            own_s = _bus_end_s(sound, bus, notes, end_s)
            ends.append(_after(sound, bus.id, bus.to, notes, own_s, apart=apart))
        elif way == "main" and not apart:
            own_s = chain_end_s(sound, sound.main.chain, notes, end_s)
            ends.append(_after(sound, "main", "output", notes, own_s))
    return max(ends, default=0.0)


def _bus_end_s(sound: Sound, bus: Bus, notes: NoteRange, end_s: float) -> float:
    """When a bus has fallen silent whose input does so at ``end_s``."""
    chains = (bus.chain, bus.low_chain) if bus.split else (bus.chain,)
    end_s = max(chain_end_s(sound, chain, notes, end_s) for chain in chains)
    if bus.split:
        # The crossover's own ring: two Butterworth filters of Q 0.707 in a row.
        end_s += 4.0 / (bus.crossover_hz * 2.0 ** -_bus_reach(sound, bus.id))
    return end_s


def _bus_reach(sound: Sound, bus: str) -> float:
    """Octaves by which links may move a bus's crossover."""
    return min(sum(abs(link.amount) for link in _links_to(sound, f"{bus}.crossover_hz")), 10.0)


def layer_end_s(
    sound: Sound, layer: Layer, hold_s: float, notes: NoteRange, settings: RenderSettings
) -> float:
    """When a layer with its own chain has fallen silent, or infinity where it never does."""
    held_s = max(0.0, hold_s - layer.delay_s)
    end_s = layer.delay_s + layer.level.end_s(held_s)
    if layer.level.final_value() > 0.0:
        end_s = math.inf
    end_s = min(end_s, layer.delay_s + source_end_s(sound, layer, notes, settings))
    return chain_end_s(sound, layer.chain, notes, end_s)


def _note_end_s(
    sound: Sound, layer: Layer, played: PlayedNote, notes: NoteRange, settings: RenderSettings
) -> float:
    """When a layer has fallen silent after a note, from the hit's start."""
    own_s = played.start_s + layer_end_s(sound, layer, played.hold_s, notes, settings)
    return min(own_s, played.ends_s + NOTE_FADE_S)


def planned_frames(
    sound: Sound, hit: Hit, settings: RenderSettings, *, longer: int = 0
) -> tuple[int, bool]:
    """Frames to compute, and whether the sound is expected to end by itself within them.

    ``longer`` doubles the length so many times, for what turned out to sound on.
    """
    played = played_notes(sound, hit)
    notes = note_range(played)
    ends = [
        _after(sound, layer.id, layer.to, notes, _note_end_s(sound, layer, one, notes, settings))
        for layer in sounding_layers(sound)
        for one in played
    ]
    natural_s = (max(ends, default=0.0) + 2.0 * SILENCE_HOLD_S) * 2.0**longer
    if settings.length_s is not None:
        return max(1, round(settings.length_s * settings.sample_rate)), True
    ends_by_itself = natural_s <= MAX_LENGTH_S
    planned_s = min(_rounded_s(min(natural_s, MAX_LENGTH_S)), MAX_LENGTH_S)
    return math.ceil(planned_s * settings.sample_rate), ends_by_itself


def _rounded_s(length_s: float) -> float:
    """A length rounded up to an eighth of an octave.

    Every stage fills the whole length; so one that is changed a little, and rings a little longer,
    leaves all that comes before it as it was remembered.
    """
    return float(2.0 ** (math.ceil(8.0 * math.log2(length_s) - 1e-9) / 8.0))


def note_frames(
    sound: Sound,
    played: PlayedNote,
    start: int,
    frames: int,
    settings: RenderSettings,
    *,
    longer: int = 0,
) -> int:
    """Frames that one note of several needs from its own start on; ``longer`` as above."""
    notes = note_range([played])
    ends = [
        _after(
            sound,
            layer.id,
            layer.to,
            notes,
            layer_end_s(sound, layer, played.hold_s, notes, settings),
            apart=True,
        )
        for layer in sound.layers
    ]
    end_s = (max(ends, default=-SILENCE_HOLD_S) + SILENCE_HOLD_S) * 2.0**longer
    end_s = min(end_s, played.ends_s - played.start_s + 2.0 * NOTE_FADE_S)
    if math.isinf(end_s):
        return frames - start
    return max(1, min(frames - start, math.ceil(end_s * settings.sample_rate)))
