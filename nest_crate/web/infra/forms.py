"""Shapes that many requests share."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["Form", "IdsRequest", "LibraryPath", "SamplePath", "SoundPath"]


# What can be done with many takes in one request.
_MOST_IDS = 5000


class Form(BaseModel):
    """The body of a request: a field that is not known is refused."""

    model_config = ConfigDict(extra="forbid")


class IdsRequest(Form):
    ids: list[int] = Field(min_length=1, max_length=_MOST_IDS)


class LibraryPath(BaseModel):
    library_id: int


class SamplePath(BaseModel):
    sample_id: int


class SoundPath(BaseModel):
    sound_id: int
