"""Names made by template, in a small syntax on Python's format fields: ``{category}_{name}``.

A number may say how many digits it has (``{variation:02}``), a text how it is written
(``{name:snake}``: lower, upper, title, snake, kebab). Nothing else is possible in braces.
"""

from __future__ import annotations

import re
import string
from collections.abc import Callable
from typing import Any

from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.people.accounts import field_error
from nest_crate.core.units import hz_to_note, note_name

__all__ = ["TEMPLATE_FIELDS", "clean_path", "fill_template"]

TEMPLATE_FIELDS: dict[str, tuple[str, Callable[[Sample, int], Any]]] = {
    "name": ("the name as it is", lambda sample, _: sample.name),
    "category": ("the category", lambda sample, _: sample.category or "uncategorised"),
    "subcategory": ("the subcategory", lambda sample, _: sample.subcategory or "other"),
    "group": ("the variation group, or the name", lambda s, _: s.variation_group or s.name),
    "variation": ("the number in the group, 1 without", lambda s, _: s.variation or 1),
    "number": ("running number in the selection", lambda _, number: number),
    "note": ("the note, or none", lambda sample, _: _note(sample)),
    "hz": ("the pitch in whole Hz, 0 without", lambda s, _: round(s.fundamental_hz or 0.0)),
    "length_ms": ("the length in ms", lambda sample, _: round(1e3 * sample.length_s)),
    "tempo": ("the tempo in bpm, 0 without", lambda sample, _: round(sample.tempo_bpm or 0.0)),
    "library": ("the library's name", lambda sample, _: sample.library.name),
    "author": ("the author", lambda sample, _: sample.author or "unknown"),
    "id": ("the sample's number here", lambda sample, _: sample.id),
}
_DIGITS = re.compile(r"^0?[1-9]$")
_LONGEST_TEMPLATE = 200


def _note(sample: Sample) -> str:
    if sample.root_note is not None:
        return note_name(sample.root_note)
    if sample.fundamental_hz is None:
        return "none"
    return note_name(min(127, max(0, round(hz_to_note(sample.fundamental_hz)))))


def _parted(text: str, by: str) -> str:
    return by.join(re.findall(r"[^\W_]+#?", text.lower()))


_WRITTEN: dict[str, Callable[[str], str]] = {
    "": lambda text: text,
    "lower": str.lower,
    "upper": str.upper,
    "title": str.title,
    "snake": lambda text: _parted(text, "_"),
    "kebab": lambda text: _parted(text, "-"),
}


def fill_template(template: str, sample: Sample, number: int, *, path: str = "template") -> str:
    """A template with the facts of a sample, which is the ``number``-th of a selection.

    Raises
    ------
    DocumentError
        at the field ``path``: an unknown field, a form that is not possible, a lone brace.
    """
    if len(template) > _LONGEST_TEMPLATE:
        raise field_error(path, f"a template has at most {_LONGEST_TEMPLATE} characters")
    try:
        parts = list(string.Formatter().parse(template))
    except ValueError as error:
        raise field_error(path, "a brace is not closed; write {{ for a literal brace") from error
    made = []
    for text, name, form, conversion in parts:
        made.append(text)
        if name is None:
            continue
        if name not in TEMPLATE_FIELDS or conversion:
            known = ", ".join(TEMPLATE_FIELDS)
            raise field_error(path, f"there is no {{{name}}}; use {known}")
        made.append(_formed(TEMPLATE_FIELDS[name][1](sample, number), form or "", name, path))
    return "".join(made)


def _formed(value: Any, form: str, name: str, path: str) -> str:
    if isinstance(value, int):
        if form and not _DIGITS.match(form):
            raise field_error(path, f"{{{name}:{form}}}: of a number say its digits, as in 02")
        return format(value, form)
    if form not in _WRITTEN:
        known = ", ".join(one for one in _WRITTEN if one)
        raise field_error(path, f"{{{name}:{form}}}: a text is written {known}")
    return _WRITTEN[form](str(value))


# Marks that turn the direction of text make "gnp.exe" look like "exe.png".
_FORBIDDEN = re.compile(
    r'[<>:"|?*\\\x00-\x1f\x7f-\x9f\u061c\u200b-\u200f\u2028-\u202e\u2060-\u206f\ufeff]'
)
# Names that some systems keep for devices.
_RESERVED = re.compile(r"^(con|prn|aux|nul|com\d|lpt\d)(\.|$)", re.IGNORECASE)
_LONGEST_PART = 100


def clean_path(text: str) -> str:
    """A path below a folder of which every part is a plain file name on any system.

    Parts that lead upwards or say nothing are left out; what may stand in no name becomes ``_``.
    """
    parts = []
    for part in text.replace("\\", "/").split("/"):
        name = _FORBIDDEN.sub("_", part).strip(" .")[:_LONGEST_PART].strip(" .")
        if name:
            parts.append(f"_{name}" if _RESERVED.match(name) else name)
    return "/".join(parts) or "sample"
