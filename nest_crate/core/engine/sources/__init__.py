"""How each kind of source makes its signal. A new source is one entry in ``SOURCES``."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.sources.context import (
    SourceContext,
    base_pitch_hz,
    own_pitch_hz,
    pitch_signal,
)
from nest_crate.core.engine.sources.noise import noise_source
from nest_crate.core.engine.sources.sampled import sample_source
from nest_crate.core.engine.sources.struck import struck_source
from nest_crate.core.engine.sources.tone import tone_source
from nest_crate.core.engine.sources.voices import voice_ratios
from nest_crate.core.engine.sources.wavetable import wavetable_source

__all__ = [
    "SOURCES",
    "SourceContext",
    "base_pitch_hz",
    "own_pitch_hz",
    "pitch_signal",
    "voice_ratios",
]

SOURCES: dict[str, Callable[[SourceContext, Any], Signal]] = {
    "tone": tone_source,
    "wavetable": wavetable_source,
    "noise": noise_source,
    "struck": struck_source,
    "sample": sample_source,
}
