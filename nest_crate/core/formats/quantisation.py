"""Whole numbers from samples, with dither that is the same for the same samples.

Triangular dither: Lipshitz, Wannamaker, Vanderkooy, "Quantization and Dither: A Theoretical
Survey" (JAES 40, 1992).
"""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.util.signals import Signal, require_signal

__all__ = ["quantised"]


def quantised(signal: Signal, bits: int, *, dither: bool) -> NDArray[np.int32]:
    """Samples (channels, frames) as whole numbers of so many bits; what is above full scale is
    held back. Digital silence stays silent."""
    signal = require_signal(signal)
    scale = 2.0 ** (bits - 1)
    scaled = signal * scale
    if dither and np.any(signal):
        # Keyed by the samples themselves, so that the same export is the same bytes.
        key = hashlib.sha256(np.ascontiguousarray(signal).tobytes()).digest()[:16]
        chance = np.random.Generator(np.random.Philox(int.from_bytes(key, "little")))
        scaled = scaled + chance.uniform(-0.5, 0.5, (2, *signal.shape)).sum(axis=0)
    return np.asarray(np.clip(np.rint(scaled), -scale, scale - 1.0), dtype=np.int32)
