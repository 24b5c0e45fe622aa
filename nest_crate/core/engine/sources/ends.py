"""When a source falls silent of itself, whatever its level curve does."""

from __future__ import annotations

import math
from typing import Protocol

from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.sources.context import base_pitch_hz, own_pitch_hz
from nest_crate.core.engine.sources.sampled import played_span
from nest_crate.core.engine.sources.struck import struck_end_s
from nest_crate.core.sound import Curve, Layer, SampleSource, Sound, StruckSource

__all__ = ["source_end_s"]

# Rounding, and what the reading filters reach.
_MORE_S = 0.01
# Octaves by which a pitch may fall before the end is left to the level curve.
_FURTHEST_ST = 120.0


class _Notes(Protocol):
    @property
    def low(self) -> int: ...


def source_end_s(sound: Sound, layer: Layer, notes: _Notes, settings: RenderSettings) -> float:
    """Seconds from a layer's start after which its source is silent; infinity where it sounds on.

    Of a sample the lowest pitch that curves, slides and links may take it to decides.
    """
    source = layer.source
    if isinstance(source, StruckSource):
        return struck_end_s(source)
    if not isinstance(source, SampleSource):
        return math.inf
    if source.loop != "off":
        return math.inf
    span = played_span(source, settings)
    if span is None:
        return 0.0
    length_s = (span[1] - span[0]) / span[2]
    if source.reading == "grains":
        moved = any(link.target == f"{layer.id}.source.speed" for link in sound.links)
        if moved or source.speed <= 0.0:
            return math.inf
        return float(length_s / source.speed + source.grain_s + source.spray_s + _MORE_S)
    lowest = base_pitch_hz(source, notes.low) / own_pitch_hz(source)
    falls_st = _falls_st(sound, layer, source)
    return float(length_s / (lowest * 2.0 ** (-falls_st / 12.0)) + _MORE_S)


def _falls_st(sound: Sound, layer: Layer, source: SampleSource) -> float:
    """Semitones by which a sample's pitch may lie below its base."""
    falls = max(0.0, -_lowest(layer.pitch)) + source.vibrato_st
    if layer.follows_pitch:
        falls += max(0.0, -_lowest(sound.pitch))
    if source.unison.voices > 1:
        falls += source.unison.detune_cent / 100.0
    each = {
        "pitch_st": 1.0,
        "source.transpose_st": 1.0,
        "source.fine_cent": 0.01,
        "source.vibrato_st": 1.0,
        "source.ratio": 12.0,
        "source.unison.detune_cent": 0.01,
    }
    for link in sound.links:
        part, _, path = link.target.partition(".")
        if part == layer.id and path in each:
            falls += abs(link.amount) * each[path]
    return min(falls, _FURTHEST_ST)


def _lowest(curve: Curve) -> float:
    return min(point.value for point in (*curve.points, *curve.release))
