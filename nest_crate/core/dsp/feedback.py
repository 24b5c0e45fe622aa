"""A tone whose phase is bent by itself or by another signal (phase modulation), oversampled.

The mean of the last two outputs is fed back, which keeps the loop from alternating at the highest
frequency: Tomisawa, US patent 4,249,447 (1981), figure 4.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.cycles import TABLE_LENGTH, CycleTables
from nest_crate.core.dsp.oscillators import Voice
from nest_crate.core.dsp.oversampling import raise_rate, return_rate

__all__ = ["feedback_tone"]

# Cycles by which the full output moves the phase at feedback 1; a sine is then near a sawtooth.
_MOST_CYCLES = 0.2


def feedback_tone(
    frequency_hz: NDArray[np.float64],
    tables: CycleTables,
    *,
    amount: float,
    sample_rate: int,
    voices: Sequence[Voice],
    octaves: int,
    phase_cycles: NDArray[np.float64] | None = None,
) -> NDArray[np.float64]:
    """As ``oscillators.tone_signal``, with the tone's own output added to its phase.

    Parameters
    ----------
    amount
        of the tone's own output, 0 to 1.
    phase_cycles : np.ndarray [shape=(frames,)]
        added to the phase, in cycles: phase modulation by another signal.
    octaves
        how often the rate is doubled inside.
    """
    channels = len(voices[0].gains)
    frames = frequency_hz.shape[0]
    raised = np.zeros((channels, frames << octaves))
    if frames == 0:
        return raised
    rate = sample_rate << octaves
    moved_hz = np.repeat(frequency_hz, 1 << octaves)
    highest_hz = float(frequency_hz.max()) * max(voice.ratio for voice in voices)
    # The richest partials shall be in hearing range: what feedback adds comes on top.
    rows, _ = tables.rows(2.0 * highest_hz, 2.0 * highest_hz, sample_rate)
    if phase_cycles is None:
        bent = np.zeros(1)
    else:
        bent = raise_rate(np.ascontiguousarray(phase_cycles[np.newaxis]), octaves)[0]
    for voice in voices:
        gains = np.array(voice.gains)
        start = voice.phase % 1.0
        depth = amount * _MOST_CYCLES
        _read_own(raised, moved_hz, start, voice.ratio / rate, rows[0], depth, gains, bent)
    return return_rate(raised, octaves)


@njit(cache=True, nogil=True)
def _read_own(out, frequency_hz, start, step, table, depth, gains, bent):  # type: ignore[no-untyped-def]
    """Add a voice to out (channels, frames); bent is (frames,) in cycles, or (1,) for none."""
    moved = bent.shape[0] > 1
    phase = start
    last, before = 0.0, 0.0
    for n in range(out.shape[1]):
        place = phase + depth * 0.5 * (last + before)
        if moved:
            place += bent[n]
        position = (place - np.floor(place)) * TABLE_LENGTH
        index = np.uint64(np.int64(position))
        x = position - np.int64(position)
        b = table[index + np.uint64(1)]
        value = b + (table[index + np.uint64(2)] - b) * x
        before = last
        last = value
        for channel in range(out.shape[0]):
            out[channel, n] += gains[channel] * value
        phase += frequency_hz[n] * step
        phase -= np.floor(phase)
