"""Blind tests: how likely a result is where nothing is heard."""

from __future__ import annotations

from scipy.stats import binomtest

__all__ = ["told_apart_by_chance"]


def told_apart_by_chance(right: int, trials: int) -> float:
    """The chance of at least so many right answers by guessing between two (one-sided exact
    binomial test). 1 for no trials.

    Raises
    ------
    ValueError
        where ``right`` is not from 0 to ``trials``.
    """
    if not 0 <= right <= trials:
        raise ValueError(f"{right} of {trials} trials cannot be right")
    if trials == 0:
        return 1.0
    return float(binomtest(right, trials, 0.5, alternative="greater").pvalue)
