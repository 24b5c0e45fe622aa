"""The log: plain lines without anybody's secrets.

A trace says where something went wrong, never what the variables held: they hold passwords, keys
and people's sounds. Fields that are named like secrets are masked wherever they come from.
"""

from __future__ import annotations

import re
import sys
from collections.abc import MutableMapping
from typing import Any

import structlog

__all__ = ["configure_log", "masked"]

_SECRET = re.compile(r"pass|secret|token|cookie|authorization|key\b|digest", re.IGNORECASE)
# user:password@host in an address; tokens as this program makes them.
_IN_WORDS = (
    (re.compile(r"(\w+://[^\s:/@]+:)[^\s@/]+@"), r"\1***@"),
    (re.compile(r"nest-(token|session|link|invitation)-[\w-]+"), r"nest-\1-***"),
)
_MASK = "***"


def masked(
    _logger: object, _method: str, event: MutableMapping[str, Any]
) -> MutableMapping[str, Any]:
    """An event with secrets masked: fields by their names, and what stands within words."""
    for name, value in event.items():
        if name not in ("event", "exception") and _SECRET.search(name):
            event[name] = _MASK
        elif isinstance(value, str):
            for pattern, instead in _IN_WORDS:
                value = pattern.sub(instead, value)
            event[name] = value
    return event


def configure_log() -> None:
    """For this process: to standard error, with the time in UTC."""
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.processors.format_exc_info,
            masked,
            structlog.dev.ConsoleRenderer(colors=False, exception_formatter=_as_it_is),
        ],
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
    )


def _as_it_is(stream: Any, _info: object) -> None:
    """Traces are in the event already, as text."""
