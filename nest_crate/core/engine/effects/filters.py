"""Filters, comb, formants, equaliser and resonators at work."""

from __future__ import annotations

from typing import Any

import numpy as np

from nest_crate.core.dsp.distortion.driven_filter import driven_filter_signal
from nest_crate.core.dsp.filters.comb import comb_ring_time_s, comb_signal, resonator_signal
from nest_crate.core.dsp.filters.equaliser import Band, equalised_signal
from nest_crate.core.dsp.filters.formant import formant_signal
from nest_crate.core.dsp.filters.offset import without_offset
from nest_crate.core.dsp.filters.state_variable import filter_signal, ring_time_s
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.context import Longer, ProcessContext, ProcessorWork, follow_factor
from nest_crate.core.sound.processors import (
    CombProcessor,
    EqualiserProcessor,
    FilterProcessor,
    FormantProcessor,
    ResonatorsProcessor,
)
from nest_crate.core.sound.processors.equaliser import EQUALISER_BANDS
from nest_crate.core.units import A4_HZ

__all__ = ["EFFECTS", "TUNINGS_ST", "equaliser_bands"]

# The mean that is removed from what is driven is taken over so much to either side.
_OFFSET_TAIL_S = 0.12
# Semitones above the lowest string.
TUNINGS_ST: dict[str, tuple[float, ...]] = {
    "octaves": (0.0, 12.0, 24.0, 36.0),
    "fifths": (0.0, 7.0, 12.0, 19.0),
    "major": (0.0, 4.0, 7.0, 12.0, 16.0),
    "minor": (0.0, 3.0, 7.0, 12.0, 15.0),
    "fourths": (0.0, 5.0, 10.0, 15.0),
    "tritone": (0.0, 6.0, 12.0, 18.0),
    "cluster": (0.0, 1.0, 2.0, 13.0),
}


def _filter(signal: Signal, part: FilterProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    cutoff_hz = moved("cutoff_hz", part.cutoff_hz)
    shape: dict[str, Any] = {
        "response": part.response,
        "slope_db": part.slope_db,
        "cutoff_hz": cutoff_hz * follow_factor(moved("key_follow", part.key_follow), context.note),
        "resonance": moved("resonance", part.resonance),
        "sample_rate": context.sample_rate,
    }
    drive_db = moved("drive_db", part.drive_db)
    if np.any(np.asarray(drive_db) > 0.0):
        driven = driven_filter_signal(signal, drive_db=drive_db, gain_db=part.gain_db, **shape)
        return without_offset(driven, context.sample_rate)
    return filter_signal(signal, gain_db=moved("gain_db", part.gain_db), **shape)


def _filter_tail_s(part: FilterProcessor) -> float:
    return _OFFSET_TAIL_S + ring_time_s(part.cutoff_hz, part.resonance, part.slope_db)


def _formant(signal: Signal, part: FormantProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    shift_st = np.asarray(moved("shift_st", part.shift_st))
    factor = 2.0 ** (shift_st / 12.0) * np.asarray(
        follow_factor(moved("key_follow", part.key_follow), context.note)
    )
    return formant_signal(
        signal,
        first_hz=np.asarray(moved("first_hz", part.first_hz) * factor),
        second_hz=np.asarray(moved("second_hz", part.second_hz) * factor),
        sharpness=moved("sharpness", part.sharpness),
        second_db=moved("second_db", part.second_db),
        sample_rate=context.sample_rate,
    )


def _formant_tail_s(part: FormantProcessor) -> float:
    lowest_hz = min(part.first_hz, part.second_hz) * 2.0 ** (min(0.0, part.shift_st) / 12.0)
    return ring_time_s(lowest_hz, part.sharpness, 12)


def _comb(signal: Signal, part: CombProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    base_hz = part.frequency_hz
    # What follows the note is moved from there by as much as its own frequency would be.
    factor: float | Control = 1.0
    if part.follows_note:
        transpose_st = moved("transpose_st", part.transpose_st)
        shift_st = np.asarray(context.note) + transpose_st - 69.0
        factor = A4_HZ * np.exp2(shift_st / 12.0) / base_hz
    combed = comb_signal(
        signal,
        frequency_hz=np.asarray(moved("frequency_hz", base_hz) * factor),
        feedback=moved("feedback", part.feedback),
        forward=moved("forward", part.forward),
        damping_hz=moved("damping_hz", part.damping_hz),
        sample_rate=context.sample_rate,
    )
    # 0 Hz is one of its peaks, and no sound.
    return without_offset(combed, context.sample_rate)


def _comb_tail_s(part: CombProcessor) -> float:
    return min(60.0, _OFFSET_TAIL_S + comb_ring_time_s(part.frequency_hz, part.feedback, 100.0))


def equaliser_bands(part: EqualiserProcessor, context: ProcessContext) -> list[Band]:
    """The bands that are on, as they are moved."""
    moved = context.moved.control
    return [
        Band(
            band.response,
            moved(f"{name}.frequency_hz", band.frequency_hz),
            moved(f"{name}.gain_db", band.gain_db),
            moved(f"{name}.sharpness", band.sharpness),
        )
        for name, band in part.bands.items()
        if band.on
    ]


def _equaliser(signal: Signal, part: EqualiserProcessor, context: ProcessContext) -> Signal:
    return equalised_signal(signal, equaliser_bands(part, context), sample_rate=context.sample_rate)


def _equaliser_tail_s(part: EqualiserProcessor) -> float:
    rings = [
        ring_time_s(band.frequency_hz * 10.0 ** (-abs(band.gain_db) / 80.0), _ring_q(band), 12)
        for band in part.bands.values()
        if band.on and (band.gain_db or band.response in ("low_cut", "high_cut", "notch"))
    ]
    return sum(rings, 0.0)


def _ring_q(band: Any) -> float:
    """How sharp a band's poles are: a bell that raises rings longer."""
    raised = max(0.0, band.gain_db) if band.response == "peak" else 0.0
    return float(band.sharpness * 10.0 ** (raised / 40.0))


def _resonators(signal: Signal, part: ResonatorsProcessor, context: ProcessContext) -> Signal:
    base_hz = part.frequency_hz
    if part.follows_note:
        note = float(np.atleast_1d(context.note)[0])
        base_hz = A4_HZ * 2.0 ** ((note + part.transpose_st - 69.0) / 12.0)
    steps = part.own_st if part.tuning == "own" else TUNINGS_ST[part.tuning]
    return resonator_signal(
        signal,
        frequencies_hz=[base_hz * 2.0 ** (st / 12.0) for st in steps],
        ring_s=part.ring_s,
        damping_hz=part.damping_hz,
        width=part.width,
        sample_rate=context.sample_rate,
    )


_BAND_RINGS: dict[str, Longer] = {"frequency_hz": "down", "gain_db": "far", "sharpness": "up"}
_BANDS_RING: dict[str, Longer] = {
    f"{band}.{name}": end for band in EQUALISER_BANDS for name, end in _BAND_RINGS.items()
}

EFFECTS = {
    "filter": ProcessorWork(
        _filter,
        _filter_tail_s,
        rings={"cutoff_hz": "down", "resonance": "up"},
        cost_ns=lambda part: 400.0 if part.drive_db else 25.0,
        room=6.0,
    ),
    "formant": ProcessorWork(
        _formant,
        _formant_tail_s,
        rings={"first_hz": "down", "second_hz": "down", "shift_st": "down", "sharpness": "up"},
        cost_ns=35.0,
        room=4.0,
    ),
    "comb": ProcessorWork(
        _comb,
        _comb_tail_s,
        rings={"frequency_hz": "down", "transpose_st": "down", "feedback": "far"},
        cost_ns=60.0,
        room=2.0,
    ),
    "equaliser": ProcessorWork(
        _equaliser, _equaliser_tail_s, rings=_BANDS_RING, cost_ns=140.0, room=7.0
    ),
    "resonators": ProcessorWork(
        _resonators, lambda part: part.ring_s * 100.0 / 60.0 + 0.1, cost_ns=250.0, room=4.0
    ),
}
