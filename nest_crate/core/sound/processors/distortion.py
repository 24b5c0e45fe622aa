"""Processors that bend the waveform, or make it coarser."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.processors.base import DISTORTION, ProcessorBase, ProcessorName

__all__ = ["DriveProcessor", "ReducerProcessor", "TransferPoint"]

MAX_TRANSFER_POINTS = 16


class TransferPoint(DocumentModel):
    """A point of a drawn transfer curve, input and output re full scale."""

    x: float = Field(ge=-1.0, le=1.0)
    y: float = Field(ge=-1.0, le=1.0)


_DRAWN = tuple(
    TransferPoint(x=x, y=y)
    for x, y in ((-1.0, -1.0), (-0.3, -0.6), (0.0, 0.0), (0.4, 0.9), (1.0, 0.6))
)


class DriveProcessor(ProcessorBase):
    """Saturation and folding, oversampled so that they add harmonics and nothing else."""

    kind: Literal["drive"] = "drive"
    called: ClassVar = ProcessorName(
        "Drive", DISTORTION, "distortion saturation tube clip fold rectify waveshaper overdrive"
    )
    shape: Literal["soft", "tube", "hard", "fold", "sine_fold", "rectify", "drawn"] = Field(
        default="soft", title="Shape"
    )
    drive_db: float = number(6.0, 0.0, 48.0, label="Drive", unit="dB", step=0.5, followed=True)
    asymmetry: float = number(
        0.0,
        -1.0,
        1.0,
        label="Asymmetry",
        unit="percent",
        text="Pushes one half of the wave further in: even harmonics. Offset is removed.",
        followed=True,
    )
    low_cut_hz: float = number(
        10.0,
        10.0,
        2000.0,
        label="Pre low cut",
        unit="Hz",
        scale="log",
        step=10.0,
        text="10 Hz: none.",
        followed=True,
    )
    tone_hz: float = number(
        20000.0,
        200.0,
        20000.0,
        label="Pre high cut",
        unit="Hz",
        scale="log",
        step=100.0,
        text="20 kHz: none.",
        followed=True,
    )
    high_cut_hz: float = number(
        20000.0,
        200.0,
        20000.0,
        label="Post high cut",
        unit="Hz",
        scale="log",
        step=100.0,
        text="20 kHz: none.",
        followed=True,
    )
    drawn: Annotated[
        tuple[TransferPoint, ...], Field(min_length=2, max_length=MAX_TRANSFER_POINTS)
    ] = _DRAWN

    @model_validator(mode="after")
    def _points_go_right(self) -> DriveProcessor:
        places = [point.x for point in self.drawn]
        if any(after - before < 1e-4 for before, after in pairwise(places)):
            raise ValueError("each point of the transfer curve lies right of the one before")
        return self


class ReducerProcessor(ProcessorBase):
    """Fewer bits and fewer samples, as small old machines had."""

    kind: Literal["reducer"] = "reducer"
    called: ClassVar = ProcessorName(
        "Bit and rate reduction", DISTORTION, "bitcrusher reducer lo-fi decimate downsample"
    )
    bits: float = number(8.0, 1.0, 16.0, label="Bit depth", step=0.5, followed=True)
    rate_hz: float = number(
        12000.0,
        50.0,
        48000.0,
        label="Sample rate",
        unit="Hz",
        scale="log",
        step=100.0,
        followed=True,
    )
    smooth: bool = Field(
        default=False,
        title="Anti-alias filter",
        description="Removes what lies above half the new rate, so that less aliases.",
    )
