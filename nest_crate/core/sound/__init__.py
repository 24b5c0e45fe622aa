"""The sound document: models, parameter declarations, versions and upgrades, JSON Schema."""

from nest_crate.core.sound.buses import Bus
from nest_crate.core.sound.curve import Curve, CurveLoop, CurvePoint
from nest_crate.core.sound.document import Sound
from nest_crate.core.sound.layers import Layer, Main
from nest_crate.core.sound.loading import (
    MAX_DOCUMENT_BYTES,
    dump_sound,
    load_hit,
    load_sound,
    load_sound_text,
)
from nest_crate.core.sound.playing import FurtherNote, Hit
from nest_crate.core.sound.processors import (
    CombProcessor,
    DriveProcessor,
    FilterProcessor,
    FormantProcessor,
    Processor,
)
from nest_crate.core.sound.sources import (
    NoiseSource,
    SampleSource,
    Source,
    StruckSource,
    ToneSource,
    WavetableSource,
)

__all__ = [
    "MAX_DOCUMENT_BYTES",
    "Bus",
    "CombProcessor",
    "Curve",
    "CurveLoop",
    "CurvePoint",
    "DriveProcessor",
    "FilterProcessor",
    "FormantProcessor",
    "FurtherNote",
    "Hit",
    "Layer",
    "Main",
    "NoiseSource",
    "Processor",
    "SampleSource",
    "Sound",
    "Source",
    "StruckSource",
    "ToneSource",
    "WavetableSource",
    "dump_sound",
    "load_hit",
    "load_sound",
    "load_sound_text",
]
