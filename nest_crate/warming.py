"""Renders and measures a little of everything, so that each kernel is compiled and kept."""

from __future__ import annotations

import numpy as np

from nest_crate.core.analysis.drawing import outline, spectrogram
from nest_crate.core.analysis.measures import measure
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound_text
from nest_crate.demo import SOUNDS_FOLDER

__all__ = ["warm_kernels"]


def warm_kernels() -> int:
    """Run each demo sound and the analysis in mono and stereo; answers the number of runs."""
    runs = 0
    for path in sorted(SOUNDS_FOLDER.glob("*.json")):
        sound = load_sound_text(path.read_bytes())
        for quality in ("draft", "final"):
            audio = render(sound, settings=RenderSettings(quality=quality))
            for signal in (audio.samples, np.repeat(audio.samples[:1], 2, axis=0)):
                measure(signal, audio.sample_rate)
                outline(signal, 64)
                spectrogram(signal, audio.sample_rate, rows=96, columns=64)
                runs += 1
    return runs
