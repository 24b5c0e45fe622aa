"""From a sound and a hit to a plan: the stages, and how many frames they fill."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from nest_crate.core.dsp.curves import curve_signal
from nest_crate.core.dsp.signals import Signal, pan_signal, sum_signals
from nest_crate.core.engine.processing import PROCESSORS, process
from nest_crate.core.engine.settings import MAX_LENGTH_S, RenderSettings
from nest_crate.core.engine.sources import SOURCES, SourceContext
from nest_crate.core.engine.stages import Stage, stage
from nest_crate.core.sound import Hit, Layer, Processor, Sound
from nest_crate.core.units import db_to_gain

__all__ = ["SILENCE_HOLD_S", "Plan", "make_plan", "sounding_layers", "source_context"]

# A render ends once the output has stayed silent this long.
SILENCE_HOLD_S = 0.05

# Velocity that plays a layer at its level as set, and what full sense makes of a tenth of it.
_VELOCITY_AT_LEVEL = 100.0
_VELOCITY_RANGE_DB = 40.0


@dataclass(frozen=True)
class Plan:
    """Stages in the order of the sound: each layer's source, its level, the layer itself and
    ``taps`` by id, ``output`` last.

    ``ends_by_itself`` is False where a layer never falls silent.
    """

    output: Stage
    sources: dict[str, Stage]
    levels: dict[str, Stage]
    layers: dict[str, Stage]
    taps: dict[str, Stage]
    frames: int
    ends_by_itself: bool


def sounding_layers(sound: Sound) -> list[Layer]:
    """The layers that are heard: none that is muted, only the solo ones where there are any."""
    soloed = any(layer.solo for layer in sound.layers)
    return [layer for layer in sound.layers if not layer.mute and (layer.solo or not soloed)]


def velocity_gain(velocity: int, sense: float) -> float:
    """Amplitude factor of a velocity; velocity 100 is 1."""
    level_db = sense * _VELOCITY_RANGE_DB * math.log10(velocity / _VELOCITY_AT_LEVEL)
    return float(10.0 ** (level_db / 20.0))


def chain_tail_s(chain: tuple[Processor, ...]) -> float:
    """Seconds that a chain may sound on after its input has ended."""
    return sum(PROCESSORS[part.kind].tail_s(part) for part in chain if part.on)


def layer_end_s(layer: Layer, hold_s: float) -> float:
    """When a layer has fallen silent, or infinity where it never does."""
    if layer.level.final_value() > 0.0:
        return math.inf
    held_s = max(0.0, hold_s - layer.delay_s)
    return layer.delay_s + layer.level.end_s(held_s) + chain_tail_s(layer.chain)


def planned_frames(sound: Sound, hit: Hit, settings: RenderSettings) -> tuple[int, bool]:
    """Frames to compute, and whether the sound ends by itself within them."""
    ends = [layer_end_s(layer, hit.hold_s) for layer in sounding_layers(sound)]
    natural_s = max(ends, default=0.0) + chain_tail_s(sound.main.chain) + 2.0 * SILENCE_HOLD_S
    if settings.length_s is not None:
        return max(1, round(settings.length_s * settings.sample_rate)), True
    ends_by_itself = natural_s <= MAX_LENGTH_S
    return math.ceil(min(natural_s, MAX_LENGTH_S) * settings.sample_rate), ends_by_itself


def make_plan(sound: Sound, hit: Hit, settings: RenderSettings) -> Plan:
    """The stages from sources to the main output."""
    frames, ends_by_itself = planned_frames(sound, hit, settings)
    taps: dict[str, Stage] = {}
    layers: dict[str, Stage] = {}
    sources: dict[str, Stage] = {}
    levels: dict[str, Stage] = {}
    for layer in sounding_layers(sound):
        source, shaped = _layer_stages(sound, layer, hit, settings, frames)
        sources[layer.id], levels[layer.id] = source, shaped
        layers[layer.id] = taps[layer.id] = _chain_stages(layer.chain, shaped, settings, taps)
    mixed = stage(
        "main sum",
        {"frames": frames},
        lambda inputs: sum_signals(inputs, frames),
        tuple(layers.values()),
    )
    chained = _chain_stages(sound.main.chain, mixed, settings, taps)
    gain = db_to_gain(sound.main.level_db)
    output = stage("main level", {"gain": gain}, lambda inputs: inputs[0] * gain, (chained,))
    return Plan(output, sources, levels, layers, taps, frames, ends_by_itself)


def source_context(
    sound: Sound, layer: Layer, hit: Hit, settings: RenderSettings, frames: int
) -> SourceContext:
    """What a layer's source needs to know in a render of ``frames`` frames."""
    start = min(frames, round(layer.delay_s * settings.sample_rate))
    return SourceContext(
        layer=layer,
        note=hit.note,
        hit_number=hit.number,
        seed=sound.seed,
        hold_s=max(0.0, hit.hold_s - layer.delay_s),
        frames=frames - start,
        settings=settings,
        common_pitch=sound.pitch if layer.follows_pitch else None,
        start=start,
        hit_hold_s=hit.hold_s,
    )


def _layer_stages(
    sound: Sound, layer: Layer, hit: Hit, settings: RenderSettings, frames: int
) -> tuple[Stage, Stage]:
    """A layer's source, and the same with its level curve, velocity and pan."""
    context = source_context(sound, layer, hit, settings, frames)
    start, held_s = context.start, context.hold_s
    common = context.common_pitch if layer.source.kind == "tone" else None
    span = {
        "frames": frames - start,
        "hold_s": held_s,
        "rate": settings.sample_rate,
        "quality": settings.quality,
    }
    source = stage(
        f"{layer.id} source",
        {
            **span,
            "id": layer.id,
            "seed": sound.seed,
            "source": layer.source.model_dump(),
            "pitch": layer.pitch.model_dump(),
            "common": common.model_dump() if common else None,
            "start": start if common else 0,
            "hit_hold_s": hit.hold_s if common else 0.0,
            "note": hit.note,
            "number": hit.number,
        },
        lambda inputs: SOURCES[layer.source.kind](context, layer.source),
    )
    gain = db_to_gain(layer.level_db) * velocity_gain(hit.velocity, layer.velocity_sense)

    def shape_level(inputs: list[Signal]) -> Signal:
        level = gain * curve_signal(
            layer.level,
            frames=frames - start,
            sample_rate=settings.sample_rate,
            hold_s=held_s,
        )
        placed = np.zeros((inputs[0].shape[0], frames))
        np.multiply(inputs[0], level, out=placed[:, start:])
        return pan_signal(placed, layer.pan)

    depends_on = {
        **span,
        "start": start,
        "gain": gain,
        "pan": layer.pan,
        "level": layer.level.model_dump(),
    }
    return source, stage(f"{layer.id} level", depends_on, shape_level, (source,))


def _chain_stages(
    chain: tuple[Processor, ...], before: Stage, settings: RenderSettings, taps: dict[str, Stage]
) -> Stage:
    for part in chain:
        if part.on:
            before = _processor_stage(part, before, settings)
        taps[part.id] = before
    return before


def _processor_stage(part: Processor, before: Stage, settings: RenderSettings) -> Stage:
    depends_on = {
        "processor": part.model_dump(exclude={"id"}),
        "rate": settings.sample_rate,
        "quality": settings.quality,
    }
    return stage(
        f"{part.id} {part.kind}",
        depends_on,
        lambda inputs: process(inputs[0], part, settings),
        (before,),
    )
