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
from nest_crate.core.dsp.sync import STEP_RESIDUAL, sync_places

__all__ = ["feedback_tone"]

# Cycles by which the full output moves the phase at feedback 1; a sine is then near a sawtooth.
_MOST_CYCLES = 0.2


def feedback_tone(
    frequency_hz: NDArray[np.float64],
    tables: CycleTables,
    *,
    amount: float | NDArray[np.float64],
    sample_rate: int,
    voices: Sequence[Voice],
    octaves: int,
    phase_cycles: NDArray[np.float64] | None = None,
    frequency_share: NDArray[np.float64] | None = None,
    sync_hz: NDArray[np.float64] | None = None,
    sync_share: NDArray[np.float64] | None = None,
) -> NDArray[np.float64]:
    """As ``oscillators.tone_signal``, with the tone's own output added to its phase.

    Parameters
    ----------
    amount
        of the tone's own output, 0 to 1; one number, or one for each frame.
    phase_cycles : np.ndarray [shape=(frames,)]
        added to the phase, in cycles: phase modulation by another signal.
    frequency_share : np.ndarray [shape=(frames,)]
        added to the frequency as a part of it: linear frequency modulation, through zero.
    sync_hz, sync_share : np.ndarray [shape=(frames,)]
        pitch of a tone with each of whose cycles this one begins again, and how far back it is
        brought there: 1 to its start phase (hard sync), 0 not at all.
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
    if frequency_share is not None:
        moved_hz *= 1.0 + _raised(frequency_share, octaves)
    highest_hz = float(frequency_hz.max()) * max(voice.ratio for voice in voices)
    # The richest partials shall be in hearing range: what feedback adds comes on top.
    rows, _ = tables.rows(2.0 * highest_hz, 2.0 * highest_hz, sample_rate)
    bent = np.zeros(1) if phase_cycles is None else _raised(phase_cycles, octaves)
    depth = np.atleast_1d(np.asarray(amount, dtype=np.float64)) * _MOST_CYCLES
    if depth.shape[0] > 1:
        depth = np.repeat(depth, 1 << octaves)
    if sync_hz is None or sync_share is None:
        for voice in voices:
            gains, start = np.array(voice.gains), voice.phase % 1.0
            _read_own(raised, moved_hz, start, voice.ratio / rate, rows[0], depth, gains, bent)
        return return_rate(raised, octaves)
    places, parts = sync_places(np.repeat(sync_hz, 1 << octaves) / rate)
    share = np.repeat(sync_share, 1 << octaves)
    for voice in voices:
        own = np.zeros(raised.shape[1])
        start = voice.phase % 1.0
        _read_synced(
            own,
            moved_hz,
            start,
            voice.ratio / rate,
            rows[0],
            depth,
            bent,
            places,
            parts,
            share,
            STEP_RESIDUAL,
        )
        for channel, gain in enumerate(voice.gains):
            raised[channel] += gain * own
    return return_rate(raised, octaves)


def _raised(signal: NDArray[np.float64], octaves: int) -> NDArray[np.float64]:
    raised: NDArray[np.float64] = raise_rate(np.ascontiguousarray(signal[np.newaxis]), octaves)[0]
    return raised


@njit(cache=True, nogil=True)
def _read_own(out, frequency_hz, start, step, table, depth, gains, bent):  # type: ignore[no-untyped-def]
    """Add a voice to out (channels, frames); bent and depth are (frames,) in cycles, or (1,)."""
    moved = bent.shape[0] > 1
    deepening = depth.shape[0] > 1
    own = depth[0]
    phase = start
    last, before = 0.0, 0.0
    for n in range(out.shape[1]):
        if deepening:
            own = depth[n]
        place = phase + own * 0.5 * (last + before)
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


@njit(cache=True, nogil=True)
def _table_value(table, place):  # type: ignore[no-untyped-def]
    """Straight line in a row at a phase in cycles."""
    position = (place - np.floor(place)) * TABLE_LENGTH
    index = np.uint64(np.int64(position))
    b = table[index + np.uint64(1)]
    return b + (table[index + np.uint64(2)] - b) * (position - np.int64(position))


@njit(cache=True, nogil=True)
def _read_synced(  # type: ignore[no-untyped-def]
    out, frequency_hz, start, step, table, depth, bent, places, parts, share, residual
):
    """As ``_read_own`` for one channel (frames,), beginning again where ``places`` say.

    ``parts`` tell how much of a frame has gone by since the beginning; each jump of the value is
    made a band-limited one by ``residual`` (phases, taps), whose middle is the jump.
    """
    moved, deepening = bent.shape[0] > 1, depth.shape[0] > 1
    own = depth[0]
    phase = start
    last, before = 0.0, 0.0
    event = 0
    half = residual.shape[1] // 2
    for n in range(out.shape[0]):
        if deepening:
            own = depth[n]
        bending = own * 0.5 * (last + before)
        if moved:
            bending += bent[n]
        if event < places.shape[0] and places[event] == n:
            part = parts[event]
            increment = frequency_hz[n] * step
            # Where the phase stood when the other tone's cycle ended, and where it is put.
            reached = phase - part * increment
            gone = reached - start
            gone -= np.floor(gone)
            put = reached - share[n] * gone
            jump = _table_value(table, put + bending) - _table_value(table, reached + bending)
            phase = put + part * increment
            # The jump lies ``part`` of a frame before frame n.
            column = int(part * (residual.shape[0] - 1) + 0.5)
            for tap in range(residual.shape[1]):
                at = n - half + tap
                if 0 <= at < out.shape[0]:
                    out[at] += jump * residual[column, tap]
            event += 1
        value = _table_value(table, phase + bending)
        before = last
        last = value
        out[n] += value
        phase += frequency_hz[n] * step
        phase -= np.floor(phase)
