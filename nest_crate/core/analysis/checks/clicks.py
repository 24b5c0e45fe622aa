"""Clicks: steps in a signal that nothing around them explains."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter1d

from nest_crate.core.dsp.util.signals import Signal

__all__ = [
    "attack_that_removes_click_s",
    "clicks_within",
    "ends_with_click",
    "release_that_removes_click_s",
    "starts_with_click",
]

# A step at an edge is over within this time, filters' ringing included.
_EDGE_S = 0.0003
# The signal's own movement is looked for in so much beside it: a cycle of 25 Hz.
_BESIDE_S = 0.04
# An edge that moves this many times faster than anything beside it stands out.
_EDGE_STANDS_OUT = 1.5
# Within a sound its own movement is known from both sides, but it may well jump by itself.
_STANDS_OUT = 2.5
# Steps below this level (about -34 dBFS) are not heard as clicks of their own.
_AUDIBLE = 0.02
# A kink, which has no step, is one if the slope turns this many times faster than beside it ...
_KINK_STANDS_OUT = 6.0
# ... and the level is the same on both sides: where a note begins it is not.
_SAME_LEVEL = 1.4
_LEVEL_S = 0.003
_RAMPS_S = (0.0005, 0.001, 0.002, 0.003, 0.005, 0.008)


def starts_with_click(signal: Signal, sample_rate: int) -> bool:
    """Whether a signal (channels, frames) sets in with a step.

    The fastest movement from one frame to the next where it begins is compared with the fastest in
    the 40 ms that follow: a pulse wave, which steps all the time, or a tone high enough to move as
    fast by itself has no click, a low sine starting at its crest has one.
    """
    sounding = np.flatnonzero(np.max(np.abs(signal), axis=0) > 1e-6)
    if sounding.size == 0:
        return False
    edge = max(2, round(_EDGE_S * sample_rate))
    start = int(sounding[0])
    part = signal[:, start : start + edge + round(_BESIDE_S * sample_rate)]
    if part.shape[1] <= 2 * edge:
        return False
    # From the silence before on.
    moves = np.abs(np.diff(part, axis=1, prepend=0.0))
    onset, own = float(moves[:, :edge].max()), float(moves[:, edge:].max())
    return onset > _AUDIBLE and onset > _EDGE_STANDS_OUT * own


def clicks_within(signal: Signal, sample_rate: int) -> list[float]:
    """Times in seconds of steps and kinks within a signal (channels, frames), its edges left out:
    where it moves from frame to frame far faster than in the 40 ms before and after, or turns, as
    where its polarity jumps."""
    found: list[int] = []
    for channel in signal:
        steps = _standing_out(np.abs(np.diff(channel)), sample_rate, _STANDS_OUT)
        kinks = _standing_out(np.abs(np.diff(channel, 2)), sample_rate, _KINK_STANDS_OUT)
        span = round(_LEVEL_S * sample_rate)
        for place in kinks:
            before = np.sqrt(np.mean(channel[max(0, place - span) : place + 1] ** 2))
            after = np.sqrt(np.mean(channel[place + 1 : place + 1 + span] ** 2))
            if max(before, after) < _SAME_LEVEL * min(before, after):
                steps.append(place)
        found += steps
    apart = round(_LEVEL_S * sample_rate)
    kept: list[int] = []
    for place in sorted(found):
        if not kept or place - kept[-1] > apart:
            kept.append(place)
    return [place / sample_rate for place in kept]


def _standing_out(moves: NDArray[np.float64], sample_rate: int, times: float) -> list[int]:
    """Frames at which ``moves`` (frames,) are so many times the largest on either side of them."""
    edge = max(2, round(_EDGE_S * sample_rate))
    beside = round(_BESIDE_S * sample_rate)
    found = []
    loud = np.flatnonzero(moves > 2.0 * _AUDIBLE)
    # The fastest of each neighbourhood alone can stand out of it.
    peaks = loud[moves[loud] >= maximum_filter1d(moves, 2 * edge + 1)[loud]]
    for place in peaks:
        before = moves[max(0, place - beside) : max(0, place - edge)]
        after = moves[place + edge : place + beside]
        if min(before.size, after.size) < 4 * edge:
            continue
        if moves[place] > times * max(before.max(), after.max()):
            found.append(int(place))
    return found


def attack_that_removes_click_s(signal: Signal, sample_rate: int) -> float | None:
    """The shortest attack in seconds under which the click is gone, or None where none helps."""
    start = int(np.flatnonzero(np.max(np.abs(signal), axis=0) > 1e-6)[0])
    for attack_s in _RAMPS_S:
        ramp = np.ones(signal.shape[1])
        frames = min(round(attack_s * sample_rate), signal.shape[1] - start)
        ramp[start : start + frames] = np.arange(frames) / max(1, frames)
        if not starts_with_click(signal * ramp, sample_rate):
            return attack_s
    return None


def ends_with_click(signal: Signal, sample_rate: int) -> bool:
    """Whether a signal (channels, frames) stops with a step; the same read backwards."""
    return starts_with_click(np.ascontiguousarray(signal[:, ::-1]), sample_rate)


def release_that_removes_click_s(signal: Signal, sample_rate: int) -> float | None:
    """The shortest release in seconds under which the click at the end is gone, or None."""
    return attack_that_removes_click_s(np.ascontiguousarray(signal[:, ::-1]), sample_rate)
