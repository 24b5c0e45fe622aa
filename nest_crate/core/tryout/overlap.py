"""Where two sounds cover each other, what their sum loses, and what helps.

Levels are energies in third octaves (IEC 61260-1, base two) and steps of 5 ms. A cell is covered
where both sounds are well heard in it and neither is far above the other.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import label
from scipy.signal import butter, correlate, sosfilt

from nest_crate.core.dsp.util.signals import Signal

__all__ = ["Covered", "Offer", "Overlap", "Together", "bands_hz", "offers", "overlap", "together"]

_LOWEST_BAND, _HIGHEST_BAND = -15, 12
STEP_S = 0.005
# Within so much of a sound's own loudest cell it is well heard.
_HEARD_DB = 30.0
# Further apart than this, the louder one hides the other without a fight.
_APART_DB = 12.0
_FLOOR_DB = -120.0
_LOW_HZ = 200.0
_FARTHEST_S = 0.012
_ATTACKS_S = (0.003, 0.005, 0.008, 0.012, 0.018, 0.025, 0.035, 0.05)
_LOW_CUTS_HZ = (45.0, 60.0, 80.0, 100.0, 130.0, 160.0, 200.0, 250.0)
_DUCKS_DB = (3.0, 6.0, 9.0, 12.0, 18.0, 24.0)
# An offer must help by so much to be worth the change.
_HELPS_DB = 3.0
# Of a sound of which less than this is hidden, nothing is lost.
_LEAST_HIDDEN_DB = -20.0


@dataclass(frozen=True)
class Covered:
    """A stretch of time and frequency in which both sounds are heard."""

    from_hz: float
    to_hz: float
    from_s: float
    to_s: float
    share: float
    """Of all that is covered, 0 to 1."""


@dataclass(frozen=True)
class Overlap:
    """Levels of both in dB (bands, steps), and where they cover each other, the most first."""

    first_db: NDArray[np.float64]
    second_db: NDArray[np.float64]
    covered: NDArray[np.bool_]
    amount_db: float
    """Energy that both have in covered cells, against all energy of the first."""
    hidden_db: float
    """How much of the first is hidden by the second: of each cell's energy the share that the
    second has of the sum of both, against all energy of the first. -3 dB where they are equal."""
    stretches: tuple[Covered, ...]


@dataclass(frozen=True)
class Together:
    """The sum of two sounds below 200 Hz against the louder one alone, in dB."""

    sum_db: float
    inverted_db: float
    shift_s: float
    """By which the second would be later for the loudest sum, and that sum."""
    shifted_db: float


@dataclass(frozen=True)
class Offer:
    """A change of the second sound and the overlap after it."""

    kind: str
    value: float
    before_db: float
    after_db: float


@lru_cache(maxsize=8)
def bands_hz() -> NDArray[np.float64]:
    """Middles of the bands, 31 Hz to 16 kHz."""
    return np.asarray(1000.0 * 2.0 ** (np.arange(_LOWEST_BAND, _HIGHEST_BAND + 1) / 3.0))


@lru_cache(maxsize=8)
def _filters(sample_rate: int) -> tuple[NDArray[np.float64], ...]:
    half = 2.0 ** (1.0 / 6.0)
    return tuple(
        butter(3, [hz / half, hz * half], "bandpass", fs=sample_rate, output="sos")
        for hz in bands_hz()
    )


def _energies(signal: Signal, sample_rate: int, seconds: float) -> NDArray[np.float64]:
    """Energy (bands, steps) of all channels together; mean squares of a step."""
    step = round(STEP_S * sample_rate)
    steps = max(1, round(seconds / STEP_S))
    mono = np.zeros((signal.shape[0], steps * step))
    count = min(mono.shape[1], signal.shape[1])
    mono[:, :count] = signal[:, :count]
    found = [
        np.square(sosfilt(sos, mono, axis=1)).sum(axis=0).reshape(steps, step).mean(axis=1)
        for sos in _filters(sample_rate)
    ]
    return np.stack(found)


def _in_db(energy: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(10.0 * np.log10(np.maximum(energy, 10.0 ** (_FLOOR_DB / 10.0))))


def _ratio_db(ratio: float) -> float:
    return float(10.0 * np.log10(max(ratio, 10.0 ** (_FLOOR_DB / 10.0))))


def _covered(first_db: NDArray[np.float64], second_db: NDArray[np.float64]) -> NDArray[np.bool_]:
    heard = (first_db > max(_FLOOR_DB, first_db.max() - _HEARD_DB)) & (
        second_db > max(_FLOOR_DB, second_db.max() - _HEARD_DB)
    )
    return np.asarray(heard & (np.abs(first_db - second_db) < _APART_DB))


def overlap(first: Signal, second: Signal, sample_rate: int, seconds: float = 0.05) -> Overlap:
    """Where two sounds that begin together cover each other within their first ``seconds``.

    Parameters
    ----------
    first, second : np.ndarray [shape=(channels, frames)]
        at the levels at which they are heard; silence in front says when one begins.
    """
    energies = [_energies(one, sample_rate, seconds) for one in (first, second)]
    levels = [_in_db(one) for one in energies]
    covered = _covered(*levels)
    shared = np.where(covered, np.minimum(*energies), 0.0)
    whole = float(energies[0].sum())
    amount = float(shared.sum()) / whole if whole > 0.0 else 0.0
    both = np.maximum(energies[0] + energies[1], 1e-30)
    hidden = float((energies[0] * energies[1] / both).sum()) / whole if whole > 0.0 else 0.0
    return Overlap(
        levels[0],
        levels[1],
        covered,
        _ratio_db(amount),
        _ratio_db(hidden),
        _stretches(covered, shared),
    )


def _stretches(
    covered: NDArray[np.bool_], shared: NDArray[np.float64], most: int = 4
) -> tuple[Covered, ...]:
    marks, count = label(covered)
    half, total = 2.0 ** (1.0 / 6.0), float(shared.sum())
    found = []
    for mark in range(1, count + 1):
        bands, steps = np.nonzero(marks == mark)
        share = float(shared[bands, steps].sum()) / total if total > 0.0 else 0.0
        middles = bands_hz()[bands]
        found.append(
            Covered(
                float(middles.min() / half),
                float(middles.max() * half),
                float(steps.min() * STEP_S),
                float((steps.max() + 1) * STEP_S),
                share,
            )
        )
    return tuple(sorted(found, key=lambda one: -one.share)[:most])


def together(first: Signal, second: Signal, sample_rate: int) -> Together:
    """What the lows of two sounds are together, and where the second would fit better.

    The energy of a sum is that of both and twice their correlation, so the best shift is where that
    is greatest.
    """
    frames = max(first.shape[1], second.shape[1])
    lows = butter(4, _LOW_HZ, fs=sample_rate, output="sos")
    a, b = (
        sosfilt(lows, np.pad(one.mean(axis=0), (0, frames - one.shape[1])))
        for one in (first, second)
    )
    energy_a, energy_b = float(a @ a), float(b @ b)
    louder = max(energy_a, energy_b, 10.0 ** (_FLOOR_DB / 10.0))
    across = correlate(a, b, mode="full", method="fft")
    reach, middle = round(_FARTHEST_S * sample_rate), frames - 1
    near = across[max(0, middle - reach) : middle + reach + 1]
    best = int(np.argmax(near))
    shift = best - min(middle, reach)

    def summed(correlation: float) -> float:
        energy = max(energy_a + energy_b + 2.0 * correlation, louder * 1e-12)
        return float(10.0 * np.log10(energy / louder))

    return Together(
        summed(float(across[middle])),
        summed(-float(across[middle])),
        shift / sample_rate,
        summed(float(near[best])),
    )


def offers(
    first: Signal, second: Signal, sample_rate: int, seconds: float = 0.05
) -> tuple[Offer, ...]:
    """Changes of the second sound that let 3 dB less of the first be hidden, each the smallest that
    does: a longer attack (s), a low cut (Hz), ducking under the first (dB)."""
    before = overlap(first, second, sample_rate, seconds).hidden_db
    if before < _LEAST_HIDDEN_DB:
        return ()
    found = []
    for kind, values, change in (
        ("attack", _ATTACKS_S, _with_attack),
        ("low_cut", _LOW_CUTS_HZ, _with_low_cut),
        ("duck", _DUCKS_DB, _ducked),
    ):
        for value in values:
            changed = change(second, value, sample_rate)
            after = overlap(first, changed, sample_rate, seconds).hidden_db
            if before - after >= _HELPS_DB:
                found.append(Offer(kind, value, before, after))
                break
    return tuple(found)


def _with_attack(signal: Signal, seconds: float, sample_rate: int) -> Signal:
    frames = max(1, round(seconds * sample_rate))
    rise = np.minimum(1.0, np.arange(signal.shape[1]) / frames)
    return signal * rise


def _with_low_cut(signal: Signal, hz: float, sample_rate: int) -> Signal:
    return np.asarray(sosfilt(butter(2, hz, "highpass", fs=sample_rate, output="sos"), signal))


def _ducked(signal: Signal, amount_db: float, sample_rate: int) -> Signal:
    return np.asarray(signal * 10.0 ** (-amount_db / 20.0))
