"""Sides beside each other, and the audio of one of them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.measures.pitch import PitchTrack
from nest_crate.core.analysis.pictures.outlines import FLOOR_DB, Spectrogram
from nest_crate.core.comparing import Beside, Compared, Pair, compare_sides
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.engine import Audio, render
from nest_crate.core.sound import load_sound
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import (
    base64_of,
    heard_part,
    json_part,
    outline_of,
    rounded,
)
from nest_crate.jobs.rendering.tasks.stored import sample_audio
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["compare", "hear"]

_LONGEST_S = 61.0
# Of the map of differences: 127 stands for so many dB.
_MOST_APART_DB = 30.0


def hear(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """One side by itself, as it is."""
    yield heard_part(_audio(workshop, wanted, wanted.given["side"]), wanted)


def compare(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """All sides beside the first."""
    given = wanted.given
    sides = [_audio(workshop, wanted, one) for one in given["sides"]]
    found = compare_sides(
        sides,
        match=given["match"],
        shifts_s=given["shifts_s"],
        left_out=[(start, end) for start, end in given["left_out"]],
    )
    yield json_part("compared", _written(found))


def _audio(workshop: Workshop, wanted: Wanted, side: dict[str, Any]) -> Audio:
    """A side at the rate that all have; one frame of silence where it has none."""
    settings = workshop.settings(wanted)
    if "document" in side:
        made = render(load_sound(side["document"]), settings=settings, memory=workshop.stages)
        samples = made.samples
    else:
        stored = sample_audio(workshop.recordings(wanted.given["store"]), side, _LONGEST_S)
        samples = resample(stored.samples, stored.sample_rate, settings.sample_rate)
    if samples.shape[1] == 0:
        samples = np.zeros((1, 1))
    return Audio(samples, settings.sample_rate)


def _written(found: Compared) -> dict[str, Any]:
    return {
        "length_s": found.length_s,
        "step_s": found.step_s,
        "edges_hz": found.edges_hz,
        "spectrum_hz": rounded(found.spectrum_hz, 1),
        "sides": [_side(one) for one in found.sides],
        "pairs": [_pair(one) for one in found.pairs],
    }


def _side(side: Beside) -> dict[str, Any]:
    measures = side.measures
    return {
        "starts_s": side.starts_s,
        "gain_db": side.gain_db,
        "length_s": side.length_s,
        "peak_db": measures.peak_db,
        "loudness_lufs": measures.loudness_lufs,
        "fundamental_hz": measures.fundamental_hz,
        "brightness_hz": side.features.brightness_hz,
        "decay_s": side.features.decay_s,
        "low_share_db": side.features.low_share_db,
        "outline": outline_of(side.outline),
        "spectrogram": _picture(side.spectrogram),
        "levels": _levels(side.levels_db),
        "pitch": _line(side.pitch),
        "spectrum_db": rounded(side.spectrum_db, 1),
    }


def _picture(image: Spectrogram) -> dict[str, Any]:
    rows, columns = image.data.shape
    return {
        "rows": rows,
        "columns": columns,
        "low_hz": image.low_hz,
        "high_hz": image.high_hz,
        "floor_db": FLOOR_DB,
        "data": base64_of(image.data),
    }


def _levels(levels_db: NDArray[np.float64]) -> dict[str, Any]:
    """Bands by steps as bytes: 0 is -120 dB, half a dB each."""
    steps = np.clip(np.round((levels_db + 120.0) * 2.0), 0, 255).astype(np.uint8)
    return {"bands": steps.shape[0], "steps": steps.shape[1], "data": base64_of(steps)}


def _line(track: PitchTrack) -> dict[str, Any]:
    clear = np.isfinite(track.pitch_hz) & (track.level_db > track.level_db.max(initial=-200) - 40)
    return {
        "time_s": rounded(track.time_s[clear], 4),
        "hz": rounded(track.pitch_hz[clear], 2),
    }


def _pair(pair: Pair) -> dict[str, Any]:
    steps = np.clip(np.round(pair.apart_db * (127.0 / _MOST_APART_DB)), -127, 127)
    return {
        "spectra_db": pair.spectra_db,
        "level_db": pair.level_db,
        "pitch_cent": pair.pitch_cent,
        "null_db": pair.null_db,
        "spectrum_db": rounded(pair.spectrum_db, 1),
        "apart": {
            "most_db": _MOST_APART_DB,
            "data": base64_of(steps.astype(np.int8)),
        },
        "differences": [asdict(one) for one in pair.differences],
    }
