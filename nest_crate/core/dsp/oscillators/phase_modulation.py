"""What bends the phase of a tone, at several times the rate and block by block, and the way back.

How many partials may be read is chosen by how fast the phase goes nearby, not anywhere in the hit;
and near enough that what swings quickly does not switch partials off and on as it swings.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter1d, uniform_filter1d

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.resampling.oversampling import raise_cleanly, return_rate

__all__ = ["AHEAD", "ALONE", "READ_TO", "Bending", "Block", "Lowering", "row_of", "share_of"]

Numbers = NDArray[np.float64]

# Of the raised rate: partials that go no faster are read. What folds onto hearing range must go
# nearly four times as fast, and what bends them spreads them less far than that.
READ_TO = 0.25

# Base frames that a block shows of what follows it.
AHEAD = 32
_BLOCK = 16384
# Base frames that the filters up and down reach, and seconds within which speeds are compared: a
# swing of 250 Hz and more is seen as its fastest.
_REACH = 112
_NEARBY_S = 0.002
# Rows lie a sixth apart, or more.
_FADE = 0.1
ALONE = 1.0 - _FADE


@dataclass(frozen=True)
class Block:
    """Base frames ``begin`` to ``end`` and ``AHEAD`` beyond: pitch in Hz and added phase in cycles
    at the raised rate ((1,) where nothing is added), and the speed nearby in cycles a raised frame,
    at each base frame and one more."""

    begin: int
    end: int
    hz: Numbers
    bent: Numbers
    speed: Numbers


@dataclass(frozen=True)
class Bending:
    """A pitch (frames,) with what bends it: phase_cycles and frequency_share (frames,), or None."""

    frequency_hz: Numbers
    sample_rate: int
    octaves: int
    phase_cycles: Numbers | None = None
    frequency_share: Numbers | None = None

    @property
    def raised_rate(self) -> int:
        return self.sample_rate << self.octaves

    def blocks(self, ratio: float) -> Iterator[Block]:
        """The blocks in order; ``ratio`` is that of the voice that goes fastest."""
        frames, times = self.frequency_hz.shape[0], 1 << self.octaves
        near = max(1, round(_NEARBY_S * self.sample_rate))
        more = _REACH + 3 * near + AHEAD
        for begin in range(0, frames, _BLOCK):
            checkpoint()
            end = min(frames, begin + _BLOCK)
            span = np.arange(begin - more, end + more)
            hz = np.repeat(self.frequency_hz[np.clip(span, 0, frames - 1)], times)
            if self.frequency_share is not None:
                hz *= 1.0 + self._raised(self.frequency_share, begin - more, end + more)
            bent = None
            speed = hz * (ratio / self.raised_rate)
            if self.phase_cycles is not None:
                bent = self._raised(self.phase_cycles, begin - more, end + more)
                speed = speed + np.gradient(bent)
            fastest = np.abs(speed).reshape(-1, times).max(axis=1)
            fastest = uniform_filter1d(maximum_filter1d(fastest, 4 * near + 1), 2 * near + 1)
            after = more + end - begin + AHEAD
            inside = slice(more * times, after * times)
            yield Block(
                begin,
                end,
                hz[inside],
                np.zeros(1) if bent is None else bent[inside],
                fastest[more : after + 1],
            )

    def speed_range_hz(self, ratio: float) -> tuple[float, float]:
        """The lowest and the highest speed of all blocks, in Hz."""
        speeds = [block.speed for block in self.blocks(ratio)]
        lowest = min(float(one.min()) for one in speeds)
        highest = max(float(one.max()) for one in speeds)
        return lowest * self.raised_rate, highest * self.raised_rate

    def _raised(self, signal: Numbers, begin: int, end: int) -> Numbers:
        """A span of a signal (frames,) at the raised rate, silence around it."""
        cut = np.zeros(end - begin)
        first, last = max(0, begin), min(signal.shape[0], end)
        cut[first - begin : last - begin] = signal[first:last]
        raised: Numbers = raise_cleanly(cut[np.newaxis], self.octaves)[0]
        return raised


class Lowering:
    """Blocks at the raised rate back at the rate, one after the other, into out (channels, ...)."""

    def __init__(self, out: Numbers, octaves: int) -> None:
        self._out = out
        self._octaves = octaves
        self._held = np.zeros((out.shape[0], _REACH << octaves))
        self._place = 0

    def push(self, raised: Numbers) -> None:
        """Take the next block (channels, frames << octaves)."""
        whole = np.concatenate([self._held, raised], axis=1)
        low = return_rate(whole, self._octaves)[:, _REACH:-_REACH]
        count = min(low.shape[1], self._out.shape[1] - self._place)
        self._out[:, self._place : self._place + count] = low[:, :count]
        self._place += count
        self._held = whole[:, -(2 * _REACH << self._octaves) :]

    def finish(self) -> Numbers:
        """The whole result, silence taken to follow."""
        self.push(np.zeros((self._out.shape[0], _REACH << self._octaves)))
        return self._out


@njit(cache=True, nogil=True)
def row_of(row, speed, limits):  # type: ignore[no-untyped-def]
    """The richest row whose limit a speed does not pass; ``row`` is where the search begins."""
    while row > 0 and speed > limits[row]:
        row -= 1
    while row < limits.shape[0] - 1 and speed <= limits[row + 1]:
        row += 1
    return row


@njit(cache=True, nogil=True)
def share_of(row, speed, limits):  # type: ignore[no-untyped-def]
    """How much of a row is heard at a speed, the rest being the sparser one's: all of it up to a
    tenth below its limit."""
    if row == 0:
        return 1.0
    return min(1.0, (limits[row] - speed) / (_FADE * limits[row]))
