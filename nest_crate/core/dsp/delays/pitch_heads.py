"""Reading a delay line faster or slower than it is written: echoes that climb or fall.

One head reads at its own speed. Where it would leave its grain it is faded over into another one,
about a grain away, which is put where the line is most like what is read: Verhelst and Roelands,
"An Overlap-Add Technique Based on Waveform Similarity (WSOLA) for High Quality Time-Scale
Modification of Speech" (ICASSP 1993). So a steady tone goes on in phase.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.delays.echoes import SHORTEST_FRAMES, between_frames
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["Heads", "move_heads", "read_heads", "transposed_echoes"]

_FADE_S, _COMPARED_S, _REACH_S = 0.008, 0.012, 0.012
# Lags and frames are looked at in such steps first, and one by one around the best.
_COARSE = 3


class Heads:
    """What reading heads need: the nearest delay and the grain in frames, the fade, what is
    compared and how far around, and the room that all this takes in the line."""

    def __init__(self, nearest: float, grain: float, sample_rate: int) -> None:
        fade = min(_FADE_S * sample_rate, 0.25 * grain)
        self.numbers = (nearest, grain, max(1.0, round(fade)))
        reach = min(round(_REACH_S * sample_rate), int(0.45 * grain))
        self.search = (round(_COMPARED_S * sample_rate), max(1, reach))
        self.room = math.ceil(nearest + 2.5 * grain) + self.search[0] + self.search[1] + 16

    def state(self) -> NDArray[np.float64]:
        """A head in the middle of its grain: its delay, that of the one that comes in, frames of
        the fade that are left, and of the whole fade."""
        nearest, grain, _ = self.numbers
        return np.array([nearest + 0.5 * grain, 0.0, 0.0, 1.0])


@njit(cache=True, nogil=True)
def read_heads(memory, place, state):  # type: ignore[no-untyped-def]
    """The value between frames of one line (ring,), by the head or on the way to the next."""
    value = between_frames(memory, place, state[0])
    if state[2] > 0.0:
        other = between_frames(memory, place, state[1])
        value = other + state[2] / state[3] * (value - other)
    return value


@njit(cache=True, nogil=True)
def move_heads(lines, place, state, ratio, numbers, search):  # type: ignore[no-untyped-def]
    """Go on by one frame; lines (channels, ring) share their heads."""
    nearest, grain, fade = numbers
    # Wherever a ratio that moves may carry a head, it stays within the line.
    furthest = nearest + 1.9 * grain
    state[0] = min(furthest, max(nearest, state[0] + 1.0 - ratio))
    if state[2] > 0.0:
        state[1] = min(furthest, max(nearest, state[1] + 1.0 - ratio))
        state[2] -= 1.0
        if state[2] <= 0.0:
            state[0] = state[1]
        return
    # While it fades a head goes through no more than a fifth of its grain.
    speed = abs(1.0 - ratio)
    fade = min(fade, max(1.0, np.floor(0.2 * grain / max(speed, 1e-9))))
    used = fade * speed
    if ratio > 1.0 and state[0] < nearest + used:
        jump = grain - used
        state[1] = state[0] + _alike(lines, place, state[0], jump, search)
        state[2] = state[3] = fade
    elif ratio < 1.0 and state[0] > nearest + grain - used:
        # However far around the next head is put, it stays within the grain.
        jump = max(0.5 * grain, grain - used - search[1])
        state[1] = max(nearest, state[0] - _alike(lines, place, state[0] - jump, jump, search))
        state[2] = state[3] = fade


@njit(cache=True, nogil=True)
def _likeness(lines, place, first, lag, count, step):  # type: ignore[no-untyped-def]
    """Correlation of a line from ``first`` frames ago with itself ``lag`` earlier, from -1 to 1."""
    size = lines.shape[1]
    product = own = other = 1e-20
    for channel in range(lines.shape[0]):
        line = lines[channel]
        a = place - first
        b = place - first - lag
        if a < 0:
            a += size
        if b < 0:
            b += size
        for _ in range(0, count, step):
            x, y = line[a], line[b]
            product += x * y
            own += x * x
            other += y * y
            a -= step
            b -= step
            if a < 0:
                a += size
            if b < 0:
                b += size
    return product / np.sqrt(own * other)


@njit(cache=True, nogil=True)
def _alike(lines, place, delay, jump, search):  # type: ignore[no-untyped-def]
    """About ``jump`` frames, by which a line is most like itself from ``delay`` ago on; at least
    half of it, so that heads go further than they are carried while they fade."""
    count, reach = search
    first = int(delay)
    middle = int(jump)
    least, most = max(2, int(np.ceil(0.5 * jump))), int(1.4 * jump) + 2
    best, found = max(least, middle), -2.0
    for lag in range(max(least, middle - reach), min(most, middle + reach) + 1, _COARSE):
        like = _likeness(lines, place, first, lag, count, _COARSE)
        if like > found + 1e-9:
            best, found = lag, like
    coarse = best
    found = -2.0
    for lag in range(max(least, coarse - _COARSE), min(most, coarse + _COARSE) + 1):
        like = _likeness(lines, place, first, lag, count, 1)
        if like > found:
            best, found = lag, like
    before = _likeness(lines, place, first, best - 1, count, 1)
    after = _likeness(lines, place, first, best + 1, count, 1)
    bow = 2.0 * found - before - after
    if bow <= 1e-12:
        return float(best)
    return best + min(0.5, max(-0.5, 0.5 * (after - before) / bow))


def transposed_echoes(
    signal: Signal,
    *,
    time_s: float,
    ratio: NDArray[np.float64],
    feedback: NDArray[np.float64],
    grain_s: float,
    low_cut_hz: float,
    high_cut_hz: float,
    sample_rate: int,
) -> Signal:
    """The echoes alone: each is transposed once more than the one before.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    ratio, feedback : np.ndarray [shape=(frames,)]
        of frequencies, and of the loop.
    time_s
        to the middle of the grain.
    """
    delay = max(2.0 * SHORTEST_FRAMES + 2.0, time_s * sample_rate)
    grain = min(grain_s * sample_rate, 2.0 * (delay - SHORTEST_FRAMES))
    heads = Heads(delay - 0.5 * grain, grain, sample_rate)
    low_pole, high_pole = (
        math.exp(-2.0 * math.pi * hz / sample_rate) for hz in (low_cut_hz, high_cut_hz)
    )
    out = np.empty_like(signal)
    memory = np.zeros((signal.shape[0], heads.room))
    reading = (heads.state(), heads.numbers, heads.search)
    _echoes(out, signal, memory, reading, ratio, feedback, (low_pole, high_pole), cancel_flag())
    return out


@njit(cache=True, nogil=True)
def _echoes(out, signal, memory, heads, ratio, feedback, poles, cancel):  # type: ignore[no-untyped-def]
    """out, signal (channels, frames); memory (channels, ring); ratio, feedback (frames,)."""
    state, numbers, search = heads
    low_pole, high_pole = poles
    channels, size = memory.shape
    smooth, slow = np.zeros(channels), np.zeros(channels)
    place = 0
    for n in range(signal.shape[1]):
        if n % 4096 == 0 and cancel[0]:
            return
        for channel in range(channels):
            late = read_heads(memory[channel], place, state)
            smooth[channel] = (1.0 - high_pole) * late + high_pole * smooth[channel]
            slow[channel] = (1.0 - low_pole) * smooth[channel] + low_pole * slow[channel]
            if abs(smooth[channel]) < 1e-30:
                smooth[channel] = 0.0
            if abs(slow[channel]) < 1e-30:
                slow[channel] = 0.0
            out[channel, n] = smooth[channel] - slow[channel]
            memory[channel, place] = signal[channel, n] + feedback[n] * out[channel, n]
        move_heads(memory, place, state, ratio[n], numbers, search)
        place = place + 1 if place + 1 < size else 0
