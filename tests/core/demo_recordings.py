"""The recordings that demo sounds refer to."""

from __future__ import annotations

import hashlib
from functools import lru_cache
from pathlib import Path

from nest_crate.core.engine import Audio, RenderSettings
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage.decoder import decode_file

__all__ = ["demo_settings"]

FOLDER = Path(__file__).parents[2] / "demo" / "recordings"


@lru_cache(maxsize=1)
def demo_settings() -> RenderSettings:
    """Settings of a render that finds them, as the program brings them in."""
    found = {}
    for path in FOLDER.glob("*.wav"):
        data = decode_file(path).data
        found[hashlib.sha256(data).hexdigest()] = Audio(*decode_wav(data))
    return RenderSettings(recordings=found)
