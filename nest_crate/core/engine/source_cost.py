"""What a source takes: time and memory, by its kind, voices and what bends it."""

from __future__ import annotations

from nest_crate.core.engine.moved import Moves
from nest_crate.core.engine.sources import SourceContext
from nest_crate.core.engine.stages import Load
from nest_crate.core.sound import NoiseSource, SampleSource, StruckSource, ToneSource

__all__ = ["source_load"]

# Nanoseconds a frame and voice at 48 kHz.
_TONE_NS, _BENT_NS, _LOOP_NS = 6.0, 250.0, 1000.0
_TABLE_NS, _SAMPLE_NS, _NOISE_NS, _MODE_NS = 30.0, 25.0, 80.0, 4.0


def source_load(context: SourceContext, moves: Moves, modulated: bool) -> Load:
    """The load of a layer's source."""
    source, frames = context.layer.source, context.frames
    voices = source.unison.voices if hasattr(source, "unison") else 1
    # At higher rates what bends is raised less.
    share = min(1.0, 48000.0 / context.settings.sample_rate)
    if isinstance(source, NoiseSource):
        return Load(frames, _NOISE_NS, 5.0)
    if isinstance(source, StruckSource):
        return Load(frames, _MODE_NS * source.modes, 3.0)
    if isinstance(source, SampleSource):
        overlapping = 8.0 if source.reading == "grains" else 1.0
        return Load(frames, _SAMPLE_NS * voices * overlapping, 3.0)
    by_path = {link.target.split(".", 1)[1] for link in moves.links}
    loops = isinstance(source, ToneSource) and (
        source.feedback > 0.0 or "source.feedback" in by_path
    )
    each = _TONE_NS if isinstance(source, ToneSource) else _TABLE_NS
    if loops:
        each = _LOOP_NS * share
    elif modulated or "source.width" in by_path:
        each = _BENT_NS * share
    each *= 2.0 if "source.width" in by_path else 1.0
    return Load(frames, each * voices, 5.0)
