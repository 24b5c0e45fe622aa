"""A recording that a sound is made after."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import Field, model_validator

from nest_crate.core.sound.parameters import DocumentModel
from nest_crate.core.sound.sources.base import RecordingId

__all__ = ["LeftOut", "Reference"]

_MAX_LEFT_OUT = 16
_Seconds = Annotated[float, Field(ge=0.0, le=600.0)]


class LeftOut(DocumentModel):
    """A stretch of a reference that is excluded: another sound, a loop."""

    start_s: _Seconds
    end_s: _Seconds

    @model_validator(mode="after")
    def _ends_after_its_start(self) -> Self:
        if self.end_s <= self.start_s:
            raise ValueError("end_s: must lie after start_s")
        return self


class Reference(DocumentModel):
    """What the sound shall come near; nothing of it is heard in the sound."""

    recording: RecordingId
    name: Annotated[str, Field(max_length=120)] = ""
    left_out: Annotated[tuple[LeftOut, ...], Field(max_length=_MAX_LEFT_OUT)] = ()
