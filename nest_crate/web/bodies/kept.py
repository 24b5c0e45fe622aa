"""Shapes, chains and recordings that people keep."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nest_crate.web.bodies.catalogue import FileDetails
from nest_crate.web.bodies.requests import Request

__all__ = [
    "MidiBody",
    "MidiNoteBody",
    "RecordingBody",
    "RecordingsBody",
    "SavedChainBody",
    "SavedChainRequest",
    "SavedChainsBody",
    "ShapeBody",
    "ShapeRequest",
    "ShapesBody",
    "StockShapeBody",
]


class ShapeRequest(Request):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    curve_name: Literal["level", "pitch", "mover", "partials"]
    curve: dict[str, Any]


class ShapeBody(BaseModel):
    """A shape of one's own."""

    id: int
    name: str
    curve_name: Literal["level", "pitch", "mover", "partials"]
    curve: dict[str, Any]


class StockShapeBody(BaseModel):
    name: str
    curve: dict[str, Any]


class ShapesBody(BaseModel):
    stock: list[StockShapeBody]
    own: list[ShapeBody]


class SavedChainRequest(Request):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    chain: list[dict[str, Any]] = Field(min_length=1)


class SavedChainBody(BaseModel):
    """A chain of processors under a name."""

    id: int
    name: str
    chain: list[dict[str, Any]]


class SavedChainsBody(BaseModel):
    chains: list[SavedChainBody]


class MidiNoteBody(BaseModel):
    note: int
    velocity: int
    at_s: float
    hold_s: float


class MidiBody(BaseModel):
    """Notes of a MIDI file in the order in which they begin."""

    notes: list[MidiNoteBody]


class RecordingBody(BaseModel):
    """A recording imported; sounds refer to it by ``digest``."""

    id: int
    name: str
    digest: str
    length_s: float
    channels: int
    sample_rate: int
    details: FileDetails


class RecordingsBody(BaseModel):
    recordings: list[RecordingBody]
