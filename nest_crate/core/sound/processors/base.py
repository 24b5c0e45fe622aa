"""What every processor has: an id, a switch, its mix and level, and the band it works on."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number

__all__ = ["Identifier", "ProcessorBase"]

Identifier = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,31}$")]


class ProcessorBase(DocumentModel):
    id: Identifier
    on: bool = Field(default=True, title="On")
    mix: float = number(1.0, 0.0, 1.0, label="Mix", unit="percent")
    level_db: float = number(0.0, -48.0, 24.0, label="Output level", unit="dB", step=0.5)
    keep_loudness: bool = Field(
        default=False,
        title="Loudness compensation",
        description="The output gets the loudness of the input.",
    )
    band: Literal["all", "above", "below"] = Field(
        default="all",
        title="Frequency range",
        description="The other side of the split stays dry.",
    )
    split_hz: float = number(
        500.0, 20.0, 16000.0, label="Split frequency", unit="Hz", scale="log", step=10.0
    )
