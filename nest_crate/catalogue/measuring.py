"""The figures of a sample, measured on what is heard of it and written into its row."""

from __future__ import annotations

from nest_crate.catalogue.models import Sample
from nest_crate.core.analysis.drawing import outline
from nest_crate.core.analysis.features import features
from nest_crate.core.analysis.measures import measure
from nest_crate.core.dsp.trimming import SoundEdits, apply_edits
from nest_crate.core.engine import Audio
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage import AudioStore

__all__ = ["heard_audio", "measure_into"]

# Columns of the waveform kept with a sample, for lists.
OUTLINE_COLUMNS = 160


def measure_into(sample: Sample, audio: Audio) -> None:
    """Write what is measured of a sound into a sample's row."""
    measures = measure(audio.samples, audio.sample_rate)
    found = features(audio.samples, audio.sample_rate)
    sample.length_s = measures.length_s
    sample.channels = measures.channels
    sample.sample_rate = audio.sample_rate
    sample.peak_db = measures.peak_db
    sample.true_peak_db = measures.true_peak_db
    sample.loudness_lufs = measures.loudness_lufs
    sample.fundamental_hz = measures.fundamental_hz
    sample.note = measures.note
    sample.cents = measures.cents
    sample.decay_s = found.decay_s
    sample.brightness_hz = found.brightness_hz
    sample.noisiness = found.noisiness
    sample.low_share_db = found.low_share_db
    sample.features = found.vector.tobytes()
    sample.outline = outline(audio.samples, OUTLINE_COLUMNS).data.tobytes()


def heard_audio(store: AudioStore, sample: Sample) -> Audio:
    """What is heard of a sample: its file with its edits."""
    signal, rate = decode_wav(store.get(sample.file_digest))
    return Audio(apply_edits(signal, rate, SoundEdits.of(sample.edits)), rate)
