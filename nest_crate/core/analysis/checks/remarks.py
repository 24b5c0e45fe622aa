"""What a check answers: a remark, with fixes that are edits of the document."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, Literal

__all__ = ["Edit", "Fix", "Remark"]


@dataclass(frozen=True)
class Edit:
    """Put ``value`` at ``path`` (``main.level_db``); one place past a list's end adds to it."""

    path: str
    value: Any


@dataclass(frozen=True)
class Fix:
    """What the button says, and the edits it makes."""

    label: str
    edits: list[Edit]


@dataclass(frozen=True)
class Remark:
    """``code`` names the check; ``at_s`` places it on the ruler, ``layer`` in a lane."""

    code: str
    severity: Literal["good", "warn", "bad"]
    text: str
    at_s: float | None = None
    layer: str | None = None
    fixes: list[Fix] = field(default_factory=list)

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)
