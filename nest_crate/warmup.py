"""Renders and measures a little of everything, so that each kernel is compiled and kept."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

import numpy as np

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.pictures.details import details
from nest_crate.core.analysis.pictures.outlines import outline, spectrogram
from nest_crate.core.analysis.pictures.processor_look import look_at_processor
from nest_crate.core.engine import Audio, RenderSettings, render, render_with_trace
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS

__all__ = ["warm_kernels", "warming"]

_SHORT = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.1, "value": 0, "bend": 3}]}
_FALL = {"points": [{"time_s": 0, "value": 12}, {"time_s": 0.05, "value": 0, "bend": 2}]}

_RECORDING = "0" * 64
_RECORDINGS = {_RECORDING: Audio(np.random.default_rng(1).normal(size=(1, 4800)) * 0.1, 48000)}

_SETTINGS = RenderSettings(recordings=_RECORDINGS)

# One of everything that has a kernel of its own.
_SOURCES: list[dict[str, Any]] = [
    {"kind": "tone", "shape": 2},
    {"kind": "tone", "unison": {"voices": 2, "width": 1}},
    {"kind": "tone", "feedback": 0.5},
    {"kind": "noise", "colour_db": -3, "width": 1},
    {"kind": "wavetable", "scan": "forwards"},
    {"kind": "struck", "spread": 1},
    {"kind": "struck", "body": "string_loop"},
    {"kind": "sample", "recording": _RECORDING, "unison": {"voices": 2}},
    {"kind": "sample", "recording": _RECORDING, "reading": "grains", "loop": "held"},
]
_WAYS = ("phase", "phase", "sync", "phase", "frequency", "ring", "ring", "ring", "ring")
_OTHER = {"id": "b", "name": "B", "source": {"kind": "tone"}, "mute": True}
_CHAIN = [
    {"id": "f", "kind": "filter", "slope_db": 24},
    {"id": "d", "kind": "drive"},
    {"id": "h", "kind": "filter", "drive_db": 6},
    {"id": "e", "kind": "filter", "slope_db": 6},
    {"id": "c", "kind": "ceiling"},
]
_MOVERS = [
    {"id": "m", "name": "M", "kind": "lfo"},
    {"id": "n", "name": "N", "kind": "follower", "layer": "a"},
]
_LINKS = [
    {"mover": "m", "target": "f.cutoff_hz", "amount": 1},
    {"mover": "n", "target": "main.level_db", "amount": -1},
]
# A few hundredths of a second are enough to compile what works on a signal.
_FRAMES = 2400
# Shapes that a kind's own default does not lead to.
_MORE: dict[str, dict[str, Any]] = {
    "drive": {"shape": "tube", "drive_db": 30.0},
    "equaliser": {"band_4": {"gain_db": 6.0}},
    "delay": {"wobble_s": 0.001},
    "room": {"movement": 0.5},
}


def warm_kernels(part: int = 0, parts: int = 1) -> int:
    """Compile every kernel, or read it from the disk; answers the number of things that were done.

    Of several ``parts``, which other processes do beside this one, only the one numbered ``part``.
    """
    mine = warming()[part::parts]
    for job in mine:
        job()
    return len(mine)


def warming() -> list[Callable[[], object]]:
    """All that there is to do, in small pieces."""
    return [*_processor_jobs(), *_sound_jobs()]


def _processor_jobs() -> Iterator[Callable[[], object]]:
    """Every kind of processor on one side and on two, in both qualities."""
    for kind, model in PROCESSOR_KINDS.items():
        parts = [model(id="x", band="above"), model(id="x", **_MORE.get(kind, {}))]
        yield partial(_work, parts)


def _work(parts: list[Any]) -> None:
    noise = np.random.default_rng(1).normal(size=(2, _FRAMES)) * 0.2
    for one in parts:
        for quality in ("draft", "final"):
            context = ProcessContext(RenderSettings(quality=quality))
            for signal in (noise[:1].copy(), noise):
                process(signal, one, context)


def _sound_jobs() -> Iterator[Callable[[], object]]:
    """Every kind of source, what moves, and all that is measured and drawn."""
    for source, way in zip(_SOURCES, _WAYS, strict=True):
        yield partial(_render, source, way)


def _render(source: dict[str, Any], way: str) -> None:
    layer: dict[str, Any] = {"id": "a", "name": "A", "source": source}
    layer |= {"level": _SHORT, "pitch": _FALL}
    layer["modulators"] = [{"id": "mod", "by": "b", "way": way}]
    whole = {
        "layers": [layer, _OTHER],
        "main": {"chain": _CHAIN},
        "movers": _MOVERS,
        "links": _LINKS,
        "hit": {"hold_s": 0.05},
    }
    sound = load_sound({"name": "Warm", **whole})
    for quality in ("draft", "final"):
        audio = render(sound, settings=RenderSettings(quality=quality, recordings=_RECORDINGS))
    measures = measure(audio.samples, audio.sample_rate)
    outline(audio.samples, 64)
    spectrogram(audio.samples, audio.sample_rate, rows=96, columns=64)
    check_sound(sound, render_with_trace(sound, settings=_SETTINGS), measures)
    details(sound, sound.hit, _SETTINGS)
    look_at_processor(sound, sound.hit, _SETTINGS, "d")
