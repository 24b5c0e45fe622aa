"""The sound document's published JSON Schema."""

from __future__ import annotations

from typing import Any

from nest_crate.core.sound.document import SCHEMA_VERSION, Sound

__all__ = ["sound_schema"]


def sound_schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12); units, scales and steps stand beside each number."""
    schema = Sound.model_json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:nest-crate:sound:{SCHEMA_VERSION}",
        **schema,
    }
