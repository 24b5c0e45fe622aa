"""The tone at work: its voices, and what moves its cycle."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from nest_crate.core.dsp.oscillators.cycles import (
    CycleTables,
    edited_partials,
    shape_tables,
    skewed_partials,
)
from nest_crate.core.dsp.oscillators.feedback import feedback_tone
from nest_crate.core.dsp.oscillators.oscillator import FADE, Voice, tone_signal
from nest_crate.core.dsp.resampling.oversampling import octaves_above
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.sources.context import (
    SourceContext,
    pitch_signal,
    start_phase,
)
from nest_crate.core.engine.sources.voices import unison_sum
from nest_crate.core.sound import ToneSource
from nest_crate.core.sound.sources import PartialSet

__all__ = ["tone_source"]


@lru_cache(maxsize=64)
def _edited_tables(partials: PartialSet, skew: float) -> CycleTables:
    drawn = edited_partials(
        partials.amplitudes,
        partials.phases_deg,
        tilt_db=partials.tilt_db,
        odd_even=partials.odd_even,
        comb=partials.comb,
    )
    return CycleTables(skewed_partials(drawn, skew))


def tone_source(context: SourceContext, source: ToneSource) -> Signal:
    """A tone with all its voices, shape (1 or 2, frames)."""
    phase = start_phase(context, source.phase_deg, source.phase_random)
    phase += _crossing(context, source)
    return unison_sum(
        context,
        source,
        source.unison,
        phase,
        lambda own, pitch_hz, voices: _cycle(own, source, _Reading(pitch_hz, voices)),
    )


# A cycle that begins further from 0 is begun at its crossing.
_BEGINS = 0.02


def _crossing(context: SourceContext, source: ToneSource) -> float:
    """Cycles from phase 0 to the upward crossing that is nearest; 0 where a cycle begins there.

    The edge of an uneven pulse is in its middle at phase 0, which is far from 0.
    """
    if source.cycle != "shape" or not context.frames:
        return 0.0
    rate = context.settings.sample_rate
    hz = float(pitch_signal(context, source)[0, 0])
    tables = shape_tables(source.shape, source.width, source.skew)
    rows, limits_hz = tables.rows(hz, hz, rate)
    # As the reading fades from a row to the sparser one below its limit.
    share = min(1.0, (limits_hz[-1] - hz) / (FADE * limits_hz[-1]))
    cycle = rows[-2][1:-2] + share * (rows[-1][1:-2] - rows[-2][1:-2])
    if abs(cycle[0]) < _BEGINS:
        return 0.0
    reach = cycle.size // 16
    near = np.roll(cycle, reach)[: 2 * reach]
    rises = np.flatnonzero((near[:-1] < 0.0) & (near[1:] >= 0.0))
    if not rises.size:
        return 0.0
    at = int(rises[np.argmin(np.abs(rises - reach))])
    exact = at + near[at] / (near[at] - near[at + 1])
    return float((exact - reach) / cycle.size)


@dataclass(frozen=True)
class _Reading:
    """What reads a cycle: pitch at each frame, the voices, and a phase that is added to all."""

    pitch_hz: Signal
    voices: tuple[Voice, ...]
    phase_cycles: Signal | None = None


def _read(
    context: SourceContext, source: ToneSource, tables: CycleTables, reading: _Reading
) -> Signal:
    """A tone from tables, oversampled where its phase is bent by itself or by another layer."""
    final = context.settings.quality == "final"
    sample_rate = context.settings.sample_rate
    feedback = context.moved_number("feedback", source.feedback)
    bending = (context.phase_cycles, context.frequency_share, context.sync_hz, reading.phase_cycles)
    still = isinstance(feedback, float) and feedback <= 0.0
    if still and all(one is None for one in bending):
        return tone_signal(
            reading.pitch_hz, tables, sample_rate=sample_rate, voices=reading.voices, fine=final
        )
    phases = [one for one in (context.phase_cycles, reading.phase_cycles) if one is not None]
    return feedback_tone(
        reading.pitch_hz,
        tables,
        amount=feedback,
        sample_rate=sample_rate,
        voices=reading.voices,
        octaves=octaves_above(sample_rate, final=final),
        phase_cycles=sum(phases[1:], phases[0]) if phases else None,
        frequency_share=context.frequency_share,
        sync_hz=context.sync_hz,
        sync_share=context.sync_share,
    )


# A moved skew is mixed between tables so far apart.
_SKEW_STEPS = 8


def _between(value: float | Signal, steps: int) -> list[tuple[float, float | Signal]]:
    """Neighbouring places of a moved number, ``steps`` to each 1, and the weight of each."""
    if isinstance(value, float):
        return [(value, 1.0)]
    if value.size == 0:
        return [(0.0, 1.0)]
    scaled = value * steps
    places = range(int(np.floor(scaled.min())), int(np.ceil(scaled.max())) + 1)
    weights = [np.maximum(0.0, 1.0 - np.abs(scaled - place)) for place in places]
    return [
        (place / steps, weight)
        for place, weight in zip(places, weights, strict=True)
        if np.any(weight > 0.0)
    ]


def _cycle(context: SourceContext, source: ToneSource, reading: _Reading) -> Signal:
    """The tone with whatever moves its cycle: moved shapes and skews are moved mixes."""

    def moved(name: str) -> float | Signal:
        return context.moved_number(name, float(getattr(source, name)))

    skew, width = moved("skew"), moved("width")
    if source.cycle == "partials":
        mixes = [
            (_edited_tables(source.partials, at), part) for at, part in _between(skew, _SKEW_STEPS)
        ]
        return _mixed([(_read(context, source, tables, reading), part) for tables, part in mixes])
    shape = moved("shape")
    if isinstance(width, float):
        parts = [
            (_read(context, source, shape_tables(at, width, bent), reading), weight * part)
            for at, weight in _between(shape, 1)
            for bent, part in _between(skew, _SKEW_STEPS)
        ]
        return _mixed(parts)
    # The pulse is made of two sawtooths, whose distance is its width, so that this can move.
    flat = np.full(context.frames, shape) if isinstance(shape, float) else shape
    plain = np.minimum(flat, 2.0)
    share = np.clip(flat - 2.0, 0.0, 1.0)
    parts = [
        (_read(context, source, shape_tables(at, 0.5, bent), reading), weight * part * (1 - share))
        for at, weight in _between(plain, 1)
        for bent, part in _between(skew, _SKEW_STEPS)
    ]
    if np.any(share > 0.0):
        saw = shape_tables(2.0, 0.5)
        late = replace(reading, phase_cycles=-width - 0.5)
        early = replace(reading, phase_cycles=np.full(context.frames, -0.5))
        parts.append((_read(context, source, saw, late), share))
        parts.append((_read(context, source, saw, early), -share))
    return _mixed(parts)


def _mixed(parts: list[tuple[Signal, float | Signal]]) -> Signal:
    if len(parts) == 1 and isinstance(parts[0][1], float):
        return parts[0][0]
    total = np.zeros_like(parts[0][0])
    for signal, weight in parts:
        total += signal * weight
    return total
