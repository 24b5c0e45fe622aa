"""Writes the page of all parameters into the documentation, from the declarations.

A hook of mkdocs: nothing of that page is written by hand, so it cannot be out of date.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from mkdocs.config.defaults import MkDocsConfig
from mkdocs.structure.files import File, Files

sys.path.insert(0, str(Path(__file__).parents[1]))

from nest_crate.core.sound.kinds import declarations
from nest_crate.core.sound.recipe import written_value

_UNITS = {"percent": "%", "st": "semitones", "cent": "cents", "deg": "°", "beat": "beats"}
_HEAD = """# Parameters

Every kind of part with its numbers and choices, made from the declarations in the code. Fields take
typing with units. A number marked with ● can be moved all through a hit; the others can be
moved once, at the start of each hit.
"""


def _value(value: float, unit: str) -> str:
    return written_value(value, unit)


def _rows(part: dict[str, Any]) -> Iterator[str]:
    if part["parameters"]:
        yield "| Parameter | Range | Default | Unit | What it does | Field |"
        yield "|---|---|---|---|---|---|"
    for one in part["parameters"]:
        unit = one.get("unit", "")
        low, high = (_value(one[end], unit) for end in ("minimum", "maximum"))
        mark = " ●" if one["followed"] else ""
        yield (
            f"| {one['label']}{mark} | {low} to {high} | {_value(one['default'], unit)} "
            f"| {_UNITS.get(unit, unit)} | {one['help']} | `{one['name']}` |"
        )
    if part["parameters"]:
        yield ""
    for choice in part["choices"]:
        values = choice.get("values")
        words = (
            ", ".join(str(value).replace("_", " ") for value in values) if values else "on or off"
        )
        yield f"- **{choice['label']}** (`{choice['name']}`): {words}"
    yield ""


def _part(title: str, part: dict[str, Any]) -> Iterator[str]:
    yield f"### {title}\n"
    yield f"{part['help']}\n"
    yield from _rows(part)
    # Parts within a part that are all alike are listed once.
    seen: list[Any] = []
    for name, inner in part.get("parts", {}).items():
        if inner["parameters"] not in seen:
            seen.append(inner["parameters"])
            yield f"**{name.replace('_', ' ').capitalize()}** and parts like it\n"
            yield from _rows(inner)


def _page() -> str:
    all_ = declarations()
    lines = [_HEAD]
    for title, key in (("Sources", "sources"), ("Movers", "movers")):
        lines.append(f"## {title}\n")
        for part in all_[key].values():
            lines += _part(part["name"], part)
    groups = dict.fromkeys(part["group"] for part in all_["processors"].values())
    for group in groups:
        lines.append(f"## {group}\n")
        for part in all_["processors"].values():
            if part["group"] == group:
                lines += _part(part["name"], part)
    lines.append("## Sound, layer, bus and hit\n")
    for key in (
        "sound",
        "layer",
        "modulator",
        "send",
        "branch",
        "unison",
        "partials",
        "bus",
        "main",
        "hit",
        "playing",
    ):
        lines += _part(key.capitalize(), all_[key])
    return "\n".join(lines)


def on_files(files: Files, config: MkDocsConfig) -> Files:
    """Adds the page before links are checked."""
    files.append(File.generated(config, "reference.md", content=_page()))
    return files
