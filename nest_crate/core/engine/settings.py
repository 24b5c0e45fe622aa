"""What a render is asked for, and what it answers."""

from __future__ import annotations

import platform
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from llvmlite.binding import get_host_cpu_name

from nest_crate.core.cancellation import Cancel
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.budget import Budget, Cost
from nest_crate.core.engine.readings import TapReading
from nest_crate.core.errors import DocumentError, FieldProblem

__all__ = [
    "ENGINE_VERSION",
    "MAX_LENGTH_S",
    "SAMPLE_RATES",
    "Audio",
    "EndReason",
    "RenderSettings",
    "cpu_family",
    "missing_recording",
]

# Part of every take's lineage: raised whenever the same sound would give other samples.
ENGINE_VERSION = 10


def cpu_family() -> str:
    """The kind of processor that renders here: the same samples come from one kind, to the bit."""
    return f"{platform.machine()} {get_host_cpu_name()}"[:60]


SAMPLE_RATES = (44100, 48000, 88200, 96000, 192000)
MAX_LENGTH_S = 60.0

Quality = Literal["draft", "final"]
EndReason = Literal["silence", "length", "limit"]


def missing_recording(identifier: str) -> DocumentError:
    """What is said of a recording that is not there, or not for who asks."""
    message = f"the recording {identifier[:8]} is not here; import it again"
    return DocumentError([FieldProblem("recording", message, "unknown")])


@dataclass(frozen=True)
class RenderSettings:
    """Rate in Hz, quality, and a length in seconds where the sound shall not decide."""

    sample_rate: int = 48000
    quality: Quality = "final"
    length_s: float | None = None
    recordings: Mapping[str, Audio] = field(default_factory=dict, compare=False)
    """Stored recordings by their hash, for what a sound refers to."""
    budget: Budget = field(default_factory=Budget, compare=False)
    """What a render may take; it is refused before it begins where it would take more."""
    cancel: Cancel | None = field(default=None, compare=False)
    """Where another thread says that nobody waits any more."""

    def __post_init__(self) -> None:
        if self.sample_rate not in SAMPLE_RATES:
            rates = ", ".join(str(rate) for rate in SAMPLE_RATES)
            raise DocumentError(
                [FieldProblem("sample_rate", f"{self.sample_rate} is none of {rates}", "rate")]
            )
        if self.length_s is not None and not 0.001 <= self.length_s <= MAX_LENGTH_S:
            raise DocumentError(
                [FieldProblem("length_s", f"{self.length_s} s is not 0.001 to 60 s", "range")]
            )

    def recording(self, identifier: str) -> Audio:
        """A stored recording.

        Raises
        ------
        DocumentError
            where there is none of that hash.
        """
        found = self.recordings.get(identifier)
        if found is None:
            raise missing_recording(identifier)
        return found


@dataclass(frozen=True)
class Audio:
    """A rendered hit: samples (channels, frames), float64, and why it ended where it does."""

    samples: Signal
    sample_rate: int
    end_reason: EndReason = "silence"

    @property
    def length_s(self) -> float:
        return float(self.samples.shape[1] / self.sample_rate)


@dataclass(frozen=True)
class Rendering:
    """An audio with what the screen shows of the way to it.

    ``taps`` holds what was read off each processor that is on, by its id, where the hit is one
    note, and ``read``, by name, what the caller had read off its output; ``layers`` each sounding
    layer's output by layer id; ``levels_db`` the peak after each layer and processor by its id, in
    a layer that plays several notes that of the loudest; ``stage_seconds`` what each took (0 where
    remembered); ``cost`` what it was expected to take.
    """

    audio: Audio
    settings: RenderSettings = field(default_factory=RenderSettings)
    layers: dict[str, Signal] = field(default_factory=dict)
    taps: dict[str, TapReading] = field(default_factory=dict)
    read: dict[str, dict[str, Any]] = field(default_factory=dict)
    levels_db: dict[str, float] = field(default_factory=dict)
    stage_seconds: dict[str, float] = field(default_factory=dict)
    cost: Cost | None = None
