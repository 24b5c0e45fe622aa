"""Sides become pictures, figures, and a list of where they differ from the first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.features.features import Features, features
from nest_crate.core.analysis.measures.figures import Measures, measure
from nest_crate.core.analysis.measures.pitch import PitchTrack, pitch_track
from nest_crate.core.analysis.measures.spectra import band_middles_hz, band_spectrum_db
from nest_crate.core.analysis.pictures.outlines import (
    Outline,
    Spectrogram,
    outline,
    spectrogram,
)
from nest_crate.core.comparing.differences import (
    Difference,
    audible,
    fall_differences,
    floored,
    pitch_difference,
    stretch_differences,
)
from nest_crate.core.comparing.grid import (
    FLOOR_DB,
    STEP_S,
    edges_hz,
    grid_levels_db,
    steps_of,
)
from nest_crate.core.comparing.matching import Match, gain_db, later_by, sounds_from
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import Audio

__all__ = ["NAMES", "Beside", "Compared", "Pair", "compare_sides"]

Numbers = NDArray[np.float64]
Flags = NDArray[np.bool_]

NAMES = ("A", "B", "C", "D")
_COLUMNS = 1000
_ROWS, _PICTURE_COLUMNS = 96, 500
_SPECTRUM_BANDS = 96
# A level curve is compared where a side is so far below its peak at most.
_CURVE_RANGE_DB = 40.0


@dataclass(frozen=True)
class Beside:
    """A side on the common ruler, which begins where the earliest side does.

    ``starts_s``: where its first frame lies; ``gain_db``: what makes it as loud as the first side.
    ``levels_db`` (bands, steps) and all pictures have that gain, ``measures`` and ``features`` not.
    """

    starts_s: float
    gain_db: float
    length_s: float
    measures: Measures
    features: Features
    outline: Outline
    spectrogram: Spectrogram
    levels_db: Numbers
    pitch: PitchTrack
    spectrum_db: Numbers


@dataclass(frozen=True)
class Pair:
    """A side beside the first: distances as a whole, and where they differ.

    ``spectra_db``: mean distance of the bands over time, where either is heard. ``level_db``: of
    the level over time. ``pitch_cent``: the median distance of the pitch lines, None where they
    have no moment in common. ``null_db``: what is left of the difference signal, re the first.
    """

    spectra_db: float
    level_db: float
    pitch_cent: float | None
    null_db: float | None
    spectrum_db: Numbers
    apart_db: Numbers
    differences: list[Difference]


@dataclass(frozen=True)
class Compared:
    """All sides, and each but the first beside it."""

    sample_rate: int
    length_s: float
    step_s: float
    edges_hz: list[float]
    spectrum_hz: Numbers
    sides: list[Beside]
    pairs: list[Pair]


def compare_sides(
    sides: Sequence[Audio],
    *,
    match: Match = "loudness",
    shifts_s: Sequence[float | None] = (),
    left_out: Sequence[tuple[float, float]] = (),
) -> Compared:
    """Lay two to four sides over each other and say where they differ.

    Parameters
    ----------
    sides
        of one rate and at least a frame each.
    shifts_s
        for each side, by how much later than the first it begins; None or missing: as found.
    left_out
        stretches of the ruler, in seconds, which count nowhere.

    Raises
    ------
    ValueError
        where there are fewer than two or more than four sides, or their rates differ.
    """
    rate = sides[0].sample_rate
    if not 2 <= len(sides) <= len(NAMES) or any(one.sample_rate != rate for one in sides):
        raise ValueError("two to four sides of one rate are compared")
    given = [*shifts_s, *[None] * len(sides)][: len(sides)]
    first = sides[0].samples
    later = [
        round(shift * rate) if shift is not None else later_by(first, one.samples, rate)
        for one, shift in zip(sides, given, strict=True)
    ]
    later[0] = 0
    # Who begins latest within its file waits for nobody; the others are moved to meet it.
    starts = [max(later) - one for one in later]
    gains = [gain_db(first, one.samples, rate, match) for one in sides]
    frames = max(at + one.samples.shape[1] for at, one in zip(starts, sides, strict=True))
    counted = _counted(frames, rate, left_out)
    beside, heard = [], []
    for one, at, gain in zip(sides, starts, gains, strict=True):
        # One after the other: a minute of four sides takes much memory.
        laid = _laid(one.samples, at, gain, frames)
        beside.append(_beside(one, at / rate, gain, laid))
        heard.append(_Heard(laid.mean(axis=0), sounds_from(laid)))
    length_s = frames / rate
    pairs = [
        _pair(beside[0], beside[n], heard[0], heard[n], rate, counted, NAMES[n])
        for n in range(1, len(sides))
    ]
    return Compared(
        sample_rate=rate,
        length_s=length_s,
        step_s=STEP_S,
        edges_hz=edges_hz(rate),
        spectrum_hz=band_middles_hz(rate, bands=_SPECTRUM_BANDS),
        sides=beside,
        pairs=pairs,
    )


@dataclass(frozen=True)
class _Heard:
    """The channels' mean of a side on the ruler, and the frame at which it begins to sound."""

    mono: Numbers
    begins: int | None


def _laid(signal: Signal, at: int, gain: float, frames: int) -> Signal:
    """A side on the ruler, with its gain."""
    laid = np.zeros((signal.shape[0], frames))
    laid[:, at : at + signal.shape[1]] = signal * 10.0 ** (gain / 20.0)
    return laid


def _counted(frames: int, rate: int, left_out: Sequence[tuple[float, float]]) -> Flags:
    """By step, whether it counts; one that is left out in part does not."""
    counted = np.ones(steps_of(frames, rate), dtype=bool)
    for start_s, end_s in left_out:
        first, last = int(start_s / STEP_S), int(np.ceil(end_s / STEP_S))
        counted[max(0, first) : max(0, last)] = False
    return counted


def _beside(audio: Audio, starts_s: float, gain: float, laid: Signal) -> Beside:
    rate = audio.sample_rate
    track = pitch_track(audio.samples, rate)
    return Beside(
        starts_s=starts_s,
        gain_db=gain,
        length_s=audio.samples.shape[1] / rate,
        measures=measure(audio.samples, rate, track=track),
        features=features(audio.samples, rate, track=track),
        outline=outline(laid, _COLUMNS),
        spectrogram=spectrogram(laid, rate, rows=_ROWS, columns=_PICTURE_COLUMNS),
        levels_db=grid_levels_db(laid, rate),
        pitch=replace(track, time_s=track.time_s + starts_s, level_db=track.level_db + gain),
        spectrum_db=band_spectrum_db(laid, rate, bands=_SPECTRUM_BANDS),
    )


def _pair(
    first: Beside,
    second: Beside,
    one: _Heard,
    other: _Heard,
    rate: int,
    counted: Flags,
    name: str,
) -> Pair:
    a, b = first.levels_db, second.levels_db
    heard = audible(a, b) & counted
    own, theirs = floored(a, b)
    apart = np.where(heard, theirs - own, 0.0)
    edges = edges_hz(rate)
    begins = [side.begins for side in (one, other) if side.begins is not None]
    begins_s = min(begins, default=0) / rate
    found = stretch_differences(a, b, edges, begins_s, counted, name)
    found += fall_differences(a, b, edges, counted, name)
    landing = pitch_difference(
        first.measures.fundamental_hz,
        second.measures.fundamental_hz,
        max(first.length_s, second.length_s),
        name,
    )
    if landing is not None and counted.any():
        found.append(landing)
    return Pair(
        spectra_db=float(np.abs(apart[heard]).mean()) if heard.any() else 0.0,
        level_db=_level_distance_db(a, b, counted),
        pitch_cent=_pitch_distance_cent(first.pitch, second.pitch, counted),
        null_db=_null_db(one.mono, other.mono, rate, counted),
        spectrum_db=second.spectrum_db - first.spectrum_db,
        apart_db=apart,
        differences=sorted(found, key=lambda found_one: -found_one.weight),
    )


def _level_distance_db(a: Numbers, b: Numbers, counted: Flags) -> float:
    curves = [10.0 * np.log10((10.0 ** (one / 10.0)).sum(axis=0)) for one in (a, b)]
    loudest = max(float(one.max()) for one in curves)
    heard = counted & (np.maximum(*curves) > max(loudest - _CURVE_RANGE_DB, FLOOR_DB + 20.0))
    if not heard.any():
        return 0.0
    floor = loudest - _CURVE_RANGE_DB - 20.0
    first, second = (np.maximum(one, floor)[heard] for one in curves)
    return float(np.abs(first - second).mean())


def _pitch_distance_cent(first: PitchTrack, second: PitchTrack, counted: Flags) -> float | None:
    """The median distance at the first's clear moments that lie within the second's line."""
    lines = []
    for track in (first, second):
        clear = np.isfinite(track.pitch_hz) & (
            track.level_db > track.level_db.max(initial=-200.0) - _CURVE_RANGE_DB
        )
        lines.append((track.time_s[clear], np.log2(track.pitch_hz[clear])))
    (time_s, pitch), (other_s, other) = lines
    if time_s.size == 0 or other_s.size == 0:
        return None
    steps = np.minimum((time_s / STEP_S).astype(int), counted.size - 1)
    both = (time_s >= other_s[0]) & (time_s <= other_s[-1]) & counted[steps]
    if not both.any():
        return None
    apart = 1200.0 * np.abs(np.interp(time_s[both], other_s, other) - pitch[both])
    return float(np.median(apart))


def _null_db(one: Numbers, other: Numbers, rate: int, counted: Flags) -> float | None:
    """The level of the difference signal re the first side, where it counts."""
    which = np.minimum((np.arange(one.size) / (STEP_S * rate)).astype(int), counted.size - 1)
    inside = counted[which]
    a, b = one[inside], other[inside]
    energy, left = float(a @ a), float((a - b) @ (a - b))
    if energy <= 0.0:
        return None
    return float(10.0 * np.log10(max(left / energy, 1e-12)))
