"""From each version of the document to the next: pure functions of decoded JSON.

Every one has a golden file under ``tests/core``. What they meet may be anything: a user's file.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

__all__ = ["UPGRADES"]

Document = dict[str, Any]

_WITHOUT_PHASE_IN_1 = ("noise", "sample", "struck")
_BENDING = ("phase", "frequency", "sync")
# Ids that version 2 keeps for itself.
_TAKEN_SINCE_2 = ("common", "none")


def _to_version_2(data: Document) -> Document:
    """A layer's one modulation becomes the first of its modulators, with an id of its own."""
    data = _renamed(data)
    used = set(_ids(data))
    # Where a link to the amount of a modulation goes now; nowhere where there is no modulator.
    amounts: dict[str, str | None] = {}

    def layer_2(layer: Any) -> Any:
        if not isinstance(layer, dict):
            return layer
        modulation = layer.get("modulation")
        found = {name: value for name, value in layer.items() if name != "modulation"}
        amounts[f"{layer.get('id')}.modulation.amount"] = None
        if isinstance(modulation, dict) and modulation.get("by") is not None:
            identifier = _new_id(f"{layer.get('id')}-mod", used)
            source = layer.get("source")
            kind = source.get("kind") if isinstance(source, dict) else None
            # It did nothing to what has no phase, and should not begin to.
            idle = kind in _WITHOUT_PHASE_IN_1 and modulation.get("way", "phase") in _BENDING
            found["modulators"] = [{"id": identifier, "on": not idle, **modulation}]
            amounts[f"{layer.get('id')}.modulation.amount"] = f"{identifier}.amount"
        elif modulation is not None and not isinstance(modulation, dict):
            found["modulators"] = modulation
        return found

    def link_2(link: Any) -> Any:
        if not isinstance(link, dict) or link.get("target") not in amounts:
            return link
        return {**link, "target": amounts[link["target"]]}

    found = {**data, "schema_version": 2}
    if isinstance(data.get("layers"), list):
        found["layers"] = [layer_2(one) for one in data["layers"]]
    if isinstance(data.get("links"), list):
        links = [link_2(one) for one in data["links"]]
        found["links"] = [
            one for one in links if not isinstance(one, dict) or one.get("target") is not None
        ]
    return found


def _renamed(data: Document) -> Document:
    """Parts whose ids mean something else now get another id, wherever it is named."""
    used = set(_ids(data))
    new = {one: _new_id(f"{one}-part", used) for one in _TAKEN_SINCE_2 if one in used}
    return _with_ids(data, new) if new else data


_NAMING = ("id", "by", "to", "side", "layer", "mover", "scaled_by")


def _with_ids(node: Any, new: dict[str, str], key: str = "") -> Any:
    if isinstance(node, dict):
        return {name: _with_ids(value, new, name) for name, value in node.items()}
    if isinstance(node, list):
        return [_with_ids(one, new, key) for one in node]
    if key in _NAMING and isinstance(node, str):
        return new.get(node, node)
    if key == "target" and isinstance(node, str):
        part, dot, path = node.partition(".")
        return f"{new.get(part, part)}{dot}{path}"
    return node


def _ids(node: Any) -> list[str]:
    if isinstance(node, dict):
        own = [node["id"]] if isinstance(node.get("id"), str) else []
        return own + [one for value in node.values() for one in _ids(value)]
    return [one for value in node for one in _ids(value)] if isinstance(node, list) else []


def _new_id(wanted: str, used: set[str]) -> str:
    """A free id like the wanted one, of 32 characters at most; it is used from now on."""
    found, number = wanted[:32], 2
    while found in used:
        end = f"-{number}"
        found, number = wanted[: 32 - len(end)] + end, number + 1
    used.add(found)
    return found


UPGRADES: dict[int, Callable[[Document], Document]] = {1: _to_version_2}
