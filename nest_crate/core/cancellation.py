"""Cancels work that is no longer needed, by a flag that stages and kernels read.

The caller keeps a ``Cancel`` and may set it from another thread. The work's own thread reads it
between steps (``checkpoint``), and kernels read it at the ends of their blocks: they get
``cancel_flag()`` and stop where it is set, and the checkpoint after them raises ``Cancelled``.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.errors import NestCrateError

__all__ = ["Cancel", "Cancelled", "cancel_flag", "checkpoint", "watching"]


class Cancelled(NestCrateError):
    """Work was given up because its ``Cancel`` was set."""

    code = "cancelled"
    title = "The work was cancelled"


class Cancel:
    """Set from any thread, once and for good."""

    def __init__(self) -> None:
        self.flag: NDArray[np.uint8] = np.zeros(1, dtype=np.uint8)

    def set(self) -> None:
        self.flag[0] = 1

    @property
    def is_set(self) -> bool:
        return bool(self.flag[0])


class _Watched(threading.local):
    cancel: Cancel | None = None


_watched = _Watched()
_NEVER = Cancel()


@contextmanager
def watching(cancel: Cancel | None) -> Iterator[None]:
    """Within it ``cancel`` can cancel this thread's work; None keeps the outer one."""
    before = _watched.cancel
    _watched.cancel = cancel or before
    try:
        yield
    finally:
        _watched.cancel = before


def cancel_flag() -> NDArray[np.uint8]:
    """What kernels look at, shape (1,): not 0 where this thread's work is to be given up."""
    return (_watched.cancel or _NEVER).flag


def checkpoint() -> None:
    """Raise ``Cancelled`` where this thread's work is to be given up."""
    if _watched.cancel is not None and _watched.cancel.is_set:
        raise Cancelled("This was cancelled")
