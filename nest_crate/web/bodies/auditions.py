"""Hits and phrases that are heard, with what is measured and drawn of them."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nest_crate.web.bodies.requests import AuditionRequest, Request

__all__ = [
    "AuditionBody",
    "DetailsRequest",
    "EditBody",
    "FixBody",
    "ListenRequest",
    "MeasuresBody",
    "OutlineBody",
    "PhraseBody",
    "PhraseRequest",
    "PhrasesBody",
    "RemarkBody",
    "SpectrogramBody",
    "StereoBody",
    "TookBody",
]


class DetailsRequest(AuditionRequest):
    holds: bool = Field(default=True, description="A tap and a long hold are rendered too")


class ListenRequest(AuditionRequest):
    listen_at: str | None = Field(
        default=None, description="Id of a step to listen at instead of the output"
    )
    sound_id: int | None = Field(
        default=None, description="The sound it is, for comparing it with what its library holds"
    )
    stream: str = Field(
        default="",
        max_length=80,
        description="Requests of one account and stream replace each other, the newest stays; by "
        "itself those with the same sound_id do",
    )
    details: bool = Field(default=False, description="With the closer look, as its last part")
    holds: bool = Field(default=False, description="Closer: a tap and a long hold too")


class OutlineBody(BaseModel):
    """base64 of int8 pairs (lowest, highest) a column; 127 stands for ``scale``."""

    scale: float
    data: str


class SpectrogramBody(BaseModel):
    """base64 of uint8, row by row from the lowest; 0 is ``floor_db``, 255 is 0 dB."""

    rows: int
    columns: int
    low_hz: float
    high_hz: float
    floor_db: float
    data: str


class StereoBody(BaseModel):
    """``side_db`` is the sides re the middle below 120 Hz, to 500 Hz, to 2 kHz and above."""

    correlation: float
    low_correlation: float
    side_db: list[float]
    mono_loss_db: float
    low_share_db: float


class MeasuresBody(BaseModel):
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
    pitch_confidence: float
    several_notes: bool
    stereo: StereoBody


class EditBody(BaseModel):
    path: str
    value: Any


class FixBody(BaseModel):
    label: str
    edits: list[EditBody]


class RemarkBody(BaseModel):
    code: str
    severity: Literal["good", "warn", "bad"]
    text: str
    at_s: float | None
    layer: str | None
    fixes: list[FixBody]


class TookBody(BaseModel):
    """Milliseconds of each part of the work."""

    render_ms: float
    measure_ms: float
    draw_ms: float
    total_ms: float
    stages: int = Field(description="Steps of the render that were looked at")
    remembered: int = Field(description="Of these, taken from memory instead of made again")


class AuditionBody(BaseModel):
    """A rendered hit; ``digest`` names its audio."""

    digest: str
    sample_rate: int
    frames: int
    end_reason: Literal["silence", "length", "limit"]
    measures: MeasuresBody
    remarks: list[RemarkBody]
    outline: OutlineBody
    layers: dict[str, OutlineBody]
    levels_db: dict[str, float]
    spectrogram: SpectrogramBody
    took: TookBody


class PhraseBody(BaseModel):
    name: str
    label: str


class PhrasesBody(BaseModel):
    phrases: list[PhraseBody]


class PhraseRequest(Request):
    document: dict[str, Any]
    phrase: str = Field(max_length=40)
    sample_rate: int = 48000
