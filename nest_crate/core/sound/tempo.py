"""Times that are kept as beats: the seconds beside them are those at the sound's tempo."""

from __future__ import annotations

from typing import Any

__all__ = ["beats_of", "in_seconds", "tempo_of"]

_DEFAULT_BPM, _SLOWEST_BPM, _FASTEST_BPM = 120.0, 20.0, 400.0


def in_seconds(data: dict[str, Any]) -> dict[str, Any]:
    """Decoded JSON of a sound, each time that is kept as beats set to its seconds.

    A tempo out of range is left to be refused by its own rule. Raises RecursionError where it is
    nested too deeply.
    """
    tempo = tempo_of(data)
    if not _SLOWEST_BPM <= tempo <= _FASTEST_BPM:
        return data
    found: dict[str, Any] = _with_seconds(data, 60.0 / tempo)
    return found


def tempo_of(data: Any) -> float:
    """The tempo of a sound's decoded JSON; 0 where it is no number."""
    tempo = data.get("tempo_bpm", _DEFAULT_BPM) if isinstance(data, dict) else None
    return _number(tempo) or 0.0


def beats_of(in_beats: Any, name: str) -> float | None:
    """The beats of a time, where it has any; or the seconds beside them."""
    return _number(in_beats.get(name)) if isinstance(in_beats, dict) else None


def _number(value: Any) -> float | None:
    """A plain number of JSON; None of anything else, true and false among them."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return None
    return float(value)


def _with_seconds(node: Any, beat_s: float) -> Any:
    if isinstance(node, list | tuple):
        return [_with_seconds(one, beat_s) for one in node]
    if not isinstance(node, dict):
        return node
    found = {key: _with_seconds(value, beat_s) for key, value in node.items()}
    in_beats = node.get("in_beats")
    for name in in_beats if isinstance(in_beats, dict) else ():
        beats = beats_of(in_beats, name)
        if beats is not None:
            found[name] = beats * beat_s + (beats_of(node.get("and_seconds"), name) or 0.0)
    return found
