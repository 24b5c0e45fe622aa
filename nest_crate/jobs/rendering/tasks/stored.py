"""What is heard of stored files."""

from __future__ import annotations

from typing import Any

from nest_crate.core.dsp.util.trim import SoundEdits, apply_edits
from nest_crate.core.engine import Audio
from nest_crate.core.engine.settings import missing_recording
from nest_crate.storage.stored_recordings import StoredRecordings

__all__ = ["sample_audio"]


def sample_audio(recordings: StoredRecordings, sample: dict[str, Any], reach_s: float) -> Audio:
    """What is heard of a sample, no more than so much of it."""
    edits = SoundEdits.of(sample["edits"])
    try:
        stored = recordings.beginning(sample["digest"], edits.start_s + edits.fade_out_s + reach_s)
    except KeyError as error:
        raise missing_recording(sample["digest"]) from error
    return Audio(apply_edits(stored.samples, stored.sample_rate, edits), stored.sample_rate)
