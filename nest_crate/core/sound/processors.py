"""Processors: what stands in a chain. Each kind is one closed document part."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number

__all__ = ["DriveProcessor", "FilterProcessor", "Identifier", "Processor"]

Identifier = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,31}$")]


class _Processor(DocumentModel):
    id: Identifier
    on: bool = Field(default=True, title="On")
    mix: float = number(1.0, 0.0, 1.0, label="Mix", unit="percent")
    level_db: float = number(0.0, -48.0, 24.0, label="Output level", unit="dB", step=0.5)


class FilterProcessor(_Processor):
    """Zero-delay-feedback state-variable filter."""

    kind: Literal["filter"] = "filter"
    response: Literal["low_pass", "high_pass", "band_pass", "notch"] = Field(
        default="low_pass", title="Response"
    )
    slope_db: Literal[12, 24] = Field(default=12, title="Slope")
    cutoff_hz: float = number(
        2000.0, 10.0, 20000.0, label="Cutoff", unit="Hz", scale="log", step=10.0
    )
    resonance: float = number(
        0.707, 0.5, 40.0, label="Resonance", scale="log", step=0.01, text="Quality factor Q."
    )


class DriveProcessor(_Processor):
    """Soft saturation, oversampled so that it adds harmonics and nothing else."""

    kind: Literal["drive"] = "drive"
    drive_db: float = number(6.0, 0.0, 48.0, label="Drive", unit="dB", step=0.5)


Processor = Annotated[FilterProcessor | DriveProcessor, Field(discriminator="kind")]
