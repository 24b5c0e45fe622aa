"""Names read by a template, the other way round than they are made: ``{category}_{name}_{note}``.

The braces are those of ``name_templates``. What stands between them separates: only the name and
the group may hold a separator themselves, so that a pattern is read in one way and in little time.
"""

from __future__ import annotations

import re
import string
from collections.abc import Callable
from functools import lru_cache
from typing import Any

from nest_crate.catalogue.people.accounts import field_error
from nest_crate.core.errors import DocumentError
from nest_crate.core.units import parse_note

__all__ = ["PATTERN_FIELDS", "NamePattern", "name_pattern"]


def _spaced(text: str) -> str:
    return " ".join(re.split(r"[_\s]+", text)).strip()


def _note(text: str) -> int | None:
    try:
        return parse_note(text)
    except DocumentError:
        return None


_NUMBER = r"\d{1,5}(?:\.\d{1,3})?"
# By field: the column of a sample it fills, what it looks like, and how it is read.
_FIELDS: dict[str, tuple[str, str, Callable[[str], Any]]] = {
    "name": ("name", "", _spaced),
    "group": ("variation_group", "", _spaced),
    "category": ("category", "", lambda text: _spaced(text).lower()),
    "subcategory": ("subcategory", "", lambda text: _spaced(text).lower()),
    "author": ("author", "", _spaced),
    "tag": ("tags", "", lambda text: [_spaced(text).lower()]),
    "variation": ("variation", r"\d{1,4}", int),
    "note": ("root_note", r"[A-Ga-g][#b]?-?\d", _note),
    "tempo": ("tempo_bpm", _NUMBER, float),
    "number": ("", r"\d{1,9}", int),
}
PATTERN_FIELDS = tuple(_FIELDS)
_MAY_HOLD_SEPARATORS = ("name", "group")
_MOST_FIELDS = 8
_LONGEST = 200
_LONGEST_READ = 400


class NamePattern:
    """A template that names are read by."""

    def __init__(self, template: str, expression: re.Pattern[str], *, with_folders: bool) -> None:
        self.template = template
        self._expression = expression
        self._with_folders = with_folders

    def read(self, path: str) -> dict[str, Any] | None:
        """What a file's path says, by column of a sample; None where it does not fit.

        A pattern without a slash is read in the last part alone. The ending is not part of it.
        """
        given = path if self._with_folders else path.rsplit("/", 1)[-1]
        if len(given) > _LONGEST_READ:
            return None
        fits = self._expression.fullmatch(given)
        if fits is None:
            return None
        found: dict[str, Any] = {}
        for field, text in fits.groupdict().items():
            column, _, read = _FIELDS[field]
            value = read(text)
            if column and value not in (None, "", 0):
                found[column] = value
        return found


@lru_cache(maxsize=64)
def name_pattern(template: str) -> NamePattern:
    """The pattern of a template.

    Raises
    ------
    DocumentError
        at ``template``: an unknown field, one that stands twice, two that nothing separates.
    """
    if len(template) > _LONGEST:
        raise field_error("template", f"a template has at most {_LONGEST} characters")
    try:
        parts = list(string.Formatter().parse(template))
    except ValueError as error:
        raise field_error("template", "a brace is not closed") from error
    fields = [name for _, name, _, _ in parts if name is not None]
    if not fields:
        raise field_error("template", f"name at least one of {_known()}")
    if len(fields) > _MOST_FIELDS:
        raise field_error("template", f"at most {_MOST_FIELDS} fields")
    expression = ""
    for n, (text, name, _, conversion) in enumerate(parts):
        expression += re.escape(text)
        if name is None:
            continue
        if name not in _FIELDS or conversion:
            raise field_error("template", f"there is no {{{name}}}; use {_known()}")
        if fields.count(name) > 1:
            raise field_error("template", f"{{{name}}} stands twice")
        following = parts[n + 1][0] if n + 1 < len(parts) else ""
        if n + 1 < len(parts) and not following:
            raise field_error("template", f"put something between {{{name}}} and what follows")
        expression += f"(?P<{name}>{_shape(name, following)})"
    compiled = re.compile(expression, re.IGNORECASE)
    return NamePattern(template, compiled, with_folders="/" in template)


def _shape(name: str, following: str) -> str:
    shape = _FIELDS[name][1]
    if shape:
        return shape
    if name in _MAY_HOLD_SEPARATORS:
        return "[^/]{1,120}?"
    if not following:
        return "[^/]{1,120}"
    return f"(?:(?!{re.escape(following)})[^/]){{1,120}}"


def _known() -> str:
    return ", ".join(f"{{{name}}}" for name in _FIELDS)
