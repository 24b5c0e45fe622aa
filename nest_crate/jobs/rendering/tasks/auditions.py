"""An audition: its audio first, then what is measured and drawn of it, then the closer look."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.checks.low_end import check_low_end
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.pictures.outlines import outline
from nest_crate.core.engine import Rendering, render_with_trace
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import (
    heard_part,
    json_part,
    outline_of,
    spectrogram_of,
)
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["hear", "look"]

_RESULT_COLUMNS = 2048
_LAYER_COLUMNS = 2048
_SPECTROGRAM = {"rows": 96, "columns": 288}


@dataclass(frozen=True)
class _Heard:
    """A rendering whose audio was given, with what was said of it then."""

    rendering: Rendering
    facts: dict[str, Any]
    render_ms: float


def hear(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Render one hit and give its audio."""
    made, part = _made(workshop, wanted)
    workshop.keep(wanted, made)
    yield part


def look(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Measures, checks and outlines of the hit, then its spectrogram."""
    # Where the worker was replaced meanwhile it is rendered again: the same samples.
    heard = workshop.taken(wanted) or _made(workshop, wanted)[0]
    rendering = heard.rendering
    samples, rate = rendering.audio.samples, rendering.audio.sample_rate
    began = time.perf_counter()
    measures = measure(samples, rate)
    remarks = _remarks(workshop, wanted, rendering, measures)
    measured = time.perf_counter()
    whole = outline_of(outline(samples, _RESULT_COLUMNS))
    layers = {
        key: outline_of(outline(signal, _LAYER_COLUMNS)) for key, signal in rendering.layers.items()
    }
    drawn = time.perf_counter()
    measure_ms, draw_ms = 1e3 * (measured - began), 1e3 * (drawn - measured)
    took = {
        "render_ms": heard.render_ms,
        "measure_ms": measure_ms,
        "draw_ms": draw_ms,
        "total_ms": heard.render_ms + measure_ms + draw_ms,
        "stages": len(rendering.stage_seconds),
        "remembered": sum(took == 0.0 for took in rendering.stage_seconds.values()),
    }
    yield json_part(
        "figures",
        {
            **heard.facts,
            "measures": measures.as_dict(),
            "remarks": [remark.as_dict() for remark in remarks],
            "levels_db": rendering.levels_db,
            "outline": whole,
            "layers": layers,
            "took": took,
        },
    )
    yield json_part("pictures", {"spectrogram": spectrogram_of(rendering.audio, **_SPECTROGRAM)})


def _made(workshop: Workshop, wanted: Wanted) -> tuple[_Heard, Frame]:
    began = time.perf_counter()
    sound = wanted.sound
    rendering = render_with_trace(
        sound,
        wanted.hit_of(sound),
        workshop.settings(wanted),
        memory=workshop.stages,
        listen_at=wanted.given.get("listen_at"),
    )
    part = heard_part(rendering.audio, wanted)
    facts = {name: part.head[name] for name in ("digest", "sample_rate", "frames", "end_reason")}
    return _Heard(rendering, facts, 1e3 * (time.perf_counter() - began)), part


def _remarks(workshop: Workshop, wanted: Wanted, rendering: Rendering, measures: Any) -> list[Any]:
    # What is listened at on the way is no whole sound, of which checks could speak.
    if wanted.given.get("listen_at"):
        return []
    sound = wanted.sound
    hit = wanted.hit_of(sound)
    remarks = list(check_sound(sound, rendering, measures, hit, memory=workshop.stages))
    typical = wanted.given.get("typical")
    thin = check_low_end(sound, measures, **typical) if typical else None
    return [*([thin] if thin else []), *remarks]
