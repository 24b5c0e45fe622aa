"""A closer look at one processor: what goes in, what comes out, and what it does meanwhile."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.measures.difference import difference
from nest_crate.core.analysis.measures.spectra import (
    Resonance,
    band_middles_hz,
    band_spectrum_db,
    resonances,
)
from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs, true_peak_db
from nest_crate.core.dsp.dynamics.transients import transient_db
from nest_crate.core.dsp.util.signals import Signal, peak
from nest_crate.core.engine import Audio, RenderSettings, StageMemory
from nest_crate.core.engine.ends import planned_frames, sounding_layers
from nest_crate.core.engine.mixer import hit_planner
from nest_crate.core.engine.settled_values import settled
from nest_crate.core.engine.stages import Stage, StageRunner
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.units import SILENCE_DB, gain_to_db

__all__ = ["GainCurve", "ProcessorLook", "StepFigures", "look_at_processor"]

_GAIN_COLUMNS = 300
_DEEPEST_DB = -96.0
_LOW_HZ = 150.0
# What comes later than this after the loudest moment is tail.
_TAIL_S = 0.25


@dataclass(frozen=True)
class StepFigures:
    """Levels at one place of the path; ``transient_db`` None where there is no hit to tell."""

    peak_db: float
    true_peak_db: float
    loudness_lufs: float
    transient_db: float | None
    spectrum_db: NDArray[np.float64]
    low_tail_db: float
    """Of what sounds a quarter second after the loudest moment, the part below 150 Hz re all."""


@dataclass(frozen=True)
class GainCurve:
    """Gain in dB over the hit, (points,) each, of a band ("" for the whole)."""

    band: str
    time_s: NDArray[np.float64]
    gain_db: NDArray[np.float64]


@dataclass(frozen=True)
class ProcessorLook:
    before: StepFigures
    after: StepFigures
    spectrum_hz: NDArray[np.float64]
    change_db: float
    """Largest change in any short time and band."""
    gains: list[GainCurve]
    resonances: list[Resonance]
    """Of what comes out."""


def look_at_processor(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    processor: str,
    *,
    memory: StageMemory | None = None,
) -> ProcessorLook:
    """Look at a processor of a sound; of several notes in a layer's chain at the first.

    Raises
    ------
    DocumentError
        where there is no such processor on the way to the output.
    """
    once = settled(sound, hit, settings)
    frames, _ = planned_frames(once, hit, settings)
    heard = frozenset(layer.id for layer in sounding_layers(once))
    planner = hit_planner(once, hit, settings, frames, heard=heard)
    planner.mix()
    step = planner.taps.get(processor)
    if step is not None and step.gains_db is None and planner.notes:
        step = planner.notes[0].taps.get(processor, step)
    if step is None:
        message = f"there is no processor {processor!r} on the way to the output"
        raise DocumentError([FieldProblem("processor", message, "unknown")])
    runner = StageRunner(memory)
    rate = settings.sample_rate
    after = runner.result(step)
    works = step.gains_db is not None
    before = runner.result(step.inputs[0]) if works else after
    return ProcessorLook(
        _figures(before, rate),
        _figures(after, rate),
        band_middles_hz(rate),
        difference(Audio(before, rate), Audio(after, rate)).change_db if works else 0.0,
        _gains(step, runner, rate),
        resonances(after, rate),
    )


def _figures(signal: Signal, rate: int) -> StepFigures:
    return StepFigures(
        gain_to_db(peak(signal)),
        true_peak_db(signal),
        integrated_loudness_lufs(signal, rate),
        transient_db(signal, rate),
        band_spectrum_db(signal, rate),
        _low_tail_db(signal, rate),
    )


def _low_tail_db(signal: Signal, rate: int) -> float:
    if not signal.size:
        return SILENCE_DB
    loudest = int(np.argmax(np.abs(signal).max(axis=0)))
    tail = signal[:, loudest + round(_TAIL_S * rate) :]
    if tail.shape[1] < rate // 20:
        return SILENCE_DB
    power = np.abs(np.fft.rfft(tail, axis=1)) ** 2
    low = power[:, : int(_LOW_HZ * tail.shape[1] / rate) + 1].sum()
    whole = power.sum()
    return float(10.0 * np.log10(max(low, 1e-20) / whole)) if whole > 1e-12 else SILENCE_DB


def _gains(step: Stage, runner: StageRunner, rate: int) -> list[GainCurve]:
    if step.gains_db is None:
        return []
    found = []
    for band, gain_db in step.gains_db([runner.result(one) for one in step.inputs]).items():
        if not gain_db.size:
            continue
        edges = np.unique(np.linspace(0, gain_db.size, _GAIN_COLUMNS + 1).astype(int))[:-1]
        # The furthest from 0 of each column, so that short dips are drawn.
        least, most = np.minimum.reduceat(gain_db, edges), np.maximum.reduceat(gain_db, edges)
        furthest = np.where(-least > most, least, most)
        found.append(GainCurve(band, edges / rate, np.maximum(_DEEPEST_DB, furthest)))
    return found
