"""The noise at work."""

from __future__ import annotations

from nest_crate.core.dsp.oscillators.noise import noise_signal
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.sources.context import SourceContext
from nest_crate.core.sound import NoiseSource

__all__ = ["noise_source"]


def noise_source(context: SourceContext, source: NoiseSource) -> Signal:
    return noise_signal(
        context.frames,
        texture=source.texture,
        colour_db=source.colour_db,
        rate_hz=source.rate_hz,
        width=source.width,
        offset_s=source.offset_s,
        sample_rate=context.settings.sample_rate,
        seed=context.seed,
        part=f"{context.layer.id}.noise",
        hit_number=context.hit_number if source.new_each_hit else 0,
    )
