"""WAV with float samples, written without any library, so that the same samples are the same bytes.

It is also all that the decoding process needs to load for writing.
"""

from __future__ import annotations

import struct

import numpy as np
from numpy.typing import NDArray

__all__ = ["float_wav"]

_IEEE_FLOAT = 3


def float_wav(frames: NDArray[np.float32], sample_rate: int) -> bytes:
    """The bytes of a RIFF WAVE file with IEEE float samples.

    Parameters
    ----------
    frames : np.ndarray [shape=(frames, channels)]
    """
    count, channels = frames.shape
    data = np.ascontiguousarray(frames, dtype="<f4").tobytes()
    rate_bytes = sample_rate * channels * 4
    frame = 4 * channels
    form = struct.pack("<HHIIHHH", _IEEE_FLOAT, channels, sample_rate, rate_bytes, frame, 32, 0)
    chunks = b"fmt " + struct.pack("<I", len(form)) + form
    chunks += b"fact" + struct.pack("<II", 4, count)
    chunks += b"data" + struct.pack("<I", len(data))
    size = 4 + len(chunks) + len(data)
    return b"RIFF" + struct.pack("<I", size) + b"WAVE" + chunks + data
