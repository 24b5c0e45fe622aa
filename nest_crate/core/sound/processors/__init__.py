"""Processors: what stands in a chain. Each kind is one closed document part."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nest_crate.core.sound.processors.base import Identifier, Need, ProcessorBase, ProcessorName
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
    TiltProcessor,
)
from nest_crate.core.sound.processors.fork import MAX_FORK_DEPTH, Branch, ForkProcessor
from nest_crate.core.sound.processors.placement import (
    FadeProcessor,
    GainProcessor,
    ReverseProcessor,
    ShifterProcessor,
    WidenerProcessor,
    WidthProcessor,
)
from nest_crate.core.sound.processors.spaces import (
    BlurProcessor,
    ConvolutionProcessor,
    RoomProcessor,
    ShimmerProcessor,
)

__all__ = [
    "MAX_FORK_DEPTH",
    "MAX_PROCESSORS",
    "BlurProcessor",
    "Branch",
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
    "ForkProcessor",
    "FormantProcessor",
    "GainProcessor",
    "GateProcessor",
    "Identifier",
    "MultibandProcessor",
    "Need",
    "PhaserProcessor",
    "PitchDelayProcessor",
    "Processor",
    "ProcessorBase",
    "ProcessorName",
    "ReducerProcessor",
    "ResonatorsProcessor",
    "ReverseProcessor",
    "RoomProcessor",
    "ShifterProcessor",
    "ShimmerProcessor",
    "TiltProcessor",
    "TransientProcessor",
    "VibratoProcessor",
    "WidenerProcessor",
    "WidthProcessor",
]

MAX_PROCESSORS = 32

# In the order in which menus list them.
Processor = Annotated[
    EqualiserProcessor
    | FilterProcessor
    | TiltProcessor
    | FormantProcessor
    | CombProcessor
    | ResonatorsProcessor
    | DriveProcessor
    | ReducerProcessor
    | ShifterProcessor
    | CompressorProcessor
    | MultibandProcessor
    | TransientProcessor
    | GateProcessor
    | GainProcessor
    | FadeProcessor
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
    | WidthProcessor
    | WidenerProcessor
    | ReverseProcessor
    | ForkProcessor,
    Field(discriminator="kind"),
]
Chain = Annotated[tuple[Processor, ...], Field(max_length=MAX_PROCESSORS)]

# A branch holds a chain, and a chain may hold a fork with branches.
_names = {"Chain": Chain}
Branch.model_rebuild(_types_namespace=_names)
ForkProcessor.model_rebuild(_types_namespace=_names)
