"""Which recordings a document refers to."""

from __future__ import annotations

from typing import Any

__all__ = ["recordings_in"]


def recordings_in(document: Any) -> set[str]:
    """The digests of all recordings that a document, as JSON, refers to."""
    if isinstance(document, dict):
        own = document.get("recording")
        found = {own} if isinstance(own, str) and len(own) == 64 else set()
        return found.union(*(recordings_in(value) for value in document.values()), set())
    if isinstance(document, list | tuple):
        return set().union(*(recordings_in(value) for value in document), set())
    return set()
