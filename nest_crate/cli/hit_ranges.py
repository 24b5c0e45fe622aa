"""Several hits in one option: ``C1,E1``, ``C1..C3``, ``C1..C3/12``, ``20..127/4``."""

from __future__ import annotations

import re
from collections.abc import Callable

import click

from nest_crate.core.units import parse_note

__all__ = ["NOTES", "NUMBERS"]

_RANGE = re.compile(r"^(?P<first>[^./]+)\.\.(?P<last>[^./]+)(?:/(?P<step>\d+))?$")
_MOST = 1000


class _Several(click.ParamType[tuple[int, ...]]):
    """Single ones and ranges, both ends included, a step after a slash."""

    def __init__(self, name: str, read: Callable[[str], int], low: int, high: int) -> None:
        self.name = name
        self._read, self._low, self._high = read, low, high

    def convert(
        self, value: object, param: click.Parameter | None, ctx: click.Context | None
    ) -> tuple[int, ...]:
        if not isinstance(value, str):
            return tuple(value)  # type: ignore[arg-type]
        found: list[int] = []
        try:
            for part in value.split(","):
                found += self._part(part.strip())
        except ValueError as error:
            self.fail(str(error), param, ctx)
        if len(found) > _MOST:
            self.fail(f"{len(found)} are too many; {_MOST} at most", param, ctx)
        return tuple(dict.fromkeys(found))

    def _part(self, text: str) -> list[int]:
        match = _RANGE.match(text)
        if match is None:
            return [self._one(text)]
        first, last = self._one(match["first"]), self._one(match["last"])
        step = int(match["step"] or 1)
        if step < 1 or last < first:
            raise ValueError(f"{text!r} is no range; write one like C1..C3/12")
        return list(range(first, last + 1, step))

    def _one(self, text: str) -> int:
        value = self._read(text)
        if not self._low <= value <= self._high:
            raise ValueError(f"{value} is not between {self._low} and {self._high}")
        return value


def _whole(text: str) -> int:
    if not text.isdecimal():
        raise ValueError(f"{text!r} is no whole number")
    return int(text)


NOTES = _Several("NOTES", parse_note, 0, 127)


def NUMBERS(low: int, high: int) -> click.ParamType[tuple[int, ...]]:  # noqa: N802 - a type, as NOTES is
    """Whole numbers within bounds."""
    return _Several("NUMBERS", _whole, low, high)
