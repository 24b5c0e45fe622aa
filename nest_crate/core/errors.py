"""The error tree for mistakes that users can fix.

NestCrateError
├── DocumentError      a sound document, hit or setting is not valid; carries the field's path
│   └── DocumentTooLarge
├── FormatError        an audio file cannot be read or written
└── (catalogue and storage add their own below this root)

Built-in exceptions are for bugs; these are for users. Each carries a stable ``code``, a plain
sentence, and where it applies the path of the field.
"""

from __future__ import annotations

from typing import Any

__all__ = ["DocumentError", "DocumentTooLarge", "FieldProblem", "FormatError", "NestCrateError"]


class NestCrateError(Exception):
    """Root of all errors that users see."""

    code = "error"
    title = "Something is wrong"

    def __init__(self, message: str, *, details: dict[str, Any] | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.details = details or {}


class FieldProblem:
    """One field's problem: where (``layers.0.level_db``), what rule, in a plain sentence."""

    __slots__ = ("code", "message", "path")

    def __init__(self, path: str, message: str, code: str) -> None:
        self.path = path
        self.message = message
        self.code = code

    def as_dict(self) -> dict[str, str]:
        return {"path": self.path, "message": self.message, "code": self.code}


class DocumentError(NestCrateError):
    """A document is refused; ``problems`` names each field."""

    code = "document_invalid"
    title = "The document is not valid"

    def __init__(self, problems: list[FieldProblem]) -> None:
        first = problems[0]
        more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
        super().__init__(f"{first.path or 'document'}: {first.message}{more}")
        self.problems = problems


class DocumentTooLarge(DocumentError):
    """A document is over the size limit."""

    code = "document_too_large"
    title = "The document is too large"


class FormatError(NestCrateError):
    """An audio file cannot be read or written."""

    code = "format_invalid"
    title = "The file cannot be used"
