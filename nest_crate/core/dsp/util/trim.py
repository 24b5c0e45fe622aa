"""What is done to a stored sound when it is heard or removed: a part of it, fades, a gain."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from nest_crate.core.dsp.util.signals import Signal, require_signal

__all__ = ["NO_EDITS", "SoundEdits", "apply_edits", "silence_around"]

# Silence is what lies so far below the peak; a little of it is left before the sound begins.
_SILENT_DB = -72.0
_LEAD_S = 0.001
_TAIL_S = 0.01


@dataclass(frozen=True)
class SoundEdits:
    """Start and end in seconds of the stored sound (end 0: its own), fades in seconds, gain in
    dB."""

    start_s: float = 0.0
    end_s: float = 0.0
    fade_in_s: float = 0.0
    fade_out_s: float = 0.0
    gain_db: float = 0.0

    def as_dict(self) -> dict[str, float]:
        """Only what is not at rest."""
        return {name: value for name, value in asdict(self).items() if value}

    @classmethod
    def of(cls, stored: dict[str, Any] | None) -> SoundEdits:
        """The edits that were kept as plain values."""
        return cls(**(stored or {}))


NO_EDITS = SoundEdits()


def apply_edits(signal: Signal, sample_rate: int, edits: SoundEdits) -> Signal:
    """A signal (channels, frames) with its edits; the same array where there are none.

    Fades are half a period of a cosine, so that neither end has a corner; longer than the sound,
    they are shortened to it.
    """
    signal = require_signal(signal)
    if edits == NO_EDITS:
        return signal
    frames = signal.shape[1]
    start = min(frames, round(edits.start_s * sample_rate))
    end = min(frames, round(edits.end_s * sample_rate)) if edits.end_s else frames
    made = signal[:, start : max(start, end)] * 10.0 ** (edits.gain_db / 20.0)
    length = made.shape[1]
    fade_in = min(length, round(edits.fade_in_s * sample_rate))
    fade_out = min(length, round(edits.fade_out_s * sample_rate))
    if fade_in:
        made[:, :fade_in] *= _rise(fade_in)
    if fade_out:
        made[:, length - fade_out :] *= _rise(fade_out)[::-1]
    return np.ascontiguousarray(made)


def _rise(frames: int) -> Signal:
    return np.asarray(0.5 - 0.5 * np.cos(np.pi * (np.arange(frames) + 0.5) / frames))


def silence_around(signal: Signal, sample_rate: int) -> tuple[float, float]:
    """Seconds at which to start and end so that only silence is left out: what lies 72 dB below
    the peak. Nothing is left out of silence itself."""
    size = np.abs(require_signal(signal)).max(axis=0) if signal.size else np.zeros(0)
    loud = np.flatnonzero(size > size.max(initial=0.0) * 10.0 ** (_SILENT_DB / 20.0))
    if not loud.size:
        return 0.0, signal.shape[1] / sample_rate
    start = max(0.0, loud[0] / sample_rate - _LEAD_S)
    end = min(signal.shape[1] / sample_rate, (loud[-1] + 1) / sample_rate + _TAIL_S)
    return float(start), float(end)
