"""How long a sound rings: when its level has gone down for good."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nest_crate.core.dsp.util.signals import Signal

__all__ = ["FALLS_DB", "Ringing", "ringing"]

FALLS_DB = (20.0, 40.0, 60.0)
# Levels are compared in blocks of this length; a moment is known as exactly.
_BLOCK_S = 0.001
# Of the loudest: 0.05 dB.
_PLATEAU = 10.0 ** (-0.05 / 20.0)


@dataclass(frozen=True)
class Ringing:
    """``loudest_s`` is the end of the loudest moment: of a plateau the end, from which it falls.
    ``falls_s`` are the last moments that are within 20, 40 and 60 dB of it; all in seconds from the
    start of the signal."""

    loudest_s: float
    falls_s: tuple[float, float, float]

    @property
    def ring_s(self) -> float:
        """From the loudest moment until 60 dB below it for good."""
        return self.falls_s[-1] - self.loudest_s


def ringing(signal: Signal, sample_rate: int) -> Ringing | None:
    """When a signal (channels, frames) is loudest and when it has gone down; None for silence.

    Read off the magnitude itself in blocks of 1 ms, not off an averaged level, so that a pure
    exponential decay gives its own times.
    """
    size = max(1, round(_BLOCK_S * sample_rate))
    count = -(-signal.shape[1] // size)
    padded = np.zeros((signal.shape[0], count * size))
    padded[:, : signal.shape[1]] = signal
    blocks = np.abs(padded).reshape(signal.shape[0], count, size).max(axis=(0, 2))
    if count == 0 or blocks.max() <= 0.0:
        return None
    # A steady tone is as loud in one block as in another; it begins to fall with the last of them.
    loudest = int(np.flatnonzero(blocks >= blocks.max() * _PLATEAU)[-1])

    def last_within(fall_db: float) -> float:
        within = np.flatnonzero(blocks >= blocks[loudest] * 10.0 ** (-fall_db / 20.0))
        return float((within[-1] + 1) * size / sample_rate)

    first, second, third = (last_within(fall_db) for fall_db in FALLS_DB)
    return Ringing(loudest * size / sample_rate, (first, second, third))
