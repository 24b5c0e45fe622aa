"""A closer look at one hit: the pitch each layer reaches, how long it rings, and how the sound
goes for a tap and for a long hold."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.measures.reached_pitch import landing_hz, reached_pitch_hz, rests
from nest_crate.core.analysis.measures.ring_time import Ringing, ringing
from nest_crate.core.analysis.pictures.outlines import Outline, outline
from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.dsp.filters.crossovers import crossover_parts
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import Rendering, RenderSettings, StageMemory, render, render_with_trace
from nest_crate.core.engine.mixer import hit_planner
from nest_crate.core.engine.settings import EndReason
from nest_crate.core.engine.settled_values import settled
from nest_crate.core.engine.sources import base_pitch_hz
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.engine.traces import traces
from nest_crate.core.sound import Hit, Layer, Sound, ToneSource
from nest_crate.core.units import SILENCE_DB

__all__ = ["Details", "HoldOutline", "LayerDetails", "details"]

# Bands whose level is followed: what carries a room, the body, the presence, the air.
BAND_EDGES_HZ = (120.0, 500.0, 2000.0)
_BAND_COLUMNS = 60
_TRACK_POINTS = 160
_OUTLINE_COLUMNS = 200
TAP_S = 0.03
# A long hold is this many times the sound's own, and at least so long.
_LONG_TIMES = 4.0
_LONG_S = 3.0
_LONGEST_S = 20.0


@dataclass(frozen=True)
class LayerDetails:
    """``track`` holds (time in s, semitones from the layer's own pitch) where the pitch is clear;
    ``landing_hz`` where it settles or ends, ``rests`` whether it settles, ``base_hz`` the layer's
    own pitch (None for a noise)."""

    track: list[tuple[float, float]]
    base_hz: float | None
    landing_hz: float | None
    ringing: Ringing | None
    rests: bool = False
    held_st: float | None = None
    """How far from its own pitch a tone stands at the end of the hold."""
    bands_db: NDArray[np.float64] | None = None
    """Peak level over time in each of ``BAND_EDGES_HZ``'s bands, shape (bands, columns)."""


@dataclass(frozen=True)
class HoldOutline:
    """How the sound goes when held for ``hold_s``."""

    name: str
    hold_s: float
    length_s: float
    end_reason: EndReason
    ringing: Ringing | None
    outline: Outline


@dataclass(frozen=True)
class Details:
    layers: dict[str, LayerDetails]
    ringing: Ringing | None
    holds: list[HoldOutline]
    moved: dict[str, NDArray[np.float64]]
    held: dict[str, float]
    """Where each moved target stands at the end of the hold, in its own unit."""
    loudness_lufs: dict[str, float]
    """After each processor that is on, by its id."""


def details(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    *,
    memory: StageMemory | None = None,
    holds: bool = True,
) -> Details:
    """Look closely at a hit of a sound.

    Parameters
    ----------
    holds
        whether a tap and a long hold are rendered too, which takes longer than all else.
    """
    rate = settings.sample_rate
    rendering = render_with_trace(
        sound,
        hit,
        settings,
        memory=memory,
        read={"loudness": lambda after: integrated_loudness_lufs(after, rate)},
    )
    once = settled(sound, hit, settings)
    layers = {layer.id: layer for layer in once.layers if layer.id in rendering.layers}
    looked = {
        key: _layer_details(once, layer, hit, settings, rendering.layers[key])
        for key, layer in layers.items()
    }
    outlines = _hold_outlines(sound, hit, settings, rendering) if holds else []
    moved = traces(sound, hit, settings, memory=memory)
    held = {
        target: float(np.interp(hit.hold_s, trace[:, 0], trace[:, 1]))
        for target, trace in moved.items()
    }
    rang = ringing(rendering.audio.samples, rate)
    return Details(looked, rang, outlines, moved, held, rendering.read["loudness"])


def _hold_outlines(
    sound: Sound, hit: Hit, settings: RenderSettings, rendering: Rendering
) -> list[HoldOutline]:
    """The sound as a tap, as it is set, and as a long hold."""
    long_s = min(_LONGEST_S, max(_LONG_S, _LONG_TIMES * hit.hold_s))
    wanted = (("tap", min(TAP_S, hit.hold_s)), ("as set", hit.hold_s), ("long", long_s))
    holds = []
    for name, hold_s in wanted:
        if hold_s == hit.hold_s and name != "as set":
            continue
        played = hit.model_copy(update={"hold_s": hold_s})
        # Drafts are enough for outlines. Remembered, they would push out what is needed.
        audio = (
            rendering.audio
            if name == "as set"
            else render(sound, played, replace(settings, quality="draft"))
        )
        drawn = outline(audio.samples, _OUTLINE_COLUMNS)
        holds.append(
            HoldOutline(
                name,
                hold_s,
                audio.length_s,
                audio.end_reason,
                ringing(audio.samples, settings.sample_rate),
                drawn,
            )
        )
    return holds


def band_levels_db(signal: Signal, sample_rate: int) -> NDArray[np.float64]:
    """Peak level in each band over time, shape (bands, columns), never below -144 dB."""
    parts, rest = [], signal
    for edge_hz in BAND_EDGES_HZ:
        low, rest = crossover_parts(rest, edge_hz, sample_rate=sample_rate)
        parts.append(low)
    parts.append(rest)
    edges = np.linspace(0, signal.shape[1], _BAND_COLUMNS + 1).round().astype(int)
    starts = np.minimum(edges[:-1], max(0, signal.shape[1] - 1))
    peaks = [np.maximum.reduceat(np.abs(part).max(axis=0), starts) for part in parts]
    return np.asarray(np.maximum(SILENCE_DB, 20.0 * np.log10(np.maximum(peaks, 1e-12))))


def _layer_details(
    sound: Sound, layer: Layer, hit: Hit, settings: RenderSettings, signal: Signal
) -> LayerDetails:
    rang = ringing(signal, settings.sample_rate)
    bands_db = band_levels_db(signal, settings.sample_rate)
    if not isinstance(layer.source, ToneSource):
        return LayerDetails([], None, None, rang, bands_db=bands_db)
    base_hz = base_pitch_hz(layer.source, hit.note)
    if rang is None:
        return LayerDetails([], base_hz, None, rang, bands_db=bands_db)
    expected = _expected_hz(sound, layer, hit, settings, signal.shape[1])
    # As far as it is clearly heard; close together at its start, where the pitch moves most.
    span = np.linspace(0.0, 1.0, _TRACK_POINTS) ** 2
    times_s = layer.delay_s + span * (rang.falls_s[1] - layer.delay_s)
    reached = reached_pitch_hz(signal, expected, settings.sample_rate, times_s)
    track = [
        (float(t), float(12.0 * np.log2(hz / base_hz)))
        for t, hz in zip(times_s, reached, strict=True)
        if np.isfinite(hz)
    ]
    let_go = min(expected.size - 1, round(hit.hold_s * settings.sample_rate))
    held_st = float(12.0 * np.log2(expected[let_go] / base_hz))
    landing = landing_hz(reached)
    return LayerDetails(track, base_hz, landing, rang, rests(reached), held_st, bands_db)


def _expected_hz(
    sound: Sound, layer: Layer, hit: Hit, settings: RenderSettings, frames: int
) -> NDArray[np.float64]:
    """The pitch asked for at each frame of the render; before the layer's start its first one.

    Of several notes the first counts.
    """
    assert isinstance(layer.source, ToneSource)
    whole = hit_planner(sound, hit, settings, frames)
    planner = whole.notes[0] if whole.notes else whole
    pitch_hz = StageRunner(None).result(planner.pitch(layer.id))[0][:frames]
    sounding = np.flatnonzero(pitch_hz > 0.0)
    if sounding.size == 0:
        return np.full(frames, base_pitch_hz(layer.source, hit.note))
    expected = np.full(frames, pitch_hz[-1])
    expected[: pitch_hz.size] = pitch_hz
    expected[: sounding[0]] = pitch_hz[sounding[0]]
    return expected


def layer_landings_hz(
    sound: Sound, hit: Hit, settings: RenderSettings, rendering: Rendering
) -> dict[str, float]:
    """Where each tone layer's pitch settles, by layer id; those that never rest left out."""
    found = {}
    once = settled(sound, hit, settings)
    for layer in once.layers:
        signal = rendering.layers.get(layer.id)
        if signal is not None:
            looked = _layer_details(once, layer, hit, settings, signal)
            if looked.landing_hz is not None and looked.rests:
                found[layer.id] = looked.landing_hz
    return found
