"""WAV in and out: RIFF WAVE with whole numbers (PCM) or IEEE float."""

from __future__ import annotations

import io
import math
import struct
from typing import Literal

import numpy as np
import soundfile

from nest_crate.core.dsp.util.signals import Signal, require_signal
from nest_crate.core.errors import FormatError
from nest_crate.core.formats.broadcast_wav import packed
from nest_crate.core.formats.float_wav import float_wav
from nest_crate.core.formats.quantisation import quantised

__all__ = ["WavFormat", "decode_wav", "encode_wav"]

WavFormat = Literal["pcm16", "pcm24", "float32"]
_BITS: dict[str, int] = {"pcm16": 16, "pcm24": 24}


def encode_wav(signal: Signal, sample_rate: int, *, sample_format: WavFormat = "pcm24") -> bytes:
    """A WAV file's bytes.

    Parameters
    ----------
    signal : np.ndarray [shape=(1 or 2, frames)]
        full scale is 1; PCM holds back what is above, float keeps it.
    """
    # Always by way of single precision, which is what a take keeps: so a file made straight from
    # a render holds the same numbers as one made from the stored take.
    frames = require_signal(signal).astype(np.float32).T
    if sample_format == "float32":
        # libsndfile would write the time of day into a float file (its PEAK chunk), and the same
        # samples would not be the same bytes.
        return float_wav(frames, sample_rate)
    # Not by libsndfile either: it scales by one step less than full scale when writing, and by
    # full scale when reading.
    bits = _BITS[sample_format]
    data = packed(quantised(frames.T.astype(np.float64), bits, dither=False), bits, little=True)
    frame = frames.shape[1] * bits // 8
    form = struct.pack("<HHIIHH", 1, frames.shape[1], sample_rate, sample_rate * frame, frame, bits)
    chunks = b"fmt " + struct.pack("<I", len(form)) + form
    chunks += b"data" + struct.pack("<I", len(data)) + data + b"\0" * (len(data) % 2)
    return b"RIFF" + struct.pack("<I", 4 + len(chunks)) + b"WAVE" + chunks


def decode_wav(data: bytes, seconds: float | None = None) -> tuple[Signal, int]:
    """Samples (channels, frames) as float64, and the rate in Hz; no more than so many seconds of
    them where that is given.

    Raises
    ------
    FormatError
        where the bytes are no WAV that can be read.
    """
    try:
        with soundfile.SoundFile(io.BytesIO(data)) as file:
            rate = file.samplerate
            count = -1 if seconds is None else math.ceil(seconds * rate)
            frames = file.read(count, dtype="float64", always_2d=True)
    except (soundfile.LibsndfileError, RuntimeError) as error:
        raise FormatError("this is not a WAV file, or it is damaged") from error
    return np.ascontiguousarray(frames.T), int(rate)
