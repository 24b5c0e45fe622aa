"""JSON that is taken: no deeper than any document is, refused quickly otherwise."""

from __future__ import annotations

from typing import Any

from flask import Flask
from flask.json.provider import DefaultJSONProvider

__all__ = ["bound_json"]

# A sound's deepest part, a point of a curve in a branch of a fork, lies at 15.
_DEEPEST = 64


class _BoundedJson(DefaultJSONProvider):
    sort_keys = False

    def loads(self, s: str | bytes, **options: Any) -> Any:
        """As always; ``ValueError``, which is answered with 400, where it is nested too deeply."""
        try:
            value = super().loads(s, **options)
        except RecursionError:
            # The reader gives up at about a thousand. Its long trace says nothing to anybody.
            raise ValueError("The JSON is nested too deeply") from None
        _require_flat(value)
        return value


def _require_flat(value: Any) -> None:
    """Level by level, for a function that calls itself would be what it guards against."""
    level = [value]
    for _ in range(_DEEPEST):
        if not level:
            return
        level = [
            inner
            for one in level
            if isinstance(one, dict | list)
            for inner in (one.values() if isinstance(one, dict) else one)
            if isinstance(inner, dict | list)
        ]
    if level:
        raise ValueError(f"The JSON is nested more than {_DEEPEST} deep")


def bound_json(app: Flask) -> None:
    """Read and write the application's JSON so."""
    app.json = _BoundedJson(app)
