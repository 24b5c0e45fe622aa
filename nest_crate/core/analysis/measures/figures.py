"""The figures of a sound, all read off its samples."""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from nest_crate.core.analysis.measures.pitch import PitchTrack, claimed_pitch
from nest_crate.core.analysis.measures.stereo import StereoFigures, stereo_figures
from nest_crate.core.dsp.dynamics.loudness import (
    measured_loudness,
    true_peak_db,
)
from nest_crate.core.dsp.util.signals import Signal, peak, require_signal
from nest_crate.core.units import gain_to_db, hz_to_note, note_name

__all__ = ["Measures", "measure"]


@dataclass(frozen=True)
class Measures:
    """Levels in dB re full scale, loudness in LUFS (integrated, and the loudest 400 ms and 3 s),
    crest factor in dB, pitch in Hz (None where there is none)."""

    length_s: float
    channels: int
    peak_db: float
    true_peak_db: float
    loudness_lufs: float
    momentary_lufs: float
    short_term_lufs: float
    crest_db: float
    offset_db: float
    fundamental_hz: float | None
    note: str | None
    cents: float | None
    pitch_confidence: float = 0.0
    several_notes: bool = False
    stereo: StereoFigures = field(default_factory=StereoFigures)

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


def _crest_db(signal: Signal) -> float:
    """Peak over the root mean square of the loudest channel; 0 where all is silent."""
    top = peak(signal)
    power = float(np.mean(signal**2, axis=1).max()) if signal.size else 0.0
    return 20.0 * math.log10(top / math.sqrt(power)) if power > 0.0 else 0.0


def measure(signal: Signal, sample_rate: int, *, track: PitchTrack | None = None) -> Measures:
    """Measure a signal of shape (1 or 2, frames); ``track`` is its pitch where that is known.

    ``fundamental_hz`` is the pitch the sound settles at, ``note`` the nearest note of it and
    ``cents`` how far it lies from that note; None where no partial lies there, or where several
    notes sound. ``pitch_confidence`` is the share of what is heard that the pitch explains.
    """
    signal = require_signal(signal)
    loudness = measured_loudness(signal, sample_rate)
    claim = claimed_pitch(signal, sample_rate, track)
    fundamental_hz = claim.hz
    note, cents = None, None
    if fundamental_hz is not None:
        exact = hz_to_note(fundamental_hz)
        nearest = min(127, max(0, math.floor(exact + 0.5)))
        note, cents = note_name(nearest), 100.0 * (exact - nearest)
    offset = max((abs(float(c.mean())) for c in signal), default=0.0) if signal.size else 0.0
    return Measures(
        length_s=signal.shape[1] / sample_rate,
        channels=signal.shape[0],
        peak_db=gain_to_db(peak(signal)),
        true_peak_db=true_peak_db(signal),
        loudness_lufs=loudness.integrated_lufs,
        momentary_lufs=loudness.momentary_max_lufs,
        short_term_lufs=loudness.short_term_max_lufs,
        crest_db=_crest_db(signal),
        offset_db=gain_to_db(offset),
        fundamental_hz=fundamental_hz,
        note=note,
        cents=cents,
        pitch_confidence=claim.confidence,
        several_notes=claim.several,
        stereo=stereo_figures(signal, sample_rate),
    )
