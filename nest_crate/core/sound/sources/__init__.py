"""What a layer starts from."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nest_crate.core.sound.sources.base import (
    MAX_EDITED_PARTIALS,
    PartialSet,
    PitchedSource,
    RecordingId,
    TunedSource,
    Unison,
)
from nest_crate.core.sound.sources.noise import NoiseSource
from nest_crate.core.sound.sources.sampled import SampleSource
from nest_crate.core.sound.sources.struck import MAX_MODES, ModeChange, StruckSource
from nest_crate.core.sound.sources.tone import ToneSource
from nest_crate.core.sound.sources.wavetable import WavetableSource

__all__ = [
    "MAX_EDITED_PARTIALS",
    "MAX_MODES",
    "ModeChange",
    "NoiseSource",
    "PartialSet",
    "PitchedSource",
    "RecordingId",
    "SampleSource",
    "Source",
    "StruckSource",
    "ToneSource",
    "TunedSource",
    "Unison",
    "WavetableSource",
]

Source = Annotated[
    ToneSource | WavetableSource | NoiseSource | StruckSource | SampleSource,
    Field(discriminator="kind"),
]
