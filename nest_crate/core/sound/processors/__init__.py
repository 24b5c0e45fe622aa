"""Processors: what stands in a chain. Each kind is one closed document part."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nest_crate.core.sound.processors.base import Identifier, ProcessorBase
from nest_crate.core.sound.processors.delays import (
    ChorusProcessor,
    DelayProcessor,
    FlangerProcessor,
    PhaserProcessor,
    PitchDelayProcessor,
    VibratoProcessor,
)
from nest_crate.core.sound.processors.distortion import DriveProcessor, ReducerProcessor
from nest_crate.core.sound.processors.dynamics import (
    CeilingProcessor,
    CompressorProcessor,
    GateProcessor,
    MultibandProcessor,
    TransientProcessor,
)
from nest_crate.core.sound.processors.equaliser import EqualiserProcessor
from nest_crate.core.sound.processors.filters import (
    CombProcessor,
    FilterProcessor,
    FormantProcessor,
    ResonatorsProcessor,
)
from nest_crate.core.sound.processors.placement import (
    FadeProcessor,
    GainProcessor,
    ReverseProcessor,
    ShifterProcessor,
    WidthProcessor,
)
from nest_crate.core.sound.processors.spaces import (
    BlurProcessor,
    ConvolutionProcessor,
    RoomProcessor,
    ShimmerProcessor,
)

__all__ = [
    "MAX_PROCESSORS",
    "BlurProcessor",
    "CeilingProcessor",
    "Chain",
    "ChorusProcessor",
    "CombProcessor",
    "CompressorProcessor",
    "ConvolutionProcessor",
    "DelayProcessor",
    "DriveProcessor",
    "EqualiserProcessor",
    "FadeProcessor",
    "FilterProcessor",
    "FlangerProcessor",
    "FormantProcessor",
    "GainProcessor",
    "GateProcessor",
    "Identifier",
    "MultibandProcessor",
    "PhaserProcessor",
    "PitchDelayProcessor",
    "Processor",
    "ProcessorBase",
    "ReducerProcessor",
    "ResonatorsProcessor",
    "ReverseProcessor",
    "RoomProcessor",
    "ShifterProcessor",
    "ShimmerProcessor",
    "TransientProcessor",
    "VibratoProcessor",
    "WidthProcessor",
]

MAX_PROCESSORS = 32

Processor = Annotated[
    EqualiserProcessor
    | FilterProcessor
    | CombProcessor
    | FormantProcessor
    | ResonatorsProcessor
    | DriveProcessor
    | ReducerProcessor
    | CompressorProcessor
    | MultibandProcessor
    | TransientProcessor
    | GateProcessor
    | CeilingProcessor
    | ChorusProcessor
    | FlangerProcessor
    | PhaserProcessor
    | VibratoProcessor
    | DelayProcessor
    | PitchDelayProcessor
    | RoomProcessor
    | ShimmerProcessor
    | ConvolutionProcessor
    | BlurProcessor
    | ShifterProcessor
    | WidthProcessor
    | GainProcessor
    | ReverseProcessor
    | FadeProcessor,
    Field(discriminator="kind"),
]
Chain = Annotated[tuple[Processor, ...], Field(max_length=MAX_PROCESSORS)]
