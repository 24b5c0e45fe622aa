"""How results are written: JSON parts, WAV parts, drawings in base64."""

from __future__ import annotations

import base64
import hashlib
import json
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.pictures.outlines import FLOOR_DB, Outline, spectrogram
from nest_crate.core.engine import Audio
from nest_crate.core.formats.flac import FlacBits, encode_flac
from nest_crate.core.formats.wav import encode_wav
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.workshop import Wanted

__all__ = [
    "audio_part",
    "base64_of",
    "heard_part",
    "json_part",
    "outline_of",
    "rounded",
    "spectrogram_of",
]

_QUIET = 1.0 / 64.0


def json_part(name: str, value: dict[str, Any]) -> Frame:
    """A part that is JSON."""
    data = json.dumps(value, separators=(",", ":"), allow_nan=False).encode()
    return Frame({"part": name, "type": "application/json"}, data)


def audio_part(audio: Audio) -> Frame:
    """A part that is float WAV; its digest names these bytes."""
    data = encode_wav(audio.samples, audio.sample_rate, sample_format="float32")
    head = {
        "part": "audio",
        "type": "audio/wav",
        "digest": hashlib.sha256(data).hexdigest(),
        "sample_rate": audio.sample_rate,
        "frames": int(audio.samples.shape[1]),
        "end_reason": audio.end_reason,
    }
    return Frame(head, data)


def heard_part(audio: Audio, wanted: Wanted) -> Frame:
    """A part of audio that somebody listens to, in the form that they asked for: FLAC where their
    line is slow. What passes full scale, which only float holds, stays float."""
    part = audio_part(audio)
    form = wanted.given.get("audio_form")
    peak = float(np.abs(audio.samples).max(initial=0.0))
    if form is None or peak > 1.0:
        return part
    # What is quiet would have few steps of 16 bit, and is small in 24.
    bits: FlacBits = 16 if form == "flac16" and peak > _QUIET else 24
    data = encode_flac(audio.samples, audio.sample_rate, bits)
    return Frame({**part.head, "type": "audio/flac"}, data)


def base64_of(array: NDArray[Any]) -> str:
    return base64.b64encode(array.tobytes()).decode()


def outline_of(drawn: Outline) -> dict[str, Any]:
    return {"scale": drawn.scale, "data": base64_of(drawn.data)}


def rounded(values: NDArray[Any], decimals: int) -> list[Any]:
    found: list[Any] = np.round(values, decimals).tolist()
    return found


def spectrogram_of(audio: Audio, *, rows: int, columns: int) -> dict[str, Any]:
    """A spectrogram as JSON: bytes row by row, their frequencies, and what 0 stands for."""
    image = spectrogram(audio.samples, audio.sample_rate, rows=rows, columns=columns)
    count, width = image.data.shape
    return {
        "rows": count,
        "columns": width,
        "low_hz": image.low_hz,
        "high_hz": image.high_hz,
        "floor_db": FLOOR_DB,
        "data": base64_of(image.data),
    }
