"""Hits and phrases that are heard or kept: audio and nothing else."""

from __future__ import annotations

from collections.abc import Iterator

from nest_crate.core.engine import render
from nest_crate.core.engine.phrases import render_phrase
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import heard_part
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["phrase", "play"]

_REMEMBERED_HOLD_S = 4.0


def play(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """One hit."""
    sound = wanted.sound
    hit = wanted.hit_of(sound)
    # A key that is held for long is not rendered again; it would push out what is.
    memory = workshop.stages if hit.hold_s <= _REMEMBERED_HOLD_S else None
    yield heard_part(render(sound, hit, workshop.settings(wanted), memory=memory), wanted)


def phrase(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """A test phrase played with the sound."""
    made = render_phrase(
        wanted.sound, wanted.given["phrase"], workshop.settings(wanted), memory=workshop.stages
    )
    yield heard_part(made, wanted)
