"""What is read off a processor as it works, so that its signals need not be kept for checks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nest_crate.core.dsp.dynamics.transients import transient_db
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["TapReading", "tap_reading"]

# What a processor adds, takes or moves, re what comes out, lies below this where it does nothing.
_CHANGES_NOTHING_DB = -60.0


@dataclass(frozen=True)
class TapReading:
    """How far the hit stands over what follows it, before and after (None where nothing is heard of
    either), and whether what comes out is what went in."""

    hit_before_db: float | None
    hit_after_db: float | None
    unchanged: bool


def tap_reading(before: Signal, after: Signal, sample_rate: int) -> TapReading:
    """Read a processor's input and output."""
    return TapReading(
        transient_db(before, sample_rate), transient_db(after, sample_rate), _same(before, after)
    )


def _same(before: Signal, after: Signal) -> bool:
    size = float(np.vdot(after, after)) / after.shape[0]
    if size <= 0.0:
        return False
    rest = sum(
        float(np.sum((side - before[min(n, before.shape[0] - 1)]) ** 2))
        for n, side in enumerate(after)
    )
    return bool(rest / after.shape[0] < size * 10.0 ** (_CHANGES_NOTHING_DB / 10.0))
