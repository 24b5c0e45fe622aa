"""What a layer starts from."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number

__all__ = ["NoiseSource", "Source", "ToneSource"]


class ToneSource(DocumentModel):
    """One band-limited cycle, repeated at a pitch."""

    kind: Literal["tone"] = "tone"
    shape: float = number(
        0.0,
        0.0,
        3.0,
        label="Shape",
        text="0 sine, 1 triangle, 2 sawtooth, 3 pulse; between them one turns into the next.",
    )
    width: float = number(
        0.5, 0.01, 0.99, label="Pulse width", unit="percent", text="Only the pulse has a width."
    )
    phase_deg: float = number(0.0, 0.0, 360.0, label="Start phase", unit="deg", step=1.0)
    follows_note: bool = Field(default=True, title="Follows the note")
    fixed_hz: float = number(
        110.0, 1.0, 20000.0, label="Fixed pitch", unit="Hz", scale="log", step=1.0
    )
    transpose_st: float = number(0.0, -60.0, 60.0, label="Transpose", unit="st", step=1.0)
    fine_cent: float = number(0.0, -100.0, 100.0, label="Fine pitch", unit="cent", step=1.0)


class NoiseSource(DocumentModel):
    """White noise from the sound's seed."""

    kind: Literal["noise"] = "noise"
    new_each_hit: bool = Field(default=False, title="New each hit")


Source = Annotated[ToneSource | NoiseSource, Field(discriminator="kind")]
