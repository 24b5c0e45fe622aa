"""The one gate for signals, and the small whole-buffer operations."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = [
    "Signal",
    "fade_end",
    "loud_frames",
    "pan_signal",
    "peak",
    "require_signal",
    "sum_signals",
]

# Shape (channels, frames), float64, C-contiguous; one or two channels.
Signal = NDArray[np.float64]


def require_signal(signal: Signal) -> Signal:
    """The signal itself, contiguous float64 of shape (channels, frames).

    Raises
    ------
    ValueError
        where it has another shape, no channel, or is not finite.
    """
    array = np.ascontiguousarray(signal, dtype=np.float64)
    if array.ndim != 2 or array.shape[0] not in (1, 2):
        raise ValueError(f"signal.shape={array.shape}; must be (1 or 2 channels, frames)")
    if not np.all(np.isfinite(array)):
        raise ValueError("signal holds NaN or infinity")
    return array


def peak(signal: Signal) -> float:
    """Largest magnitude of a signal; 0 where it is empty."""
    return float(max(signal.max(), -signal.min())) if signal.size else 0.0


def pan_signal(signal: Signal, pan: float | NDArray[np.float64]) -> Signal:
    """Constant-power pan of a signal; the centre leaves it as it is.

    Parameters
    ----------
    signal : np.ndarray [shape=(1 or 2, frames)]
    pan
        -1 (left) to 1 (right); one number, or one for every frame.
    """
    if isinstance(pan, float) and pan == 0.0:
        return signal
    angle = (np.atleast_1d(pan) + 1.0) * np.pi / 4.0
    gains = np.sqrt(2.0) * np.stack([np.cos(angle), np.sin(angle)])
    return np.ascontiguousarray(signal * gains)


def mixed(dry: Signal, wet: Signal, mix: float, gain: float) -> Signal:
    """gain * ((1 - mix) * dry + mix * wet) in one go; what is one side wide lies on both.

    Parameters
    ----------
    dry : np.ndarray [shape=(1 or as many channels as wet, frames)]
    wet : np.ndarray [shape=(channels, frames)]
    """
    out = np.empty_like(wet)
    _mix(out, dry, wet, gain * (1.0 - mix), gain * mix)
    return out


def sum_signals(signals: list[Signal], frames: int) -> Signal:
    """Sum of mono and stereo signals; stereo where any of them is; silence of none."""
    channels = max((signal.shape[0] for signal in signals), default=1)
    total = np.zeros((channels, frames))
    for signal in signals:
        total += signal
    return total


def fade_end(signal: Signal, frames: int) -> Signal:
    """A copy whose last ``frames`` frames go down to exactly 0 along half a cosine."""
    faded = signal.copy()
    length = min(frames, signal.shape[1])
    if length:
        position = np.arange(1, length + 1) / length
        faded[:, -length:] *= 0.5 * (1.0 + np.cos(np.pi * position))
    return faded


@njit(cache=True, nogil=True)
def _mix(out, dry, wet, dry_gain, wet_gain):  # type: ignore[no-untyped-def]
    """out and wet (channels, frames); dry (1 or channels, frames)."""
    last = dry.shape[0] - 1
    for channel in range(out.shape[0]):
        here, first, second = out[channel], dry[min(channel, last)], wet[channel]
        for n in range(here.shape[0]):
            here[n] = dry_gain * first[n] + wet_gain * second[n]


@njit(cache=True, nogil=True)
def loud_frames(signal, gain):  # type: ignore[no-untyped-def]
    """Frames up to and with the last whose magnitude reaches ``gain`` in any channel."""
    for n in range(signal.shape[1] - 1, -1, -1):
        for channel in range(signal.shape[0]):
            if abs(signal[channel, n]) >= gain:
                return n + 1
    return 0
