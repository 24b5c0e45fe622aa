"""Compressor, multiband dynamics, transient shaper, gate and ceiling at work."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.dynamics.compressor import ceiling_gains, compressor_gain_db
from nest_crate.core.dsp.dynamics.gate import gate_gain_db, transient_parts
from nest_crate.core.dsp.dynamics.multiband import BandSettings, band_gains_db, three_bands
from nest_crate.core.dsp.filters.state_variable import filter_signal
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.context import GainCurves, ProcessContext, ProcessorWork
from nest_crate.core.sound.processors import (
    CeilingProcessor,
    CompressorProcessor,
    GateProcessor,
    MultibandProcessor,
    TransientProcessor,
)
from nest_crate.core.sound.processors.dynamics import DynamicsBand

__all__ = ["EFFECTS"]

_NO_LOW_CUT_HZ = 10.0
_REACH_S = 0.005
_NEPERS_PER_DB = math.log(10.0) / 20.0
_BANDS = ("low", "middle", "high")


def _by_db(signal: Signal, gain_db: float | NDArray[np.float64]) -> Signal:
    # The exponential of e is several times quicker than a power of ten.
    return np.asarray(signal * np.exp(np.asarray(gain_db) * _NEPERS_PER_DB))


def _heard(
    signal: Signal, part: CompressorProcessor | GateProcessor, context: ProcessContext
) -> Signal:
    """What decides: the signal itself, or the layer that it listens to."""
    key = signal if context.side is None else context.side
    if part.side_low_cut_hz > _NO_LOW_CUT_HZ:
        key = filter_signal(
            key,
            response="high_pass",
            slope_db=12,
            cutoff_hz=part.side_low_cut_hz,
            resonance=math.sqrt(0.5),
            sample_rate=context.sample_rate,
        )
    return key


def _compressor_gains(
    signal: Signal, part: CompressorProcessor, context: ProcessContext
) -> GainCurves:
    gain_db = compressor_gain_db(
        _heard(signal, part, context),
        threshold_db=part.threshold_db,
        ratio=part.ratio,
        knee_db=part.knee_db,
        attack_s=part.attack_s,
        release_s=part.release_s,
        look_ahead_s=part.look_ahead_s,
        measure=part.measure,
        sample_rate=context.sample_rate,
    )
    return {"": gain_db}


def _compressor(signal: Signal, part: CompressorProcessor, context: ProcessContext) -> Signal:
    return _by_db(signal, _compressor_gains(signal, part, context)[""] + part.make_up_db)


def _gate_gains(signal: Signal, part: GateProcessor, context: ProcessContext) -> GainCurves:
    gain_db = gate_gain_db(
        _heard(signal, part, context),
        threshold_db=part.threshold_db,
        floor_db=part.floor_db,
        attack_s=part.attack_s,
        hold_s=part.hold_s,
        release_s=part.release_s,
        look_ahead_s=part.look_ahead_s,
        sample_rate=context.sample_rate,
    )
    return {"": gain_db}


def _gate(signal: Signal, part: GateProcessor, context: ProcessContext) -> Signal:
    return _by_db(signal, _gate_gains(signal, part, context)[""])


def _transient_gains(
    signal: Signal, part: TransientProcessor, context: ProcessContext
) -> GainCurves:
    moved, count = context.moved.at_frames, signal.shape[1]
    attack, decay = transient_parts(signal, speed_s=part.speed_s, sample_rate=context.sample_rate)
    attack_db = moved("attack_db", part.attack_db, count)
    return {"": attack_db * attack + moved("sustain_db", part.sustain_db, count) * decay}


def _transient(signal: Signal, part: TransientProcessor, context: ProcessContext) -> Signal:
    return _by_db(signal, _transient_gains(signal, part, context)[""])


def _settings(band: DynamicsBand) -> BandSettings:
    return BandSettings(band.above_db, band.above_ratio, band.below_db, band.below_ratio)


def _split(
    signal: Signal, part: MultibandProcessor, context: ProcessContext
) -> tuple[tuple[Signal, Signal, Signal], NDArray[np.float64]]:
    """The three bands, and their gains (3, frames) in dB by the amount that is asked for."""
    bands = three_bands(
        signal, part.low_split_hz, part.high_split_hz, sample_rate=context.sample_rate
    )
    gains_db = band_gains_db(
        bands,
        (_settings(part.low), _settings(part.middle), _settings(part.high)),
        attack_s=part.attack_s,
        release_s=part.release_s,
        sample_rate=context.sample_rate,
    )
    return bands, gains_db * context.moved.at_frames("amount", part.amount, signal.shape[1])


def _multiband_gains(
    signal: Signal, part: MultibandProcessor, context: ProcessContext
) -> GainCurves:
    return dict(zip(_BANDS, _split(signal, part, context)[1], strict=True))


def _multiband(signal: Signal, part: MultibandProcessor, context: ProcessContext) -> Signal:
    bands, gains_db = _split(signal, part, context)
    total = np.zeros_like(signal)
    for name, band, gain_db in zip(_BANDS, bands, gains_db, strict=True):
        base_db = getattr(part, name).level_db
        level_db = context.moved.at_frames(f"{name}.level_db", base_db, signal.shape[1])
        total += _by_db(band, gain_db + level_db)
    return total


def _ceiling_gains(signal: Signal, part: CeilingProcessor, context: ProcessContext) -> GainCurves:
    gains = ceiling_gains(
        _by_db(signal, part.gain_db),
        ceiling_db=part.ceiling_db,
        release_s=part.release_s,
        sample_rate=context.sample_rate,
    )
    return {"": 20.0 * np.log10(np.maximum(gains, 1e-10))}


def _ceiling(signal: Signal, part: CeilingProcessor, context: ProcessContext) -> Signal:
    driven = _by_db(signal, part.gain_db)
    return driven * ceiling_gains(
        driven,
        ceiling_db=part.ceiling_db,
        release_s=part.release_s,
        sample_rate=context.sample_rate,
    )


def _nothing(part: object) -> float:
    return 0.0


EFFECTS = {
    "compressor": ProcessorWork(_compressor, _nothing, _compressor_gains, cost_ns=25.0, room=3.0),
    # Its crossovers ring: two Butterworth filters of Q 0.707 in a row, twice.
    "multiband": ProcessorWork(
        _multiband,
        lambda part: 4.0 / part.low_split_hz + 4.0 / part.high_split_hz,
        _multiband_gains,
        cost_ns=200.0,
        room=8.0,
    ),
    "transient": ProcessorWork(_transient, _nothing, _transient_gains, cost_ns=60.0, room=5.0),
    "gate": ProcessorWork(_gate, _nothing, _gate_gains, cost_ns=20.0, room=3.0),
    # Filters that reach beyond the end of a signal, both ways.
    "ceiling": ProcessorWork(
        _ceiling, lambda part: _REACH_S, _ceiling_gains, cost_ns=60.0, room=4.0
    ),
}
