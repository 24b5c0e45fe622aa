"""The figures of a sample, measured on what is heard of it and written into its row."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.models import Sample, utc_now
from nest_crate.core.analysis.features.features import Features, features
from nest_crate.core.analysis.measures.figures import Measures, measure
from nest_crate.core.analysis.pictures.outlines import outline
from nest_crate.core.dsp.util.trim import SoundEdits, apply_edits
from nest_crate.core.engine import Audio
from nest_crate.core.errors import NestCrateError
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage import AudioStore

__all__ = [
    "OUTLINE_COLUMNS",
    "heard_audio",
    "measure_again",
    "measure_into",
    "measured",
    "measured_values",
    "values_of",
]

# Columns of the waveform kept with a sample, for lists.
OUTLINE_COLUMNS = 160


def measured_values(audio: Audio) -> dict[str, Any]:
    """What is measured of a sound, by the names of a sample's columns."""
    return {
        **values_of(
            measure(audio.samples, audio.sample_rate),
            features(audio.samples, audio.sample_rate),
            audio.sample_rate,
        ),
        "outline": outline(audio.samples, OUTLINE_COLUMNS).data.tobytes(),
    }


def values_of(measures: Measures, found: Features, sample_rate: int) -> dict[str, Any]:
    """As ``measured_values`` without the outline, of what was measured already."""
    return {
        "length_s": measures.length_s,
        "channels": measures.channels,
        "sample_rate": sample_rate,
        "peak_db": measures.peak_db,
        "true_peak_db": measures.true_peak_db,
        "loudness_lufs": measures.loudness_lufs,
        "fundamental_hz": measures.fundamental_hz,
        "note": measures.note,
        "cents": measures.cents,
        "pitch_confidence": measures.pitch_confidence,
        "several_notes": measures.several_notes,
        "decay_s": found.decay_s,
        "brightness_hz": found.brightness_hz,
        "noisiness": found.noisiness,
        "low_share_db": found.low_share_db,
        "features": found.vector.tobytes(),
    }


def measured(audio: Audio) -> Sample:
    """A new sample with the figures of a sound, in no library yet."""
    sample = Sample()
    measure_into(sample, audio)
    return sample


def measure_into(sample: Sample, audio: Audio) -> None:
    """Write what is measured of a sound into a sample's row."""
    for name, value in measured_values(audio).items():
        setattr(sample, name, value)


def heard_audio(store: AudioStore, sample: Sample) -> Audio:
    """What is heard of a sample: its file with its edits."""
    signal, rate = decode_wav(store.get(sample.file_digest))
    return Audio(apply_edits(signal, rate, SoundEdits.of(sample.edits)), rate)


def measure_again(
    database: Database, store: AudioStore, *, everything: bool = False
) -> tuple[int, list[str]]:
    """Measure samples that an earlier version measured, or all of them.

    Each is a transaction of its own, so that people work on meanwhile. Answers how many were
    measured, and what was wrong with the others.
    """
    query = select(Sample.id).order_by(Sample.id)
    if not everything:
        query = query.where(Sample.pitch_confidence.is_(None))
    with database.session() as session:
        ids = session.scalars(query).all()
    count, problems = 0, []
    for identifier in ids:
        with database.session() as session:
            sample = session.get(Sample, identifier, with_for_update=True)
            if sample is None:
                continue
            try:
                measure_into(sample, heard_audio(store, sample))
            except (NestCrateError, OSError) as error:
                problems.append(f"{sample.name}: {error}")
                continue
            # By this date the search sees that there is something new.
            sample.changed = utc_now()
            count += 1
    return count, problems
