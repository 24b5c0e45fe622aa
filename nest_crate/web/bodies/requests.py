"""What requests have in common."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["AuditionRequest", "Request"]


class Request(BaseModel):
    model_config = ConfigDict(extra="forbid")


class AuditionRequest(Request):
    document: dict[str, Any]
    hit: dict[str, Any] | None = Field(default=None, description="The sound's own where null")
    quality: Literal["draft", "final"] = "final"
    sample_rate: int = 48000
