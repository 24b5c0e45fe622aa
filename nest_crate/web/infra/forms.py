"""Shapes that many requests share."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, WithJsonSchema

__all__ = ["Form", "IdsRequest", "LibraryNumber", "LibraryPath", "SamplePath", "SoundPath"]


# What can be done with many takes in one request.
_MOST_IDS = 5000


class Form(BaseModel):
    """The body of a request: a field that is not known is refused."""

    model_config = ConfigDict(extra="forbid")


class IdsRequest(Form):
    ids: list[int] = Field(min_length=1, max_length=_MOST_IDS)


# In an address a library is named by its number or its key; views get the number.
LibraryNumber = Annotated[
    int,
    WithJsonSchema({"anyOf": [{"type": "integer"}, {"type": "string"}]}),
    Field(description="Number of the library, or its key"),
]


class LibraryPath(BaseModel):
    library_id: LibraryNumber


class SamplePath(BaseModel):
    sample_id: int


class SoundPath(BaseModel):
    sound_id: int
