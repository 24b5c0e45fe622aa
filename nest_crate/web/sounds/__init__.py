"""Views of sounds: documents, auditions, closer looks."""

from nest_crate.web.sounds import (
    auditions,
    chains,
    closer_looks,
    files,
    playback,
    recordings,
    reference,
    shapes,
    sounds,
    sources,
)

__all__ = ["APIS"]

APIS = [
    auditions.api,
    chains.api,
    closer_looks.api,
    files.api,
    playback.api,
    recordings.api,
    reference.api,
    shapes.api,
    sounds.api,
    sources.api,
]
