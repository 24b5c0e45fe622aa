"""Examples of requests and answers, by operation. A test sends each request and holds the answer
against its schema."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path
from typing import Any

__all__ = ["REQUESTS", "answers"]

_TONE = {
    "name": "Kiln tick",
    "layers": [
        {
            "id": "tone",
            "name": "Tone",
            "source": {"kind": "oscillator", "wave": "sine"},
        }
    ],
}

REQUESTS: dict[str, Any] = {
    "auditions_audition": {"document": _TONE, "quality": "draft"},
    "playing_play_hit": {"document": _TONE, "hit": {"note": 48, "velocity": 100, "hold_s": 0.1}},
    "samples_search": {"query": {"words": "kick"}, "limit": 20},
    "sounds_new_sound": {"library_id": 1, "document": _TONE, "private": True},
    "session_enter": {"handle": "wren", "password": "the password of wren"},
    "session_new_token": {"name": "Build machine", "scope": "read", "days": 90},
    "vocabularies_put_vocabulary": {"csv": "category,subcategory,words\ndrum,kick,kick thump\n"},
    "comparisons_compare": {
        "sides": [{"kind": "sound", "id": 1}, {"kind": "sound", "id": 1, "revision": 1}]
    },
    "libraries_new_library": {"name": "Orangery"},
    "talking_new_comment": {"text": "The tail is long for a menu", "at_s": 0.8},
    "talking_new_wish": {"title": "A gong for the greenhouse door"},
    "exports_plan": {"sample_ids": [1, 2]},
    "releases_new_release": {"number": "1.0.0", "note": "First set of doors"},
}


@lru_cache(maxsize=1)
def answers() -> dict[str, Any]:
    """Answers of the demo, shortened, by operation; ``tools/record_answers.py`` writes them."""
    file = Path(__file__).with_name("answers.json")
    found: dict[str, Any] = json.loads(file.read_text(encoding="utf-8"))
    return found
