"""The first part of a room: the reflections of a box, and all-passes that make echoes dense."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.space.room_network import SPEED_OF_SOUND, frames_at

__all__ = ["DIFFUSERS_S", "diffused", "reflected", "reflections"]

# A box that many rooms are like, where it is heard and where the sound is, as parts of its sides.
_BOX = (1.0, 0.83, 0.61)
_SOURCE, _EARS = (0.31, 0.42, 0.37), ((0.68, 0.57, 0.52), (0.74, 0.48, 0.55))
_REFLECTIONS = 40
# All-passes: their delays for each side, how much, and the decay from which they are as long.
DIFFUSERS_S = (
    (0.0006, 0.0010, 0.0016, 0.0027, 0.0042, 0.0066, 0.0106, 0.0166),
    (0.0007, 0.0009, 0.0017, 0.0025, 0.0045, 0.0064, 0.0112, 0.0159),
)
_DIFFUSION, _WHOLE_FROM_S = 0.6, 1.0


@lru_cache(maxsize=64)
def reflections(
    size_m: float, decay_s: float, sample_rate: int
) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """Frames after the first and gains of a box's reflections at two places, (2, reflections) each;
    the power of each side is 1.

    Image sources: Allen and Berkley, "Image Method for Efficiently Simulating Small-Room
    Acoustics" (JASA 65, 1979).
    """
    sides = size_m * np.array(_BOX)
    near = np.arange(-4, 5)
    images = np.stack(np.meshgrid(near, near, near, indexing="ij"), axis=-1).reshape(-1, 3)
    images = images[np.abs(images).sum(axis=1) > 0]
    source = sides * np.array(_SOURCE)
    places = np.where(images % 2 == 0, images * sides + source, (images + 1) * sides - source)
    delays, gains = [], []
    for ear in _EARS:
        way = np.linalg.norm(places - sides * np.array(ear), axis=1)
        order = np.argsort(way, kind="stable")[:_REFLECTIONS]
        late_s = (way[order] - way[order[0]]) / SPEED_OF_SOUND
        gain = way[order[0]] / way[order] * 10.0 ** (-3.0 * late_s / decay_s)
        # Every other wall turns the pressure over, so that no comb of equal signs is heard.
        gain *= np.where(np.abs(images[order]).sum(axis=1) % 2 == 0, -1.0, 1.0)
        delays.append(frames_at(late_s, sample_rate))
        gains.append(gain / np.linalg.norm(gain))
    return np.stack(delays), np.stack(gains).astype(np.float32)


def reflected(
    source: NDArray[np.float32], size_m: float, decay_s: float, sample_rate: int
) -> NDArray[np.float32]:
    """The early reflections of a source (channels, frames), shape (2, frames)."""
    delays, gains = reflections(size_m, decay_s, sample_rate)
    out = np.zeros((2, source.shape[1]), dtype=np.float32)
    _reflect(out, source, delays, gains)
    return out


@njit(cache=True, nogil=True, fastmath={"contract"})
def _reflect(out, source, delays, gains):  # type: ignore[no-untyped-def]
    """out (2, frames) of source (channels, frames); delays and gains (2, reflections)."""
    frames = out.shape[1]
    for side in range(2):
        given = source[min(side, source.shape[0] - 1)]
        for begin in range(0, frames, 2048):
            end = min(frames, begin + 2048)
            for k in range(delays.shape[1]):
                late, gain = delays[side, k], gains[side, k]
                first = max(begin, late)
                if first < end:
                    to, of = out[side, first:end], given[first - late : end - late]
                    for n in range(end - first):
                        to[n] += gain * of[n]


def diffused(source: NDArray[np.float32], decay_s: float, sample_rate: int) -> NDArray[np.float32]:
    """A source (channels, frames) through all-passes, shape (2, frames): dense, and as flat.

    Schroeder, "Natural Sounding Artificial Reverberation" (JAES 10, 1962). What is fed by echoes
    that colour it has their peaks on top of the lines' own.
    """
    fed = np.empty((2, source.shape[1]), dtype=np.float32)
    shrunk = min(1.0, decay_s / _WHOLE_FROM_S)
    for side in range(2):
        fed[side] = source[min(side, source.shape[0] - 1)]
        for late in frames_at(np.array(DIFFUSERS_S[side]) * shrunk, sample_rate):
            _diffuse(fed[side], max(8, late), np.float32(_DIFFUSION))
    return fed


@njit(cache=True, nogil=True, fastmath={"contract"})
def _diffuse(x, late, amount):  # type: ignore[no-untyped-def]
    """An all-pass of a delay in frames, in place over x (frames,), in blocks of that delay."""
    held = np.zeros(late, dtype=np.float32)
    for begin in range(0, x.size, late):
        part = x[begin : min(x.size, begin + late)]
        for n in range(part.size):
            given = part[n]
            part[n] = held[n] - amount * given
            held[n] = given + amount * part[n]
