"""A stored recording read at a moving pitch: band-limited, looped, or in grains.

Read from a line at four times its rate by polynomials through eight points, which are fitted to
all frequencies that the line can hold: Niemitalo, "Polynomial Interpolators for High-Quality
Resampling of Oversampled Audio" (2001), with the error's largest value at -106 dB.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.fft import irfft, next_fast_len, rfft

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["Line", "Loop", "grain_signal", "line_of", "looped", "nearest_crossing", "read_into"]

Numbers = NDArray[np.float64]

_POINTS = 8
_RAISED = 4
# Silence on either side of a line: what the taps reach, and room for the raised ends to ring.
_PAD = 64
# Where the pitch moves far, lines are made for pitches so many octaves apart.
_APART = 1.0 / 3.0
_MOST_BYTES = 160_000_000
_FADE = 0.03


def _fitted() -> NDArray[np.float64]:
    """Polynomials of the eight points around a place, shape (order + 1, points).

    Least squares over places x from -1/2 to 1/2 between the middle points and frequencies w up to
    0.92 of the raised line's band: sum of c[p, k] x^p exp(j w k) = exp(j w (x + 1/2)).
    """
    around = np.arange(_POINTS) - (_POINTS // 2 - 1)
    grid = np.meshgrid(np.linspace(-0.5, 0.5, 41), np.linspace(0.0, 0.92 * np.pi / 4.0, 60))
    place, turn = grid[0].ravel(), grid[1].ravel()
    powers = place[:, np.newaxis] ** np.arange(5)
    points = np.exp(1j * turn[:, np.newaxis] * around)
    each = (powers[:, :, np.newaxis] * points[:, np.newaxis, :]).reshape(turn.size, -1)
    wanted = np.exp(1j * turn * (place + 0.5))
    fit, *_ = np.linalg.lstsq(
        np.concatenate([each.real, each.imag]), np.concatenate([wanted.real, wanted.imag])
    )
    # Rounded, so that every machine has the same ones.
    return np.asarray(np.round(fit.reshape(5, _POINTS), 9))


# Even powers weigh the sums of opposite points, odd ones their differences; innermost first.
_FIT = _fitted()[:, _POINTS // 2 :]
_A0, _A1, _A2, _A3 = (np.float32(one) for one in _FIT[0])
_B0, _B1, _B2, _B3 = (np.float32(one) for one in _FIT[1])
_C0, _C1, _C2, _C3 = (np.float32(one) for one in _FIT[2])
_D0, _D1, _D2, _D3 = (np.float32(one) for one in _FIT[3])
_E0, _E1, _E2, _E3 = (np.float32(one) for one in _FIT[4])


@dataclass(frozen=True)
class Loop:
    """Where a loop begins and ends, in frames of the recording, and its crossfade in frames."""

    start: float
    end: float
    crossfade: float


@dataclass(frozen=True)
class Line:
    """A part of a recording at four times its rate, lowered in band for some highest speeds.

    ``levels`` has shape (speeds, channels, frames), in single precision; ``speeds`` are the
    highest at which each may be read without aliasing, rising, in frames a frame of the output.
    """

    levels: NDArray[np.float32]
    speeds: Numbers
    frames: int


def nearest_crossing(samples: Signal, frame: float, reach: float) -> float:
    """The zero crossing of the channels' mean nearest to a frame, or the frame itself where none
    lies within ``reach`` frames; exact between frames."""
    first, last = max(0, int(frame - reach)), min(samples.shape[1], int(frame + reach) + 2)
    mean = samples[:, first:last].mean(axis=0)
    before = np.flatnonzero((mean[:-1] <= 0.0) != (mean[1:] <= 0.0))
    if before.size == 0:
        return frame
    rise = mean[before + 1] - mean[before]
    places = first + before - mean[before] / rise
    best = float(places[np.argmin(np.abs(places - frame))])
    return best if abs(best - frame) <= reach else frame


def line_of(samples: Signal, low_speed: float, high_speed: float) -> Line:
    """A line to be read at speeds from one to another, in frames of it a frame of the output.

    Up to speed 1 it keeps all of its band, to 0.9 of Nyquist within 0.1 dB; at a higher speed r
    it ends at 1 / r of it, as what lies above would be folded back.
    """
    frames = samples.shape[1]
    speeds = line_speeds(low_speed, high_speed, samples.size)
    padded = np.pad(samples, ((0, 0), (_PAD, _PAD)))
    size = next_fast_len(padded.shape[1] + _PAD, real=True)
    spectrum = rfft(padded, size, axis=1)
    if size % 2 == 0:
        # At a higher rate the highest frequency stands on both sides of 0.
        spectrum[:, -1] *= 0.5
    place = np.arange(spectrum.shape[1]) / (size / 2.0)
    levels = np.empty((speeds.size, samples.shape[0], _RAISED * padded.shape[1]), dtype=np.float32)
    for at, speed in enumerate(speeds):
        shaped = spectrum * _band(place, speed) if speed > 1.0 else spectrum
        levels[at] = irfft(shaped * _RAISED, _RAISED * size, axis=1)[:, : levels.shape[2]]
    return Line(levels, speeds, frames)


def line_speeds(low_speed: float, high_speed: float, values: int) -> Numbers:
    """The highest speeds of a line's levels, for so many values of a recording.

    Several stand on a grid that is the same whatever the way of the speed, so that what is heard
    does not depend on what else is in the hit, or was read before.
    """
    # One line serves speeds that lie closely together, as those of a unison do.
    if high_speed <= 1.0 or high_speed / max(low_speed, 1e-9) < 1.08:
        return np.array([max(1.0, _rounded_up(high_speed))])
    apart = _APART
    while apart < 2.0:
        levels = np.log2(high_speed / max(1.0, low_speed)) / apart + 2.0
        if 4.0 * _RAISED * values * levels <= _MOST_BYTES:
            break
        apart *= 2.0
    first = int(np.floor(np.log2(max(1.0, low_speed)) / apart))
    last = max(first + 1, int(np.ceil(np.log2(high_speed) / apart)))
    return np.asarray(np.exp2(apart * np.arange(first, last + 1)))


def _rounded_up(speed: float) -> float:
    """A speed a little higher, so that small movements find the line that is there."""
    return float(np.exp2(np.ceil(np.log2(speed) * 96.0) / 96.0))


def _band(place: Numbers, speed: float) -> Numbers:
    """All up to 0.92 of what a speed leaves of the band, nothing from its end on."""
    way = np.clip((place * speed - 0.92) / 0.08, 0.0, 1.0)
    return np.asarray(0.5 * (1.0 + np.cos(np.pi * way)))


def looped(samples: Signal, loop: Loop) -> Signal:
    """Frames up to a loop's end with the crossfade in it, and the beginning of its next round.

    What comes before the loop's start is faded in before its end, so that going back is no step.
    The sum keeps its power, whatever both have in common.
    """
    start, end = round(loop.start), round(loop.end)
    made = samples[:, :end].copy()
    count = min(round(loop.crossfade), start, end - start)
    if count > 0:
        going, coming = made[:, end - count :], samples[:, start - count : start]
        way = (np.arange(count) + 0.5) / count
        both = float(np.sum(going * coming))
        alone = float(np.sqrt(np.sum(going**2) * np.sum(coming**2)))
        alike = max(0.0, both / alone) if alone > 0.0 else 1.0
        gain = 1.0 / np.sqrt((1.0 - way) ** 2 + way**2 + 2.0 * alike * way * (1.0 - way))
        made[:, end - count :] = gain * ((1.0 - way) * going + way * coming)
    turns = -(-_PAD // (end - start))
    return np.concatenate([made, *([made[:, start:end]] * turns)], axis=1)


def read_into(
    out: Signal,
    line: Line,
    speed: Numbers,
    *,
    ratio: float = 1.0,
    start: float = 0.0,
    circling: bool = False,
    gains: tuple[float, ...] = (1.0,),
    loop_line: Line | None = None,
    loop: Loop | None = None,
    release_frame: int = -1,
    steady: bool = False,
) -> tuple[float, bool]:
    """Add to out (channels, n) a line read from a frame on, at a speed for each frame of out.

    Parameters
    ----------
    speed : np.ndarray [shape=(n,)]
        frames of the line a frame of the output, times ``ratio``.
    gains
        to each channel of the output; a line of one channel may go to two, one of two needs two.
    loop_line, loop
        made by ``looped``; from the loop's start on it is read instead of the line, round and
        round, until ``release_frame`` of the output (-1: for ever).
    circling
        whether the loop was reached before.
    steady
        whether the speed is known to be the same all through.

    Returns
    -------
    The frame to go on from, and whether it lies in the loop: for what comes behind out.
    """
    until = speed.shape[0] if release_frame == -1 else max(0, release_frame)
    loop_levels, places = line.levels, (-1.0, -1.0, 0.0)
    if loop is not None and loop_line is not None:
        loop_levels = loop_line.levels
        places = (float(round(loop.start)), float(round(loop.end)), float(round(loop.crossfade)))
    lines = (line.levels, loop_levels, line.speeds, line.frames)
    motion = (speed, ratio, start, circling, steady)
    reached, circles = _read(out, np.array(gains), lines, motion, places, until, cancel_flag())
    return float(reached), bool(circles)


def aligned_places(
    samples: Signal,
    places: Numbers,
    carried: Numbers,
    *,
    reach: int,
    compared: int,
    onward: int,
) -> Numbers:
    """Middles of grains moved a little, each to where it goes on in phase with the one before.

    Verhelst and Roelands, "An Overlap-Add Technique Based on Waveform Similarity (WSOLA) for High
    Quality Time-Scale Modification of Speech" (ICASSP 1993).

    Parameters
    ----------
    places : np.ndarray [shape=(grains,)]
        where they are asked for, in frames of the recording.
    carried : np.ndarray [shape=(grains,)]
        frames of the recording that each grain has read when the next one is in its middle.
    reach, compared
        how far they may be moved, and how much is compared, in frames.
    onward
        how near a grain must be asked for to where the one before stopped, to go on just there.
    """
    found = places.copy()
    mono = np.ascontiguousarray(samples.mean(axis=0))
    _align(found, mono, carried, reach, compared, onward)
    return found


def grain_signal(
    line: Line,
    speed: Numbers,
    places: Numbers,
    *,
    hop: int,
    start_after: Numbers,
    gains: tuple[float, ...] = (1.0,),
) -> Signal:
    """Grains one every ``hop`` frames of the output, each two hops long under a raised cosine.

    Parameters
    ----------
    speed : np.ndarray [shape=(n,)]
        at which each grain is read inside, frames a frame of the output: its pitch.
    places, start_after : np.ndarray [shape=(grains,)]
        the middle of each grain in frames of the line, and in frames of the output.
    """
    out = np.zeros((len(gains), speed.shape[0]))
    window = 0.5 - 0.5 * np.cos(np.pi * (np.arange(2 * hop) + 0.5) / hop)
    spans = (places, start_after)
    parts = (line.levels, line.speeds, line.frames)
    _grains(out, np.array(gains), parts, speed, spans, window, cancel_flag())
    return out


# A place in a line is counted in whole numbers, a frame being 2**32, as an integer is split into
# frame and part without a conversion.
_FRAME = 4294967296.0
_FRAME_BITS = np.uint64(32)
_PART_MASK = np.uint64(0xFFFFFFFF)
_BEHIND = np.uint64(_POINTS // 2 - 1)


@njit(cache=True, nogil=True, fastmath={"contract"}, inline="always")
def _value_at(line, place):  # type: ignore[no-untyped-def]
    """A line's value at a counted place in its own (raised, padded) frames."""
    x = np.float32(np.int64(place & _PART_MASK) * (1.0 / _FRAME) - 0.5)
    begin = (place >> _FRAME_BITS) - _BEHIND
    a, b = line[begin], line[begin + np.uint64(1)]
    c, d = line[begin + np.uint64(2)], line[begin + np.uint64(3)]
    e, f = line[begin + np.uint64(4)], line[begin + np.uint64(5)]
    g, h = line[begin + np.uint64(6)], line[begin + np.uint64(7)]
    s0, s1, s2, s3 = e + d, f + c, g + b, h + a
    d0, d1, d2, d3 = e - d, f - c, g - b, h - a
    p0 = s0 * _A0 + s1 * _A1 + s2 * _A2 + s3 * _A3
    p1 = d0 * _B0 + d1 * _B1 + d2 * _B2 + d3 * _B3
    p2 = s0 * _C0 + s1 * _C1 + s2 * _C2 + s3 * _C3
    p3 = d0 * _D0 + d1 * _D1 + d2 * _D2 + d3 * _D3
    p4 = s0 * _E0 + s1 * _E1 + s2 * _E2 + s3 * _E3
    return (((p4 * x + p3) * x + p2) * x + p1) * x + p0


@njit(cache=True, nogil=True, inline="always")
def _counted(place):  # type: ignore[no-untyped-def]
    """A place in frames of the recording, counted in those of its line."""
    return np.uint64(_RAISED * (place + _PAD) * _FRAME)


@njit(cache=True, nogil=True, fastmath={"contract"})
def _add_run(out, line, first, speed, gain):  # type: ignore[no-untyped-def]
    """Add to out (n,) what a line holds from a frame of the recording on, at a steady speed."""
    place, step = _counted(first), np.uint64(_RAISED * speed * _FRAME)
    for n in range(out.shape[0]):
        out[n] += gain * _value_at(line, place)
        place += step


@njit(cache=True, nogil=True, fastmath={"contract"})
def _add_run_to_both(left, right, line, first, speed, gains):  # type: ignore[no-untyped-def]
    """As ``_add_run`` to two channels, which share what is read."""
    place, step = _counted(first), np.uint64(_RAISED * speed * _FRAME)
    to_left, to_right = gains[0], gains[1]
    for n in range(left.shape[0]):
        value = _value_at(line, place)
        left[n] += to_left * value
        right[n] += to_right * value
        place += step


@njit(cache=True, nogil=True, fastmath={"contract"})
def _level_share(speeds, speed):  # type: ignore[no-untyped-def]
    """The line made for a speed, and its share where it is faded to the next."""
    last = speeds.shape[0] - 1
    at = 0
    while at < last and speed > speeds[at]:
        at += 1
    if at < last and speed > speeds[at] * (1.0 - _FADE):
        return at, (speeds[at] - speed) / (speeds[at] * _FADE)
    return at, 1.0


@njit(cache=True, nogil=True)
def _add_frame(out, n, levels, speeds, speed, gains, place):  # type: ignore[no-untyped-def]
    """Add a line's value at a frame of the recording to every channel of one frame of out."""
    at, share = _level_share(speeds, speed)
    raised = _counted(place)
    last = levels.shape[1] - 1
    for channel in range(out.shape[0]):
        own = min(channel, last)
        value = share * _value_at(levels[at, own], raised)
        if share < 1.0:
            value += (1.0 - share) * _value_at(levels[at + 1, own], raised)
        out[channel, n] += gains[channel] * value


@njit(cache=True, nogil=True)
def _read(out, gains, lines, motion, loop, until, cancel):  # type: ignore[no-untyped-def]
    """See ``read_into``; ``loop`` is its start, end and crossfade, ``until`` its last frame."""
    levels, loop_levels, speeds, frames = lines
    begin, end, crossfade = loop
    speed, ratio, place, circling, steady = motion
    n = 0
    while n < out.shape[1]:
        if cancel[0]:
            break
        if end > begin and n < until and place >= begin:
            circling = True
        if circling and place >= end:
            place = begin + (place - begin) % (end - begin)
        if circling and n >= until and place < end - crossfade:
            # Released before the crossfade, it goes on as it was recorded.
            circling = False
        if not circling and place >= frames:
            break
        # As far as the speed stays and nothing else happens.
        here = speed[n]
        own = here * ratio
        reach = end if circling else (begin if end > begin and n < until else frames)
        most = min(out.shape[1] - n, int((reach - place) / own) if own > 0.0 else out.shape[1] - n)
        if n < until:
            most = min(most, until - n)
        run = max(1, most) if steady else 1
        while run < most and speed[n + run] == here:
            run += 1
        at, share = _level_share(speeds, own)
        source = loop_levels if circling else levels
        if run < 4 or share < 1.0:
            run = 1
            _add_frame(out, n, source, speeds, own, gains, place)
        elif out.shape[0] > source.shape[1]:
            left, right = out[0, n : n + run], out[1, n : n + run]
            _add_run_to_both(left, right, source[at, 0], place, own, gains)
        else:
            for channel in range(out.shape[0]):
                part = out[channel, n : n + run]
                _add_run(part, source[at, channel], place, own, gains[channel])
        place += run * own
        n += run
    return place, circling


@njit(cache=True, nogil=True)
def _alike(x, first, other, count, step):  # type: ignore[no-untyped-def]
    """Correlation of x (frames,) from one frame on with itself from another on, from -1 to 1; what
    lies outside is silent."""
    product = own = its = 1e-20
    for k in range(0, count, step):
        a, b = first + k, other + k
        u = x[a] if 0 <= a < x.shape[0] else 0.0
        v = x[b] if 0 <= b < x.shape[0] else 0.0
        product += u * v
        own += u * u
        its += v * v
    return product / np.sqrt(own * its)


@njit(cache=True, nogil=True)
def _align(places, x, carried, reach, compared, onward):  # type: ignore[no-untyped-def]
    """See ``aligned_places``; in place, places (grains,)."""
    for grain in range(1, places.shape[0]):
        goes_on = places[grain - 1] + carried[grain - 1]
        wanted = places[grain]
        first = int(np.floor(goes_on)) - compared // 2
        rest = goes_on - np.floor(goes_on)
        middle = int(np.floor(wanted)) - compared // 2
        # Going on where the grain before stopped is best of all, as long as it is near enough.
        if abs(first - middle) <= onward:
            places[grain] = goes_on
            continue
        best, most = 0, -2.0
        for lag in range(-reach, reach + 1, 4):
            like = _alike(x, first, middle + lag, compared, 3)
            if like > most + 1e-9:
                best, most = lag, like
        coarse = best
        most = -2.0
        for lag in range(coarse - 4, coarse + 5):
            like = _alike(x, first, middle + lag, compared, 1)
            if like > most:
                best, most = lag, like
        before = _alike(x, first, middle + best - 1, compared, 1)
        after = _alike(x, first, middle + best + 1, compared, 1)
        bow = 2.0 * most - before - after
        exact = 0.5 * (after - before) / bow if bow > 1e-12 else 0.0
        place = np.floor(wanted) + best + min(0.5, max(-0.5, exact)) + rest
        if most > 0.0 and place >= 0.0:
            places[grain] = place


@njit(cache=True, nogil=True)
def _grains(out, gains, line, speed, spans, window, cancel):  # type: ignore[no-untyped-def]
    """See ``grain_signal``; ``spans`` are the grains' middles in the line and in the output."""
    levels, speeds, frames = line
    places, starts = spans
    length = window.shape[0]
    for grain in range(places.shape[0]):
        if cancel[0]:
            return
        middle = int(starts[grain])
        first = middle - length // 2
        own = speed[min(max(middle, 0), speed.shape[0] - 1)]
        for k in range(length):
            n = first + k
            place = places[grain] + (k - length // 2) * own
            if 0 <= n < out.shape[1] and 0.0 <= place < frames:
                _add_frame(out, n, levels, speeds, own, window[k] * gains, place)
