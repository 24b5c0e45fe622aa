"""Sides laid over each other: where each begins, how loud each is."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft, next_fast_len, rfft

from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.dsp.util.signals import Signal, peak

__all__ = ["MATCHES", "Match", "gain_db", "later_by", "sounds_from"]

Match = Literal["loudness", "peak", "off"]
MATCHES: tuple[Match, ...] = ("loudness", "peak", "off")

# The first frame so far below the peak begins the sound.
_ONSET_DB = -40.0
_SILENT = 1e-6
# Around the onsets the waveforms are looked at for so long, and moved by so much.
_LOOKED_AT_S = 0.12
_MOVED_S = 0.012
# The waveform of a low note fits as well a period later: what lies further from the onsets has to
# fit better, by so much at the end.
_FURTHER_FITS_LESS = 0.4
# Below it, waveforms are not alike enough to say more than the onsets do.
_LEAST_ALIKE = 0.5
_MOST_GAIN_DB = 60.0


def sounds_from(signal: Signal) -> int | None:
    """The frame at which a signal begins to sound; None for silence, of which DC is a kind."""
    moving = signal - signal.mean(axis=1, keepdims=True) if signal.size else signal
    size = np.abs(moving).max(axis=0, initial=0.0)
    largest = float(size.max(initial=0.0))
    if largest < _SILENT:
        return None
    return int(np.flatnonzero(size >= largest * 10.0 ** (_ONSET_DB / 20.0))[0])


def later_by(first: Signal, second: Signal, sample_rate: int) -> int:
    """By how many frames the second side begins later than the first; 0 where one is silent.

    Onsets say where about; where the waveforms around them are alike, the frame at which they
    correlate best says where exactly.
    """
    begins, other_begins = sounds_from(first), sounds_from(second)
    if begins is None or other_begins is None:
        return 0
    reach, looked = round(_MOVED_S * sample_rate), round(_LOOKED_AT_S * sample_rate)
    # Steps from frame to frame: highs say more exactly when than lows do.
    one, other = (
        np.diff(_around(signal.mean(axis=0), onset, reach, looked))
        for signal, onset in zip((first, second), (begins, other_begins), strict=True)
    )
    moved, alike = _best_move(one, other, reach)
    rough = other_begins - begins
    return rough + moved if alike >= _LEAST_ALIKE else rough


def _around(mono: NDArray[np.float64], onset: int, before: int, after: int) -> NDArray[np.float64]:
    cut = np.zeros(before + after)
    begin = max(0, onset - before)
    part = mono[begin : onset + after]
    at = before - (onset - begin)
    cut[at : at + part.size] = part
    return cut


def _best_move(
    one: NDArray[np.float64], other: NDArray[np.float64], reach: int
) -> tuple[int, float]:
    """By how many frames the other comes later, and how alike both are then, from 0 to 1."""
    energy = float(np.sqrt((one @ one) * (other @ other)))
    if energy <= 0.0:
        return 0, 0.0
    size = next_fast_len(one.size + other.size, real=True)
    across = irfft(rfft(other, size) * np.conj(rfft(one, size)), size)
    moves = np.arange(-reach, reach + 1)
    found = np.abs(across[moves])
    best = int((found * (1.0 - _FURTHER_FITS_LESS * np.abs(moves) / reach)).argmax())
    return int(moves[best]), float(found[best] / energy)


def gain_db(first: Signal, second: Signal, sample_rate: int, match: Match) -> float:
    """What makes the second side as loud as the first, at most 60 dB; 0 where one is silent."""
    begins, other_begins = sounds_from(first), sounds_from(second)
    if match == "off" or begins is None or other_begins is None:
        return 0.0
    # Blocks of the loudness meter fall alike only where both begin alike.
    first, second = first[:, begins:], second[:, other_begins:]
    if match == "peak":
        apart = 20.0 * float(np.log10(peak(first) / peak(second)))
    else:
        apart = float(
            integrated_loudness_lufs(first, sample_rate)
            - integrated_loudness_lufs(second, sample_rate)
        )
    return float(np.clip(apart, -_MOST_GAIN_DB, _MOST_GAIN_DB))
