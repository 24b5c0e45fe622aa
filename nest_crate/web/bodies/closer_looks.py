"""Closer looks at a sound: its details, its steps, its keys, its parts."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nest_crate.web.bodies.auditions import FixBody, OutlineBody
from nest_crate.web.bodies.requests import AuditionRequest

__all__ = [
    "ContributionBody",
    "ContributionsBody",
    "DetailsBody",
    "DifferenceBody",
    "DifferenceRequest",
    "GainCurveBody",
    "HoldOutlineBody",
    "LayerDetailsBody",
    "ProbeBody",
    "ProbeStepBody",
    "ProcessorLookBody",
    "ProcessorRequest",
    "RecipeBody",
    "RegisterBody",
    "RegisterReadingBody",
    "RepeatsBody",
    "ResonanceBody",
    "RingingBody",
    "StepFiguresBody",
]


class RingingBody(BaseModel):
    """Seconds from the start: the loudest moment, the last ones within 20, 40 and 60 dB of it."""

    loudest_s: float
    falls_s: list[float]
    ring_s: float


class LayerDetailsBody(BaseModel):
    """``track`` is (seconds, semitones from ``base_hz``), as measured on the render."""

    track: list[list[float]]
    base_hz: float | None
    landing_hz: float | None
    note: str | None
    cents: float | None
    ringing: RingingBody | None
    held_st: float | None = Field(description="Semitones from its own pitch at the hold's end")
    bands_db: list[list[float]] = Field(
        description="Peak level over time below 120 Hz, to 500 Hz, to 2 kHz and above"
    )


class HoldOutlineBody(BaseModel):
    name: str
    hold_s: float
    length_s: float
    end_reason: Literal["silence", "length", "limit"]
    ringing: RingingBody | None
    outline: OutlineBody


class DetailsBody(BaseModel):
    layers: dict[str, LayerDetailsBody]
    ringing: RingingBody | None
    holds: list[HoldOutlineBody]
    moved: dict[str, list[list[float]]] = Field(
        description="By target: (seconds, value in its own unit), as it is reached"
    )
    held: dict[str, float] = Field(description="By target: the value at the end of the hold")
    loudness_lufs: dict[str, float] = Field(description="After each step of the path, by its id")


class ProbeStepBody(BaseModel):
    where: str
    layer: str | None
    level_db: float | None
    silent: bool
    reason: str
    fixes: list[FixBody]


class ProbeBody(BaseModel):
    steps: list[ProbeStepBody]


class RepeatsBody(BaseModel):
    """``difference_db`` is the largest difference signal re the first hit's level."""

    hits: int
    identical: bool
    difference_db: float
    peak_spread_db: float
    loudness_spread_db: float
    low_spread_db: float


class ProcessorRequest(AuditionRequest):
    processor: str = Field(max_length=40, description="Id of the processor")


class StepFiguresBody(BaseModel):
    """Levels at one place of the path; ``spectrum_db`` at the frequencies of the look."""

    peak_db: float
    true_peak_db: float
    loudness_lufs: float
    transient_db: float | None
    spectrum_db: list[float]
    low_tail_db: float


class GainCurveBody(BaseModel):
    """Gain over the hit; ``band`` is empty for the whole."""

    band: str
    time_s: list[float]
    gain_db: list[float]


class ResonanceBody(BaseModel):
    hz: float
    level_db: float
    over_db: float


class ProcessorLookBody(BaseModel):
    """What goes into a processor, what comes out, and what it does meanwhile."""

    before: StepFiguresBody
    after: StepFiguresBody
    spectrum_hz: list[float]
    change_db: float
    gains: list[GainCurveBody]
    resonances: list[ResonanceBody]


class RegisterReadingBody(BaseModel):
    """One note of a sound: how loud, how much of it lies from 2 to 6 kHz and below 120 Hz."""

    note: int
    loudness_lufs: float
    harsh_db: float
    low_db: float
    fundamental_db: float | None


class RegisterBody(BaseModel):
    readings: list[RegisterReadingBody]
    fixes: list[FixBody]


class DifferenceRequest(AuditionRequest):
    other: dict[str, Any] = Field(description="The document that it is compared with")


class DifferenceBody(BaseModel):
    """``change_db`` is the largest change in any short time and band; loudness this less other."""

    change_db: float
    loudness_db: float


class ContributionBody(BaseModel):
    kind: Literal["layer", "processor", "link"]
    id: str = Field(description="Of the layer or processor; the target of a link")
    name: str = Field(description="Of a layer; kind of a processor; mover of a link")
    owner: str = Field(description="Whose chain a processor stands in; id of a link's mover")
    change_db: float
    loudness_db: float
    fix: FixBody


class ContributionsBody(BaseModel):
    parts: list[ContributionBody]


class RecipeBody(BaseModel):
    text: str
