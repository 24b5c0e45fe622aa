"""FLAC of whole numbers (RFC 9639), which is exact to the bits that it is given."""

from __future__ import annotations

import io
from typing import Literal

import numpy as np
import soundfile

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.formats.quantisation import quantised

__all__ = ["FlacBits", "encode_flac"]

FlacBits = Literal[16, 24]


def encode_flac(signal: Signal, sample_rate: int, bits: FlacBits, *, dither: bool = False) -> bytes:
    """A FLAC file's bytes.

    Parameters
    ----------
    signal : np.ndarray [shape=(1 or 2, frames)]
        full scale is 1; what is above is held back.
    """
    # Left-aligned in 32 bits: libsndfile takes the upper ones as they are, without scaling.
    frames = (quantised(signal, bits, dither=dither) << (32 - bits)).T
    file = io.BytesIO()
    kind = f"PCM_{bits}"
    soundfile.write(file, np.ascontiguousarray(frames), sample_rate, format="FLAC", subtype=kind)
    return file.getvalue()
