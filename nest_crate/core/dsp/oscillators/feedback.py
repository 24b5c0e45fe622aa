"""A tone whose phase is bent by itself or by another signal, oversampled.

A tone that bends its own phase does so by what one pole at ``_LOOP_HZ`` lets through of it, solved
without a delay (Zavalishin, "The Art of VA Filter Design", 2018, section 3.10), and of its partials
below ``_LOOP_PARTIALS_HZ``: the same sound at every rate, and a loop that never has two answers.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter1d, uniform_filter1d

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.oscillators.cycles import TABLE_LENGTH, CycleTables
from nest_crate.core.dsp.oscillators.oscillator import Voice
from nest_crate.core.dsp.oscillators.phase_modulation import (
    AHEAD,
    ALONE,
    READ_TO,
    Bending,
    Block,
    Lowering,
    row_of,
    share_of,
)
from nest_crate.core.dsp.oscillators.sync import SLOPE_RESIDUAL, STEP_RESIDUAL, sync_places
from nest_crate.core.dsp.util.interpolation import cubic_terms

__all__ = ["feedback_tone"]

Numbers = NDArray[np.float64]

# Cycles by which the full output moves the phase at feedback 1; a sine is then near a sawtooth.
_MOST_CYCLES = 0.2
_LOOP_HZ, _LOOP_PARTIALS_HZ = 12000.0, 20000.0
# How steep the loop may be at each step; at 1 it would have two answers.
_STEEPEST = 0.15
_ROUNDS, _NEAR = 12, 1e-8
# Raised frames within which the loop's own speeds are compared, and what is kept of a block before
# for that and for steps that reach into the next.
_OWN_NEARBY, _KEPT = 16, 64


def feedback_tone(
    frequency_hz: Numbers,
    tables: CycleTables,
    *,
    amount: float | Numbers,
    sample_rate: int,
    voices: Sequence[Voice],
    octaves: int,
    phase_cycles: Numbers | None = None,
    frequency_share: Numbers | None = None,
    sync_hz: Numbers | None = None,
    sync_share: Numbers | None = None,
) -> Numbers:
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
    out = np.zeros((len(voices[0].gains), frequency_hz.shape[0]))
    if not out.shape[1]:
        return out
    bending = Bending(frequency_hz, sample_rate, octaves, phase_cycles, frequency_share)
    rate = bending.raised_rate
    ratios = [voice.ratio for voice in voices]
    slowest_hz = float(frequency_hz.min()) * min(ratios)
    rows, limits_hz = tables.rows(slowest_hz, READ_TO * rate, round(2.0 * READ_TO * rate))
    depth = np.atleast_1d(np.asarray(amount, dtype=np.float64)) * _MOST_CYCLES
    loop = _Loop.of(rows, limits_hz / rate, float(depth.max()), rate)
    again = None
    if sync_hz is not None and sync_share is not None:
        again = _Restarts.of(sync_hz / rate, sync_share, 1 << octaves)
    readers = [_Reader(voice, rows, limits_hz / rate, loop, again, rate) for voice in voices]
    lowering = Lowering(out, octaves)
    for block in bending.blocks(max(ratios)):
        own = depth
        if depth.shape[0] > 1:
            spans = np.minimum(np.arange(block.begin, block.end + AHEAD), depth.shape[0] - 1)
            own = np.repeat(depth[spans], 1 << octaves)
        raised = np.zeros((out.shape[0], (block.end - block.begin) << octaves))
        for voice, reader in zip(voices, readers, strict=True):
            # A block of sixteen voices takes longer than anybody should wait for an end.
            checkpoint()
            read = reader.read(block, own, octaves)
            for channel, gain in enumerate(voice.gains):
                raised[channel] += gain * read
        lowering.push(raised)
    return lowering.finish()


@dataclass(frozen=True)
class _Loop:
    """How a tone hears itself: what its pole takes in, and the rows that it may read."""

    taken: float
    rows: Numbers
    limits: Numbers
    loops: bool

    @classmethod
    def of(cls, rows: Numbers, limits: Numbers, depth: float, rate: int) -> _Loop:
        pole = math.tan(math.pi * min(0.45, _LOOP_HZ / rate))
        taken = pole / (1.0 + pole)
        slopes = np.abs(np.diff(rows, axis=1)).max(axis=1) * TABLE_LENGTH
        calm = max(1, int(np.searchsorted(slopes * taken * depth > _STEEPEST, True)))
        heard = limits[:calm] * (_LOOP_PARTIALS_HZ / (READ_TO * rate))
        return cls(taken, rows[:calm].copy(), heard, depth > 0.0)


@dataclass(frozen=True)
class _Restarts:
    """Raised frames at which a tone begins again, how much of a frame before, how far back."""

    places: NDArray[np.int64]
    parts: Numbers
    shares: Numbers

    @classmethod
    def of(cls, cycles: Numbers, share: Numbers, times: int) -> _Restarts:
        places, parts = sync_places(cycles, times)
        return cls(places, parts, share[places // times])

    def within(self, begin: int, end: int) -> _Restarts:
        """Those from one raised frame to another, counted from the first."""
        first, last = np.searchsorted(self.places, [begin, end])
        cut = slice(int(first), int(last))
        return _Restarts(self.places[cut] - begin, self.parts[cut], self.shares[cut])


_NEVER = _Restarts(np.zeros(0, dtype=np.int64), np.zeros(0), np.zeros(0))


class _Reader:
    """One voice, which goes on from block to block."""

    def __init__(
        self,
        voice: Voice,
        rows: Numbers,
        limits: Numbers,
        loop: _Loop,
        again: _Restarts | None,
        rate: int,
    ) -> None:
        self._start, self._step = voice.phase % 1.0, voice.ratio / rate
        self._rows, self._limits, self._loop, self._again = rows, limits, loop, again
        # Phase, the pole's state, its last output and the one before.
        self._state = np.array([self._start, 0.0, 0.0, 0.0])
        self._places, self._speeds = np.zeros(_KEPT), np.zeros(_KEPT)
        self._marks = np.zeros((0, 3))

    def read(self, block: Block, depth: Numbers, octaves: int) -> Numbers:
        """The voice over a block, shape (raised frames,)."""
        count = (block.end - block.begin) << octaves
        begin = block.begin << octaves
        places = np.concatenate([self._places, np.empty(block.hz.shape[0])])
        speeds = np.concatenate([self._speeds, np.empty(block.hz.shape[0])])
        again = _NEVER
        if self._again is not None:
            again = self._again.within(begin, begin + block.hz.shape[0])
        marks = np.zeros((again.places.shape[0], 3))
        _bend(
            (places[_KEPT:], speeds[_KEPT:], marks),
            (block.hz, block.bent, block.speed, depth),
            (self._start, self._step, 1 << octaves, count),
            self._state,
            (self._loop.rows, self._loop.limits, self._loop.taken),
            (again.places, again.parts, again.shares),
        )
        nearby = speeds
        if self._loop.loops:
            nearby = maximum_filter1d(speeds, 2 * _OWN_NEARBY + 1)
            nearby = uniform_filter1d(nearby, _OWN_NEARBY + 1)
        out = np.empty(count)
        _read(out, places[_KEPT:], nearby[_KEPT:], self._rows, self._limits)
        if self._again is not None:
            # Steps shortly before the block and shortly behind it reach into it.
            near = self._again.within(begin - _KEPT, begin + block.hz.shape[0])
            known = np.concatenate([self._marks, marks])
            steps = (near.places, near.parts, known[known.shape[0] - near.places.shape[0] :])
            _restart(out, steps, nearby, self._rows, self._limits, STEP_RESIDUAL, SLOPE_RESIDUAL)
            kept = self._again.within(begin + count - _KEPT, begin + count).places.shape[0]
            before = self._again.within(begin, begin + count).places.shape[0]
            self._marks = (
                np.concatenate([self._marks, marks[:before]])[-kept:] if kept else marks[:0]
            )
        self._places, self._speeds = places[count : count + _KEPT], speeds[count : count + _KEPT]
        return out


@njit(cache=True, nogil=True, inline="always")
def _reading(table, place):  # type: ignore[no-untyped-def]
    """A row (columns + 3,) at a phase in cycles, and its slope per cycle: 4-point Lagrange."""
    position = (place - np.floor(place)) * TABLE_LENGTH
    index = np.uint64(np.int64(position))
    x = position - np.int64(position)
    a, b = table[index], table[index + np.uint64(1)]
    c, d = table[index + np.uint64(2)], table[index + np.uint64(3)]
    c1, c2, c3 = cubic_terms(a, b, c, d)
    value = ((c3 * x + c2) * x + c1) * x + b
    return value, ((3.0 * c3 * x + 2.0 * c2) * x + c1) * TABLE_LENGTH


@njit(cache=True, nogil=True, inline="always")
def _value(table, place):  # type: ignore[no-untyped-def]
    """As ``_reading``, the value alone."""
    return _reading(table, place)[0]


@njit(cache=True, nogil=True)
def _mixed_reading(tables, row, share, place):  # type: ignore[no-untyped-def]
    """Between a row and the sparser one before it; ``share`` is the row's own."""
    value, slope = _reading(tables[row], place)
    if share < 1.0:
        sparser, sparser_slope = _reading(tables[row - 1], place)
        value = sparser + share * (value - sparser)
        slope = sparser_slope + share * (slope - sparser_slope)
    return value, slope


@njit(cache=True, nogil=True)
def _solved(tables, row, share, place, depth, state, guess, taken):  # type: ignore[no-untyped-def]
    """What the loop's pole puts out, z, where the tone reads itself at place + depth * z.

    z = (1 - taken) * state + taken * value(place + depth * z), by Newton's steps within a bracket.
    """
    base = (1.0 - taken) * state
    low, high = base - 3.0 * taken, base + 3.0 * taken
    z = min(high, max(low, guess))
    for _ in range(_ROUNDS):
        value, slope = _mixed_reading(tables, row, share, place + depth * z)
        lacking = z - base - taken * value
        if abs(lacking) < _NEAR:
            break
        if lacking > 0.0:
            high = z
        else:
            low = z
        z -= lacking / (1.0 - taken * depth * slope)
        if z <= low or z >= high:
            z = 0.5 * (low + high)
    return z


@njit(cache=True, nogil=True)
def _bend(made, bending, motion, state, loop, again):  # type: ignore[no-untyped-def]
    """The phase that is read, in cycles, and its speed at each raised frame of a block.

    ``made`` are places and speeds (frames,), and marks (restarts, 3): the phase before and after
    each restart, and cycles a frame there. ``state`` is that of the frame numbered ``count``
    afterwards.
    """
    places, speeds, marks = made
    hz, bent, speed_at, depth = bending
    start, step, times, count = motion
    tables, limits, taken = loop
    again_at, again_part, again_share = again
    moved, deepening = bent.shape[0] > 1, depth.shape[0] > 1
    own = depth[0]
    phase, held, z, before = state[0], state[1], state[2], state[3]
    row = event = 0
    for n in range(places.shape[0]):
        if n == count:
            state[0], state[1], state[2], state[3] = phase, held, z, before
        if deepening:
            own = depth[n]
        increment = hz[n] * step
        bending_here = bent[n] if moved else 0.0
        if event < again_at.shape[0] and again_at[event] == n:
            # Where the phase stood when the other tone's cycle ended, and where it is put.
            part = again_part[event]
            reached = phase - part * increment
            gone = reached - start
            gone -= np.floor(gone)
            put = reached - again_share[event] * gone
            lean = bending_here + own * z
            marks[event, 0], marks[event, 1], marks[event, 2] = (
                reached + lean,
                put + lean,
                increment,
            )
            phase = put + part * increment
            event += 1
        frame = n // times
        x = (n - frame * times) / times
        speed = speed_at[frame] + x * (speed_at[frame + 1] - speed_at[frame])
        place = phase + bending_here
        if own > 0.0:
            row = row_of(min(row, limits.shape[0] - 1), speed, limits)
            guess = 2.0 * z - before
            before = z
            share = share_of(row, speed, limits)
            z = _solved(tables, row, share, place, own, held, guess, taken)
            held = 2.0 * z - held
            place += own * z
            speed += own * abs(z - before)
        places[n] = place
        speeds[n] = speed
        phase += increment
        phase -= np.floor(phase)
    if count == places.shape[0]:
        state[0], state[1], state[2], state[3] = phase, held, z, before


@njit(cache=True, nogil=True)
def _read(out, places, speeds, tables, limits):  # type: ignore[no-untyped-def]
    """The rows (rows, columns + 3) at phases in cycles, each by its speed, into out (frames,)."""
    row = limits.shape[0] - 1
    n = 0
    while n < out.shape[0]:
        row = row_of(row, speeds[n], limits)
        # As long as one row is heard alone there is nothing to decide.
        slowest = limits[row + 1] if row < limits.shape[0] - 1 else -1.0
        alone = ALONE * limits[row] if row > 0 else np.inf
        end = n
        while end < out.shape[0] and slowest < speeds[end] <= alone:
            end += 1
        table = tables[row]
        if end > n:
            for k in range(n, end):
                out[k] = _value(table, places[k])
            n = end
        else:
            share = share_of(row, speeds[n], limits)
            value, sparser = _value(table, places[n]), _value(tables[row - 1], places[n])
            out[n] = sparser + share * (value - sparser)
            n += 1


@njit(cache=True, nogil=True)
def _restart(out, steps, speeds, tables, limits, residual, slope_residual):  # type: ignore[no-untyped-def]
    """Make each restart's step of the value and of the slope a band-limited one, in out (frames,).

    Restarts are counted from ``_KEPT`` frames before out, as speeds are; residuals (phases, taps).
    """
    at, parts, marks = steps
    half = residual.shape[1] // 2
    row = limits.shape[0] - 1
    for event in range(at.shape[0]):
        speed = speeds[at[event]]
        row = row_of(row, speed, limits)
        share = share_of(row, speed, limits)
        old, old_slope = _mixed_reading(tables, row, share, marks[event, 0])
        new, new_slope = _mixed_reading(tables, row, share, marks[event, 1])
        jump, bow = new - old, (new_slope - old_slope) * marks[event, 2]
        # The step lies a part of a frame before its frame.
        column = parts[event] * (residual.shape[0] - 1)
        whole = min(int(column), residual.shape[0] - 2)
        x = column - whole
        for tap in range(residual.shape[1]):
            n = at[event] - _KEPT - half + tap
            if 0 <= n < out.shape[0]:
                value = residual[whole, tap] * (1.0 - x) + residual[whole + 1, tap] * x
                slope = slope_residual[whole, tap] * (1.0 - x) + slope_residual[whole + 1, tap] * x
                out[n] += jump * value + bow * slope
