"""When a sound ends: how long layers, chains and routes may sound on."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from nest_crate.core.engine.context import FOLLOWED_FROM
from nest_crate.core.engine.effects import PROCESSORS
from nest_crate.core.engine.notes import NOTE_FADE_S, PlayedNote, played_notes
from nest_crate.core.engine.settings import MAX_LENGTH_S, RenderSettings
from nest_crate.core.engine.sources.ends import source_end_s
from nest_crate.core.sound import Hit, Layer, Processor, Sound
from nest_crate.core.sound.routes import way_from
from nest_crate.core.units import note_to_hz

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


# What makes a processor's tail longer when it is moved: downwards, and upwards.
_LONGER_BELOW = {
    "filter": ("cutoff_hz",),
    "comb": ("frequency_hz",),
    "formant": ("first_hz", "second_hz"),
    "phaser": ("centre_hz",),
}
_LONGER_ABOVE = {
    "filter": ("resonance",),
    "comb": ("feedback",),
    "formant": ("sharpness",),
    "delay": ("feedback", "time_s", "wobble_s"),
    "pitch_delay": ("feedback",),
    "chorus": ("feedback",),
    "flanger": ("feedback",),
    "phaser": ("feedback", "depth_oct"),
    "shimmer": ("amount",),
}
_MOST = {"feedback": 0.999, "amount": 0.9, "time_s": 5.0, "wobble_s": 0.02, "depth_oct": 4.0}


@dataclass(frozen=True)
class NoteRange:
    """The lowest and the highest note of a hit, for what follows the keys."""

    low: int
    high: int


def note_range(notes: list[PlayedNote]) -> NoteRange:
    """All notes of a hit, slides included."""
    every = [one.note for one in notes] + [note for one in notes for _, note in one.line]
    return NoteRange(min(every), max(every))


def _reach(sound: Sound, part: Processor, name: str) -> float:
    """How far links may move a number to either side."""
    target = f"{part.id}.{name}"
    return sum(abs(link.amount) for link in sound.links if link.target == target)


def _furthest(sound: Sound, part: Processor, notes: NoteRange) -> Processor:
    """A processor where movement and notes take it to its longest tail: lowest cutoff, most
    resonance."""
    changed: dict[str, Any] = {}
    follow = float(getattr(part, "key_follow", 0.0))
    spread = _reach(sound, part, "key_follow") if hasattr(part, "key_follow") else 0.0
    follows = [
        2.0 ** (share * (note - FOLLOWED_FROM) / 12.0)
        for share in (follow - spread, follow + spread)
        for note in (notes.low, notes.high)
    ]
    for name in _LONGER_BELOW.get(part.kind, ()):
        lowest = float(getattr(part, name)) * 2.0 ** -_reach(sound, part, name)
        if part.kind == "formant":
            lowest *= 2.0 ** (-_reach(sound, part, "shift_st") / 12.0)
        changed[name] = max(1.0, lowest * min(follows))
    for name in _LONGER_ABOVE.get(part.kind, ()):
        reach, base = _reach(sound, part, name), float(getattr(part, name))
        changed[name] = min(_MOST.get(name, 40.0), abs(base) + reach)
    if part.kind in ("delay", "pitch_delay") and part.sync:
        changed |= {"sync": False, "time_s": 60.0 / sound.tempo_bpm * part.beats}
    if part.kind == "comb" and part.follows_note:
        moved_st = part.transpose_st - _reach(sound, part, "transpose_st")
        octaves = _reach(sound, part, "frequency_hz")
        changed["frequency_hz"] = max(10.0, note_to_hz(notes.low + moved_st) * 2.0**-octaves)
    return part.model_copy(update=changed)


def chain_end_s(
    sound: Sound, chain: tuple[Processor, ...], notes: NoteRange, end_s: float
) -> float:
    """When a chain has fallen silent whose input does so at ``end_s``: each processor's tail
    later, and no later than a fade lets it."""
    for part in chain:
        if part.on:
            end_s += PROCESSORS[part.kind].tail_s(_furthest(sound, part, notes))
            if part.kind == "fade" and part.mix == 1.0 and part.band == "all":
                end_s = min(end_s, part.end_s)
            if part.band != "all":
                end_s += _SPLIT_PERIODS / part.split_hz
    return end_s


def _route_end_s(sound: Sound, to: str, notes: NoteRange, end_s: float) -> float:
    """When the buses and the main chain behind a layer have fallen silent."""
    buses = way_from(sound, to)
    for bus in buses:
        chains = (bus.chain, bus.low_chain) if bus.split else (bus.chain,)
        end_s = max(chain_end_s(sound, chain, notes, end_s) for chain in chains)
        if bus.split:
            # The crossover's own ring: two Butterworth filters of Q 0.707 in a row.
            end_s += 4.0 / (bus.crossover_hz * 2.0 ** -_bus_reach(sound, bus.id))
    last = buses[-1].to if buses else to
    return chain_end_s(sound, sound.main.chain, notes, end_s) if last == "main" else end_s


def _bus_reach(sound: Sound, bus: str) -> float:
    """Octaves by which links may move a bus's crossover."""
    target = f"{bus}.crossover_hz"
    octaves = sum(abs(link.amount) for link in sound.links if link.target == target)
    return min(octaves, 10.0)


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


def planned_frames(sound: Sound, hit: Hit, settings: RenderSettings) -> tuple[int, bool]:
    """Frames to compute, and whether the sound ends by itself within them."""
    played = played_notes(sound, hit)
    notes = note_range(played)
    ends = [
        _route_end_s(sound, layer.to, notes, _note_end_s(sound, layer, one, notes, settings))
        for layer in sounding_layers(sound)
        for one in played
    ]
    natural_s = max(ends, default=0.0) + 2.0 * SILENCE_HOLD_S
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
    sound: Sound, played: PlayedNote, start: int, frames: int, settings: RenderSettings
) -> int:
    """Frames that one note of several needs from its own start on."""
    notes = note_range([played])
    ends = [
        layer_end_s(sound, layer, played.hold_s, notes, settings) + SILENCE_HOLD_S
        for layer in sound.layers
    ]
    end_s = min(max(ends, default=0.0), played.ends_s - played.start_s + 2.0 * NOTE_FADE_S)
    if math.isinf(end_s):
        return frames - start
    return max(1, min(frames - start, math.ceil(end_s * settings.sample_rate)))
