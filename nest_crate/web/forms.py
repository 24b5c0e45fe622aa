"""Shapes that many requests share."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

__all__ = ["Form", "LibraryPath", "SamplePath", "SoundPath"]


class Form(BaseModel):
    """The body of a request: a field that is not known is refused."""

    model_config = ConfigDict(extra="forbid")


class LibraryPath(BaseModel):
    library_id: int


class SamplePath(BaseModel):
    sample_id: int


class SoundPath(BaseModel):
    sound_id: int
