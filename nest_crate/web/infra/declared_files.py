"""How a route declares that it answers with a file, for the OpenAPI document.

Each is listed as ``application/octet-stream`` too, for which most generators of clients have bytes.
"""

from __future__ import annotations

from typing import Any

__all__ = ["AIFF", "FLAC", "JSON", "MIDI", "OGG", "WAV", "ZIP", "file_answer"]

WAV, FLAC, ZIP = "audio/wav", "audio/flac", "application/zip"
AIFF, OGG = "audio/aiff", "audio/ogg"
MIDI, JSON = "audio/midi", "application/json"

_BYTES = {"type": "string", "format": "binary"}
_OBJECT = {"type": "object", "additionalProperties": True}


def file_answer(*kinds: str, description: str = "The file") -> dict[str, Any]:
    """An answer in one of these media types."""
    content = {kind: {"schema": dict(_OBJECT if kind == JSON else _BYTES)} for kind in kinds}
    if set(kinds) != {JSON}:
        content["application/octet-stream"] = {"schema": dict(_BYTES)}
    return {"description": description, "content": content}
