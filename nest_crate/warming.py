"""Renders and measures a little of everything, so that each kernel is compiled and kept."""

from __future__ import annotations

from typing import Any

from nest_crate.core.analysis.checks import check_sound
from nest_crate.core.analysis.details import details
from nest_crate.core.analysis.drawing import outline, spectrogram
from nest_crate.core.analysis.measures import measure
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.sound import load_sound

__all__ = ["warm_kernels"]

_SHORT = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.1, "value": 0, "bend": 3}]}
_FALL = {"points": [{"time_s": 0, "value": 12}, {"time_s": 0.05, "value": 0, "bend": 2}]}

# One of everything that has a kernel of its own, in mono and in stereo.
_SOURCES: list[dict[str, Any]] = [
    {"kind": "tone", "shape": 2},
    {"kind": "tone", "unison": {"voices": 2, "width": 1}},
    {"kind": "tone", "feedback": 0.5},
    {"kind": "noise", "colour_db": -3, "width": 1},
]
_WAYS = ("phase", "phase", "sync", "phase")
_OTHER = {"id": "b", "name": "B", "source": {"kind": "tone"}, "mute": True}
_CHAIN = [
    {"id": "f", "kind": "filter", "slope_db": 24},
    {"id": "d", "kind": "drive"},
    {"id": "shaped", "kind": "drive", "shape": "tube", "asymmetry": 0.2},
    {"id": "c", "kind": "comb"},
    {"id": "g", "kind": "filter", "slope_db": 6},
    {"id": "h", "kind": "filter", "drive_db": 6},
    {"id": "i", "kind": "formant"},
    *(
        {"id": kind.replace("_", "-"), "kind": kind}
        for kind in (
            "compressor",
            "multiband",
            "transient",
            "gate",
            "reducer",
            "chorus",
            "flanger",
            "phaser",
            "vibrato",
            "delay",
            "pitch_delay",
            "shifter",
            "width",
            "ceiling",
        )
    ),
    {"id": "room", "kind": "room", "decay_s": 0.1},
    {"id": "shimmer", "kind": "shimmer", "decay_s": 0.1, "amount": 0.1},
]
_MOVERS = [
    {"id": "m", "name": "M", "kind": "lfo"},
    {"id": "n", "name": "N", "kind": "follower", "layer": "a"},
]
_LINKS = [
    {"mover": "m", "target": "f.cutoff_hz", "amount": 1},
    {"mover": "n", "target": "main.level_db", "amount": -1},
]


def warm_kernels() -> int:
    """Compile every kernel, or read it from the disk; answers the number of renders."""
    renders = 0
    for source, way in zip(_SOURCES, _WAYS, strict=True):
        layer = {"id": "a", "name": "A", "source": source, "level": _SHORT, "pitch": _FALL}
        layer["modulation"] = {"by": "b", "way": way}
        parts = {
            "layers": [layer, _OTHER],
            "main": {"chain": _CHAIN},
            "movers": _MOVERS,
            "links": _LINKS,
        }
        sound = load_sound({"name": "Warm", **parts})
        for quality in ("draft", "final"):
            audio = render(sound, settings=RenderSettings(quality=quality))
            measures = measure(audio.samples, audio.sample_rate)
            outline(audio.samples, 64)
            spectrogram(audio.samples, audio.sample_rate, rows=96, columns=64)
            check_sound(sound, render_with_trace(sound), measures)
            details(sound, sound.hit, RenderSettings(quality=quality))
            renders += 1
    return renders
