"""How much a hit stands over what follows it."""

from __future__ import annotations

import numpy as np

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.units import SILENCE_DB

__all__ = ["transient_db"]

_HIT_S = 0.03
_FROM_S, _TO_S = 0.06, 0.3
_WAVE_S = 0.005


def transient_db(signal: Signal, sample_rate: int) -> float | None:
    """Peak of the first 30 ms from the onset, re the level from 60 to 300 ms after it.

    None where nothing is heard of either.
    """
    size = np.abs(signal).max(axis=0) if signal.size else np.zeros(0)
    top = float(size.max(initial=0.0))
    if top < 1e-4:
        return None
    onset = int(np.argmax(size > 0.05 * top))
    hit = float(size[onset : onset + round(_HIT_S * sample_rate)].max())
    rest = signal[:, onset + round(_FROM_S * sample_rate) : onset + round(_TO_S * sample_rate)]
    if rest.shape[1] < round(_WAVE_S * sample_rate):
        return None
    sustained = float(np.sqrt(np.mean(rest**2)))
    if sustained < 1e-5:
        return None
    return max(SILENCE_DB, 20.0 * float(np.log10(hit / sustained)))
