"""Processors that follow the level."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number
from nest_crate.core.sound.processors.base import DYNAMICS, Identifier, ProcessorBase, ProcessorName

__all__ = [
    "CeilingProcessor",
    "CompressorProcessor",
    "DynamicsBand",
    "GateProcessor",
    "MultibandProcessor",
    "TransientProcessor",
]


def _listens_to() -> Any:
    return Field(
        default=None,
        title="Sidechain source",
        description="Another layer that controls it instead of its own input.",
    )


def _low_cut_of_what_it_hears() -> Any:
    return number(
        10.0,
        10.0,
        5000.0,
        label="Sidechain low cut",
        unit="Hz",
        scale="log",
        step=10.0,
        text="10 Hz: none.",
    )


class CompressorProcessor(ProcessorBase):
    """Lowers what is louder than a threshold, by a ratio."""

    kind: Literal["compressor"] = "compressor"
    called: ClassVar = ProcessorName("Compressor", DYNAMICS, "dynamics duck sidechain squeeze")
    threshold_db: float = number(-18.0, -60.0, 0.0, label="Threshold", unit="dB", step=0.5)
    ratio: float = number(3.0, 1.0, 50.0, label="Ratio", scale="log", step=0.1)
    knee_db: float = number(6.0, 0.0, 24.0, label="Knee", unit="dB", step=0.5)
    attack_s: float = number(0.01, 0.0, 0.5, label="Attack", unit="s", scale="time", step=0.001)
    release_s: float = number(0.12, 0.001, 3.0, label="Release", unit="s", scale="time", step=0.01)
    look_ahead_s: float = number(
        0.0, 0.0, 0.02, label="Look-ahead", unit="s", scale="time", step=0.001
    )
    measure: Literal["peak", "rms"] = Field(default="peak", title="Detector")
    make_up_db: float = number(0.0, 0.0, 24.0, label="Make-up", unit="dB", step=0.5)
    side: Identifier | None = _listens_to()
    side_low_cut_hz: float = _low_cut_of_what_it_hears()

    def hears(self) -> tuple[str, ...]:
        return () if self.side is None else (self.side,)


class CeilingProcessor(ProcessorBase):
    """Nothing passes above it, not even between the samples."""

    kind: Literal["ceiling"] = "ceiling"
    called: ClassVar = ProcessorName("Limiter", DYNAMICS, "ceiling true peak brickwall")
    ceiling_db: float = number(-1.0, -24.0, 0.0, label="Ceiling", unit="dB", step=0.1)
    gain_db: float = number(0.0, 0.0, 24.0, label="Input gain", unit="dB", step=0.5)
    release_s: float = number(0.08, 0.005, 1.0, label="Release", unit="s", scale="time", step=0.01)


class DynamicsBand(DocumentModel):
    """What is done to one band: above a threshold it is lowered, below another one raised."""

    above_db: float = number(-20.0, -60.0, 0.0, label="Upper threshold", unit="dB", step=0.5)
    above_ratio: float = number(2.5, 1.0, 50.0, label="Upper ratio", scale="log", step=0.1)
    below_db: float = number(-38.0, -80.0, 0.0, label="Lower threshold", unit="dB", step=0.5)
    below_ratio: float = number(
        1.5, 1.0, 20.0, label="Lower ratio", scale="log", step=0.1, text="Raises by 30 dB at most."
    )
    level_db: float = number(
        0.0, -24.0, 24.0, label="Band level", unit="dB", step=0.5, followed=True
    )


class MultibandProcessor(ProcessorBase):
    """Three bands, each lowered where it is loud and raised where it is soft."""

    kind: Literal["multiband"] = "multiband"
    called: ClassVar = ProcessorName(
        "Multiband", DYNAMICS, "compressor three bands upward downward"
    )
    amount: float = number(1.0, 0.0, 1.0, label="Amount", unit="percent", followed=True)
    low_split_hz: float = number(
        120.0, 30.0, 1000.0, label="Low split", unit="Hz", scale="log", step=5.0
    )
    high_split_hz: float = number(
        2500.0, 1000.0, 12000.0, label="High split", unit="Hz", scale="log", step=50.0
    )
    attack_s: float = number(0.015, 0.0, 0.5, label="Attack", unit="s", scale="time", step=0.001)
    release_s: float = number(0.12, 0.001, 3.0, label="Release", unit="s", scale="time", step=0.01)
    low: DynamicsBand = DynamicsBand()
    middle: DynamicsBand = DynamicsBand()
    high: DynamicsBand = DynamicsBand()


class TransientProcessor(ProcessorBase):
    """Attacks and what follows them, raised or lowered, whatever their level."""

    kind: Literal["transient"] = "transient"
    called: ClassVar = ProcessorName("Transient shaper", DYNAMICS, "attack sustain punch")
    attack_db: float = number(6.0, -24.0, 24.0, label="Attack", unit="dB", step=0.5, followed=True)
    sustain_db: float = number(
        0.0, -24.0, 24.0, label="Sustain", unit="dB", step=0.5, followed=True
    )
    speed_s: float = number(
        0.02,
        0.002,
        0.2,
        label="Speed",
        unit="s",
        scale="time",
        step=0.002,
        text="How long an attack is taken to be.",
    )


class GateProcessor(ProcessorBase):
    """Closes where it is softer than a threshold."""

    kind: Literal["gate"] = "gate"
    called: ClassVar = ProcessorName("Gate", DYNAMICS, "noise expander")
    threshold_db: float = number(-40.0, -80.0, 0.0, label="Threshold", unit="dB", step=0.5)
    floor_db: float = number(
        -80.0, -80.0, 0.0, label="Floor", unit="dB", step=1.0, text="-80 dB: closed to silence."
    )
    attack_s: float = number(0.001, 0.0, 0.2, label="Attack", unit="s", scale="time", step=0.001)
    hold_s: float = number(0.02, 0.0, 1.0, label="Hold", unit="s", scale="time", step=0.005)
    release_s: float = number(0.08, 0.001, 3.0, label="Release", unit="s", scale="time", step=0.01)
    look_ahead_s: float = number(
        0.0, 0.0, 0.02, label="Look-ahead", unit="s", scale="time", step=0.001
    )
    side: Identifier | None = _listens_to()
    side_low_cut_hz: float = _low_cut_of_what_it_hears()

    def hears(self) -> tuple[str, ...]:
        return () if self.side is None else (self.side,)
