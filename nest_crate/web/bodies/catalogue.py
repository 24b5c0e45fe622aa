"""Libraries, sounds and samples as they are sent and answered."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nest_crate.web.bodies.requests import Request

__all__ = [
    "DocumentBody",
    "DraftBody",
    "DraftRequest",
    "FileDetails",
    "LibraryBody",
    "LibraryChangeRequest",
    "LibraryRequest",
    "NewSoundRequest",
    "RevisionBody",
    "RevisionRequest",
    "SampleBody",
    "SoundBody",
    "TakeRequest",
]


class LibraryRequest(Request):
    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    description: str = Field(default="", max_length=4000)
    visibility: Literal["private", "shared", "public"] = "shared"


class LibraryChangeRequest(Request):
    """What is left out stays."""

    name: str | None = Field(default=None, min_length=1, max_length=120, pattern=r"\S")
    description: str | None = Field(default=None, max_length=4000)
    visibility: Literal["private", "shared", "public"] | None = None
    key: str | None = Field(default=None, max_length=60, description="Its name in addresses")


class LibraryBody(BaseModel):
    """A library, the account's role in it with what that allows, and its number of samples."""

    id: int
    key: str = Field(description="Its name in addresses; may stand wherever its number may")
    name: str
    description: str
    visibility: str
    role: str
    may: list[str]
    samples: int


class NewSoundRequest(Request):
    library_id: int
    document: dict[str, Any]
    private: bool = Field(
        default=False,
        description="Seen by its author alone until it is named, kept or moved to a library",
    )


class SoundLook(BaseModel):
    """How a sound looks: its newest sample, or its own hit as it is now."""

    length_s: float
    outline: str = Field(description="Lowest and highest by column as signed bytes, base64")


class SoundBody(BaseModel):
    """A sound in the list."""

    id: int
    name: str
    category: str
    tags: list[str]
    description: str
    takes: int = Field(description="Samples that were made from it")
    look: SoundLook | None = Field(
        default=None, description="Of the newest of them; in the list of sounds alone"
    )
    deleted: bool
    library_id: int
    library_name: str
    private: bool = Field(description="A draft that only its author sees")
    changed: str
    revision: int = Field(description="Number of the newest revision, 0 where none was kept")


class DraftBody(SoundBody):
    """A sound with its draft."""

    version: int = Field(description="Name it as base_version when saving")
    document: dict[str, Any]


class DocumentBody(Request):
    document: dict[str, Any]


class DraftRequest(Request):
    base_version: int
    document: dict[str, Any]


class RevisionRequest(DraftRequest):
    note: str = Field(default="", max_length=500)


class RevisionBody(BaseModel):
    """One kept state of a sound."""

    number: int
    note: str
    created: str
    created_by: str
    document: dict[str, Any]


class TakeRequest(DraftRequest):
    hit: dict[str, Any]
    library_id: int
    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    count: int = Field(
        default=1, ge=1, le=64, description="Hits from the given number on, each one take"
    )
    sample_rate: Literal[44100, 48000, 88200, 96000, 192000] = 48000


class SampleBody(BaseModel):
    """A catalogued sample. ``outline`` is base64 of int8 pairs (lowest, highest)."""

    id: int
    library_id: int
    library_name: str
    name: str
    version: int = Field(description="Name it as base_version when changing")
    category: str
    subcategory: str
    tags: list[str]
    description: str
    licence: str
    author: str
    rating: int
    status: str
    variation_group: str
    folder: str = Field(description="Where an imported file lay")
    variation: int | None
    follows_key: bool
    root_note: int | None
    tempo_bpm: float | None
    loop_start_s: float | None
    loop_end_s: float | None
    edits: dict[str, float]
    file_digest: str
    length_s: float
    channels: int
    sample_rate: int
    peak_db: float
    true_peak_db: float
    loudness_lufs: float
    fundamental_hz: float | None
    note: str | None
    cents: float | None
    pitch_confidence: float | None
    several_notes: bool
    decay_s: float
    brightness_hz: float
    noisiness: float
    low_share_db: float
    suggested_tags: list[str]
    outline: str
    details: FileDetails
    deleted: bool
    created: str
    changed: str
    created_by: str
    sound_id: int | None
    sound_revision: int | None
    hit: dict[str, Any] | None
    engine_version: int | None
    cpu_family: str | None


class FileDetails(BaseModel):
    """What a file that was imported said about itself."""

    root_note: int | None = None
    root_cent: float = 0.0
    loop_start_s: float | None = None
    loop_end_s: float | None = None
    title: str = ""
    comment: str = ""
    author: str = ""
    key: str = Field(default="", description="Musical key")
    date: str = Field(default="", description="Day, month or year that it was made")
    reference: str = Field(default="", description="What its originator calls it")
