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
from nest_crate.core.dsp.util.movement import Control, at_frames
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.context import (
    FOLLOWED_FROM,
    Longer,
    ProcessContext,
    ProcessorWork,
    TailFacts,
)
from nest_crate.core.sound.processors import (
    CombProcessor,
    EqualiserProcessor,
    FilterProcessor,
    FormantProcessor,
    ResonatorsProcessor,
    TiltProcessor,
)
from nest_crate.core.sound.processors.equaliser import EQUALISER_BANDS
from nest_crate.core.units import A4_HZ, db_to_gain, note_to_hz

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
        "cutoff_hz": cutoff_hz * context.tracking(moved("key_follow", part.key_follow)),
        "resonance": moved("resonance", part.resonance),
        "sample_rate": context.sample_rate,
    }
    drive_db = moved("drive_db", part.drive_db)
    if np.any(np.asarray(drive_db) > 0.0):
        driven = driven_filter_signal(signal, drive_db=drive_db, gain_db=part.gain_db, **shape)
        return without_offset(driven, context.sample_rate)
    return filter_signal(signal, gain_db=moved("gain_db", part.gain_db), **shape)


def _lowest_tracking(part: Any, facts: TailFacts) -> float:
    """The least factor that key tracking may put on a frequency."""
    spread = facts.reach("key_follow")
    follow = float(part.key_follow)
    return min(
        float(2.0 ** (share * (note - FOLLOWED_FROM) / 12.0))
        for share in (follow - spread, follow + spread)
        for note in (facts.low_note, facts.high_note)
    )


def _standing_filter(part: FilterProcessor, facts: TailFacts) -> FilterProcessor:
    cutoff_hz = max(1.0, part.cutoff_hz * _lowest_tracking(part, facts))
    return part.model_copy(update={"cutoff_hz": cutoff_hz})


def _tilt(signal: Signal, part: TiltProcessor, context: ProcessContext) -> Signal:
    """A first-order shelf of twice the gain, lowered so that the pivot stays as it is."""
    moved = context.moved.control
    tilt_db = moved("tilt_db", part.tilt_db)
    shelved = filter_signal(
        signal,
        response="high_shelf",
        slope_db=6,
        cutoff_hz=moved("pivot_hz", part.pivot_hz),
        resonance=0.707,
        gain_db=2.0 * tilt_db,
        sample_rate=context.sample_rate,
    )
    if isinstance(tilt_db, float):
        return shelved * db_to_gain(-tilt_db)
    return np.asarray(shelved * 10.0 ** (-at_frames(tilt_db, signal.shape[1]) / 20.0))


def _tilt_tail_s(part: TiltProcessor) -> float:
    """Its pole lies below the pivot by half of the shelf's gain where highs are lowered."""
    return ring_time_s(part.pivot_hz * 10.0 ** (-abs(part.tilt_db) / 20.0), 0.5, 6)


def _standing_formant(part: FormantProcessor, facts: TailFacts) -> FormantProcessor:
    factor = _lowest_tracking(part, facts)
    lowered = {name: max(1.0, getattr(part, name) * factor) for name in ("first_hz", "second_hz")}
    return part.model_copy(update=lowered)


def _filter_tail_s(part: FilterProcessor) -> float:
    return _OFFSET_TAIL_S + ring_time_s(part.cutoff_hz, part.resonance, part.slope_db)


def _formant(signal: Signal, part: FormantProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    shift_st = np.asarray(moved("shift_st", part.shift_st))
    factor = 2.0 ** (shift_st / 12.0) * np.asarray(
        context.tracking(moved("key_follow", part.key_follow))
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


def _standing_comb(part: CombProcessor, facts: TailFacts) -> CombProcessor:
    if not part.follows_note:
        return part
    lowest_hz = note_to_hz(facts.low_note + part.transpose_st)
    lowest_hz *= part.frequency_hz / facts.set.frequency_hz
    return part.model_copy(update={"frequency_hz": max(10.0, lowest_hz)})


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
        standing=_standing_filter,
        rings={"cutoff_hz": "down", "resonance": "up"},
        cost_ns=lambda part: 400.0 if part.drive_db else 25.0,
        room=6.0,
    ),
    "tilt": ProcessorWork(
        _tilt,
        _tilt_tail_s,
        rings={"tilt_db": "far", "pivot_hz": "down"},
        cost_ns=25.0,
        room=4.0,
    ),
    "formant": ProcessorWork(
        _formant,
        _formant_tail_s,
        standing=_standing_formant,
        rings={"first_hz": "down", "second_hz": "down", "shift_st": "down", "sharpness": "up"},
        cost_ns=35.0,
        room=4.0,
    ),
    "comb": ProcessorWork(
        _comb,
        _comb_tail_s,
        standing=_standing_comb,
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
