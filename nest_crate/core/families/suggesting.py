"""Which numbers of a sound to spread, and how far: measured, not guessed."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.features.features import features
from nest_crate.core.analysis.measures.pitch import landing_pitch_hz, pitch_track
from nest_crate.core.dsp.dynamics.loudness import measured_loudness
from nest_crate.core.engine import Audio
from nest_crate.core.families.document import PlannedSound, Spread
from nest_crate.core.families.drawing import SpreadRange, spread_ranges
from nest_crate.core.families.overrides import base_values, overridden
from nest_crate.core.sound import Sound
from nest_crate.core.sound.parameters import Parameter
from nest_crate.core.sound.targets import targets_of

__all__ = ["PITCHES", "Aim", "Moved", "candidates", "measured_moves", "suggested"]

Aim = Literal["timbre", "level_pitch"]

# A first step by scale: a fifth of an octave, of a time, of the range.
_STEP = 0.15
_LINEAR_SHARE = 0.06
# How far a single suggested spread takes a member from the original, in features.
_WANTED = 0.8
_MOST = 6
_LEAST_FELT = 0.02
# What sets a level or a pitch, and what sets neither those nor timbre.
_LEVELS = ("level_db", "gain_db", "low_db", "high_db")
PITCHES = ("pitch_st", "transpose_st", "fine_cent", "ratio")
_NEITHER = ("pan", "mix", "key_follow")
_MOST_CANDIDATES = 60
# Where somebody set a number, it is likelier what the sound is about.
_SET_COUNTS = 2.0
# One apart: 3 dB of loudness, a semitone of pitch.
_LEVEL_UNIT_DB, _PITCH_UNIT_ST = 3.0, 1.0


@dataclass(frozen=True)
class Moved:
    """What a step of one number changes: how far in features without level and pitch, and how far
    in those."""

    range: SpreadRange
    timbre: float
    level_pitch: float


def _steps(parameter: Parameter, base: float) -> tuple[float, float]:
    """One step to either side, on the parameter's scale."""
    if parameter.scale == "linear":
        by = _LINEAR_SHARE * (parameter.maximum - parameter.minimum)
        if parameter.whole:
            by = max(1.0, round(by))
        if parameter.unit == "st":
            by = 1.0
        if parameter.unit == "dB":
            by = 3.0
        return base - by, base + by
    return base * (1.0 - _STEP), base * (1.0 + _STEP)


def _in_use(parameter: Parameter, base: float) -> bool:
    """Not what stands at nothing, whose step would switch something on; not counts, and not the
    phase at which something starts, which is heard as a click."""
    off = base == parameter.minimum == 0.0 or (parameter.scale != "linear" and base <= 0.0)
    return not off and not parameter.whole and parameter.unit != "deg"


def candidates(sound: Sound) -> list[tuple[str, Parameter, float]]:
    """Numbers of what is switched on that a step can change, with their values."""
    found = []
    silent = {layer.id for layer in sound.layers if layer.mute}
    targets = {
        target: parameter
        for target, parameter in targets_of(sound).items()
        if target.split(".", 1)[0] not in silent and "source.mode" not in target
    }
    movers = {mover.id for mover in sound.movers}
    linked = {link.mover for link in sound.links}
    bases = base_values(sound, targets)
    for target, parameter in targets.items():
        identifier, base = target.split(".", 1)[0], bases[target]
        if identifier in movers and identifier not in linked:
            continue
        if not _in_use(parameter, base):
            continue
        found.append((target, parameter, base))
    return found[:_MOST_CANDIDATES]


def measured_moves(sound: Sound, heard: Callable[[Sound], Audio]) -> Iterator[Moved]:
    """Each number moved by a step, rendered and compared with the original."""
    original = _Heard.of(heard(sound))
    for target, parameter, base in candidates(sound):
        low, high = _steps(parameter, base)
        spread = Spread(target=target, low=min(low, base), high=max(high, base))
        planned = PlannedSound(id="a", spreads=(spread,))
        (ranged,) = spread_ranges(planned, 1.0, {target: base}, {target: parameter})
        # A step upwards, or downwards from the top: two would tell little more, in twice the time.
        value = ranged.high if ranged.high > base else ranged.low
        moved = _Heard.of(heard(overridden(sound, {target: value})))
        yield Moved(ranged, moved.timbre_from(original), moved.level_pitch_from(original))


def suggested(moves: list[Moved], aim: Aim) -> list[Spread]:
    """Up to six spreads that change what is wanted most beside what is not, each as wide as takes a
    member about equally far; the most telling first."""
    scored = []
    for one in moves:
        wanted, other = (
            (one.timbre, one.level_pitch) if aim == "timbre" else (one.level_pitch, one.timbre)
        )
        name = one.range.spread.target.rsplit(".", 1)[-1]
        of_aim = (name in (*_LEVELS, *PITCHES)) == (aim == "level_pitch")
        if wanted < _LEAST_FELT or name in _NEITHER or not of_aim:
            continue
        score = wanted / (other + 0.3 * wanted + _LEAST_FELT)
        if one.range.base != one.range.parameter.default:
            score *= _SET_COUNTS
        scored.append((score, wanted, one))
    scored.sort(key=lambda one: (-one[0], one[2].range.spread.target))
    return [_widened(one, wanted) for _, wanted, one in scored[:_MOST]]


def _widened(moved: Moved, felt: float) -> Spread:
    """The step as much wider or narrower as takes it to what is wanted, taken as proportional."""
    ranged = moved.range
    times = min(6.0, max(0.1, _WANTED / felt))
    middle = ranged.place(ranged.base)
    low, high = (
        ranged.value(middle + times * (ranged.place(end) - middle))
        for end in (ranged.low, ranged.high)
    )
    return Spread(target=ranged.spread.target, low=_short(low), high=_short(high))


def _short(value: float) -> float:
    """Three figures, as one would type it."""
    return float(f"{value:.3g}")


@dataclass(frozen=True)
class _Heard:
    vector: NDArray[np.float32]
    loudness_lufs: float
    pitch_hz: float | None

    @classmethod
    def of(cls, audio: Audio) -> _Heard:
        return cls(
            features(audio.samples, audio.sample_rate).vector,
            measured_loudness(audio.samples, audio.sample_rate).integrated_lufs,
            landing_pitch_hz(pitch_track(audio.samples, audio.sample_rate)),
        )

    def timbre_from(self, other: _Heard) -> float:
        """Distance in features with the pitch left out."""
        difference = (self.vector - other.vector).astype(np.float64)
        difference[6] = 0.0
        return float(np.sqrt((difference**2).sum()))

    def level_pitch_from(self, other: _Heard) -> float:
        level = (self.loudness_lufs - other.loudness_lufs) / _LEVEL_UNIT_DB
        pitch = 0.0
        if self.pitch_hz and other.pitch_hz:
            pitch = 12.0 * np.log2(self.pitch_hz / other.pitch_hz) / _PITCH_UNIT_ST
        return float(np.hypot(level, pitch))
