"""Two to four sides beside each other: pictures, figures, and where they differ."""

from __future__ import annotations

from typing import Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.comparing.typical import typical_figures
from nest_crate.web import bodies
from nest_crate.web.comparing.requests import (
    SideRequest,
    SidesRequest,
    render_of_sides,
    sides_of,
)
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import FLAC, WAV, file_answer
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import CLOSER, HEARD, heard_of, json_of

__all__ = ["api"]

api = APIBlueprint(
    "comparisons", __name__, url_prefix="/api/comparisons", abp_tags=[Tag(name="comparisons")]
)


class LeftOutRequest(Form):
    from_s: float
    to_s: float


class ComparisonRequest(SidesRequest):
    match: Literal["loudness", "peak", "off"] = "loudness"
    shifts_s: list[float | None] = Field(
        default_factory=list,
        max_length=4,
        description="For each side, by how much later than the first it begins; null: as found",
    )
    left_out: list[LeftOutRequest] = Field(
        default_factory=list,
        max_length=32,
        description="Stretches of the ruler, in seconds, that count nowhere",
    )
    stream: str = Field(default="", max_length=80)


class GridLevelsBody(BaseModel):
    """base64 of uint8, band by band; 0 is -120 dB, each step half a dB."""

    bands: int
    steps: int
    data: str


class PitchLineBody(BaseModel):
    time_s: list[float]
    hz: list[float]


class SideBody(BaseModel):
    """A side on the common ruler; pictures and levels have its gain."""

    starts_s: float
    gain_db: float
    length_s: float
    peak_db: float
    loudness_lufs: float
    fundamental_hz: float | None
    brightness_hz: float
    decay_s: float
    low_share_db: float = Field(description="What lies below 120 Hz, re all")
    outline: bodies.OutlineBody
    spectrogram: bodies.SpectrogramBody
    levels: GridLevelsBody
    pitch: PitchLineBody
    spectrum_db: list[float]


class ApartBody(BaseModel):
    """base64 of int8, band by band; 127 stands for ``most_db`` more than the first side."""

    most_db: float
    data: str


class SideDifferenceBody(BaseModel):
    kind: Literal["level", "fall", "pitch"]
    amount: float = Field(description="In dB, in s, in cents")
    from_s: float
    to_s: float
    from_hz: float
    to_hz: float
    weight: float = Field(description="By which they are ranked; 1 is plainly heard")
    words: str
    hint: str


class SidePairBody(BaseModel):
    """A side beside the first; the second side's is the first of the list."""

    spectra_db: float
    level_db: float
    pitch_cent: float | None
    null_db: float | None
    spectrum_db: list[float]
    apart: ApartBody
    differences: list[SideDifferenceBody]


class ComparedBody(BaseModel):
    """Times in s on the common ruler; ``edges_hz`` are those of the bands of levels."""

    length_s: float
    step_s: float
    edges_hz: list[float]
    spectrum_hz: list[float]
    sides: list[SideBody]
    pairs: list[SidePairBody]


class NamedSideBody(BaseModel):
    name: str
    detail: str
    in_library: bool


class NamedSidesBody(BaseModel):
    sides: list[NamedSideBody]


@api.post("", responses={200: ComparedBody, 404: Problem, 409: Problem, 422: Problem})
def compare(body: ComparisonRequest) -> Response:
    """Lay sides over each other: aligned, as loud as the first, and where they differ from it. A
    newer request of the same stream ends this one with 409."""
    account = current_account()
    found = sides_of(account, body.sides)
    wanted = render_of_sides(
        account,
        found,
        "compare_sides",
        CLOSER,
        stream=body.stream,
        sides=[one.given for one in found],
        match=body.match,
        shifts_s=body.shifts_s,
        left_out=[[one.from_s, one.to_s] for one in body.left_out],
    )
    return json_of(wanted)


class NamesOfSidesRequest(Form):
    sides: list[SideRequest] = Field(min_length=1, max_length=4)


class TypicalFigureBody(BaseModel):
    """Quartiles of one figure; its name is that of a side's figure."""

    name: Literal["loudness_lufs", "length_s", "decay_s", "brightness_hz", "low_share_db"]
    low: float
    middle: float
    high: float


class TypicalBody(BaseModel):
    """What is typical of a kind in a library; ``kind`` is empty where none is known."""

    kind: str
    count: int
    figures: list[TypicalFigureBody]


@api.post("/typical", responses={200: TypicalBody, 404: Problem, 422: Problem})
def typical(body: NamesOfSidesRequest) -> Response:
    """What samples of the kind of the first side that is in a library have there."""
    found, account = services(), current_account()
    sides = sides_of(account, body.sides)
    with found.database.session() as session:
        kind = typical_figures(session, found.index, sides)
    figures = [
        TypicalFigureBody.model_validate({"name": name, "low": low, "middle": middle, "high": high})
        for name, (low, middle, high) in kind.quartiles.items()
    ]
    answer = TypicalBody(kind=kind.name, count=kind.count, figures=figures)
    return make_response(answer.model_dump())


@api.post("/names", responses={200: NamedSidesBody, 404: Problem, 422: Problem})
def names(body: NamesOfSidesRequest) -> Response:
    """What the sides are called."""
    found = sides_of(current_account(), body.sides)
    listed = [
        NamedSideBody(name=one.name, detail=one.detail, in_library=one.library_id is not None)
        for one in found
    ]
    return make_response(NamedSidesBody(sides=listed).model_dump())


@api.post("/audio", responses={200: file_answer(WAV, FLAC), 404: Problem, 422: Problem})
def audio(body: SideRequest) -> Response:
    """One side as audio at 48 kHz, neither moved nor made louder."""
    account = current_account()
    found = sides_of(account, [body])
    return heard_of(render_of_sides(account, found, "hear_side", HEARD, side=found[0].given))
