"""The engine: plan, stages, memory of results, render."""

from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.render import render, render_with_trace
from nest_crate.core.engine.settings import (
    ENGINE_VERSION,
    SAMPLE_RATES,
    Audio,
    Rendering,
    RenderSettings,
    cpu_family,
)

__all__ = [
    "ENGINE_VERSION",
    "SAMPLE_RATES",
    "Audio",
    "RenderSettings",
    "Rendering",
    "StageMemory",
    "cpu_family",
    "render",
    "render_with_trace",
]
