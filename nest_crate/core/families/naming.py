"""Names of members by a template: ``{sound} {number:02}``."""

from __future__ import annotations

import string
from collections.abc import Mapping
from typing import Any

from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.families.members import Member
from nest_crate.core.units import note_name

__all__ = ["NAME_FIELDS", "member_name"]

NAME_FIELDS = ("sound", "family", "number", "note", "velocity", "hit", "hold", "rate")
_LONGEST = 120


class _Plain(string.Formatter):
    """Fields by name with a number of digits, and nothing that looks into a value."""

    def get_field(self, field_name: str, args: Any, kwargs: Mapping[str, Any]) -> Any:
        if field_name not in kwargs:
            raise KeyError(field_name)
        return kwargs[field_name], field_name


def member_name(template: str, member: Member, *, sound: str, family: str, number: int) -> str:
    """The name of a member.

    Raises
    ------
    DocumentError
        at ``members.name`` where the template holds what no member has.
    """
    hit = member.hit
    values: dict[str, Any] = {
        "sound": sound,
        "family": family,
        "number": number,
        "note": note_name(hit.note),
        "velocity": hit.velocity,
        "hit": hit.number,
        "hold": f"{1000 * hit.hold_s:.0f}ms",
        "rate": member.sample_rate,
    }
    try:
        name = _Plain().format(template, **values)
    except KeyError as error:
        known = ", ".join(f"{{{one}}}" for one in NAME_FIELDS)
        words = f"{{{error.args[0]}}} is not known; use {known}"
        raise DocumentError([FieldProblem("members.name", words, "template")]) from error
    except (ValueError, IndexError) as error:
        words = "is no template; write fields as {sound} or {number:02}"
        raise DocumentError([FieldProblem("members.name", words, "template")]) from error
    name = " ".join(name.split())
    if not name:
        raise DocumentError([FieldProblem("members.name", "gives an empty name", "template")])
    return name[:_LONGEST]
