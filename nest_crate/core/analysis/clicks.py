"""Clicks: steps in a signal that nothing around them explains."""

from __future__ import annotations

import numpy as np

from nest_crate.core.dsp.signals import Signal

__all__ = [
    "attack_that_removes_click_s",
    "ends_with_click",
    "release_that_removes_click_s",
    "starts_with_click",
]

# A change within this time is heard as a step.
_STEP_S = 0.00004
# The signal's own movement is looked for in so much of what follows.
_FOLLOWING_S = 0.02
# A step this many times larger than any that follows stands out.
_STANDS_OUT = 2.5
# Steps below this level (about -34 dBFS) are not heard as clicks of their own.
_AUDIBLE = 0.02
_RAMPS_S = (0.0005, 0.001, 0.002, 0.003, 0.005, 0.008)


def starts_with_click(signal: Signal, sample_rate: int) -> bool:
    """Whether a signal (channels, frames) sets in with a step.

    The level reached within two frames of 48 kHz is compared with the largest change in as
    short a time over the 20 ms that follow: a pulse wave, which steps all the time, or a tone high
    enough to move as fast by itself has no click, a low sine starting at its crest has one.
    """
    sounding = np.flatnonzero(np.max(np.abs(signal), axis=0) > 1e-6)
    if sounding.size == 0:
        return False
    width = max(1, round(_STEP_S * sample_rate))
    start = int(sounding[0])
    part = signal[:, start : start + width + round(_FOLLOWING_S * sample_rate)]
    if part.shape[1] <= 2 * width:
        return False
    onset = float(np.abs(part[:, :width]).max())
    later = part[:, width:]
    own = float(np.abs(later[:, width:] - later[:, :-width]).max())
    return onset > _AUDIBLE and onset > _STANDS_OUT * own


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
