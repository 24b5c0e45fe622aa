"""Sources and references: what is offered, looked at and proposed."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from nest_crate.web.bodies.auditions import OutlineBody
from nest_crate.web.bodies.requests import AuditionRequest

__all__ = [
    "BandLevelsBody",
    "ComparisonBody",
    "CyclesBody",
    "DistanceBody",
    "LookedModeBody",
    "ProposalBody",
    "ProposalRequest",
    "SourceLookBody",
    "SourceRequest",
    "StandingPeaksBody",
    "StarterBody",
    "StartersBody",
    "WavetableBody",
    "WavetablesBody",
]


class SourceRequest(AuditionRequest):
    layer: str = Field(max_length=40, description="Id of the layer")


class LookedModeBody(BaseModel):
    """One mode of a body: level re the loudest, ``decay_s`` to -60 dB."""

    mode: int
    hz: float
    level_db: float
    decay_s: float
    heard: bool


class CyclesBody(BaseModel):
    """base64 of int8, ``frames`` rows of ``columns``; 127 stands for 1."""

    frames: int
    columns: int
    data: str


class SourceLookBody(BaseModel):
    """What there is to see of a source; what its kind does not have is empty."""

    kind: str
    modes: list[LookedModeBody]
    loop_gain: float | None
    cycles: CyclesBody | None
    places: list[float]
    places_s: float
    outline: OutlineBody | None
    length_s: float
    start_s: float
    end_s: float
    begins_s: float


class WavetableBody(BaseModel):
    """A table that comes with the program, with some of its cycles."""

    name: str
    cycles: CyclesBody


class WavetablesBody(BaseModel):
    wavetables: list[WavetableBody]


class StarterBody(BaseModel):
    """A sound to start from, what it is for and what it is made of."""

    category: str
    words: str
    document: dict[str, Any]


class StartersBody(BaseModel):
    starters: list[StarterBody]


class ProposalRequest(BaseModel):
    recording: str = Field(pattern=r"^[0-9a-f]{64}$")
    name: str = Field(default="From a file", min_length=1, max_length=120)


class DistanceBody(BaseModel):
    """Mean differences from a reference; ``bands_db`` ours less the reference at ``bands_hz``."""

    level_db: float
    pitch_cent: float | None
    bands_mean_db: float
    bands_hz: list[float]
    bands_db: list[float]


class ProposalBody(BaseModel):
    """A first sound for a reference, what was found in it, and how near the sound is."""

    document: dict[str, Any]
    distance: DistanceBody
    found: list[str]


class BandLevelsBody(BaseModel):
    name: str
    ours_db: list[float]
    reference_db: list[float]


class StandingPeaksBody(BaseModel):
    """Of a gliding reference: its mean outline, and the peaks that do not move with the pitch."""

    hz: list[float]
    outline_db: list[float]
    peaks_hz: list[float]
    glide_hz: list[float]


class ComparisonBody(BaseModel):
    """A sound beside its reference, which is moved by ``shift_s`` to meet it."""

    shift_s: float
    reference_length_s: float
    outline: OutlineBody
    step_s: float
    bands: list[BandLevelsBody]
    distance: DistanceBody
    standing: StandingPeaksBody | None
