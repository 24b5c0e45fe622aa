"""Results of stages, remembered under the hash of all that they depend on."""

from __future__ import annotations

import threading
from typing import Any

from cachetools import LRUCache

from nest_crate.core.byte_memory import ByteMemory
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["StageMemory"]

# Of small things read off results, which are kept longer than the results.
_MOST_READINGS = 20_000


class StageMemory:
    """Least recently used results, bounded by bytes; safe for many threads."""

    def __init__(self, limit_bytes: int = 256_000_000) -> None:
        self._results: ByteMemory[str, Signal] = ByteMemory(limit_bytes, lambda one: one.nbytes)
        self._readings: LRUCache[tuple[str, str], Any] = LRUCache(_MOST_READINGS)
        self._lock = threading.Lock()

    def get(self, key: str) -> Signal | None:
        return self._results.get(key)

    def put(self, key: str, result: Signal) -> None:
        """Keep a result. It is shared from now on, and nobody may write to it.

        It is not marked read-only: kernels would be compiled a second time for such arrays.
        """
        self._results.put(key, result)

    def reading(self, key: str, name: str) -> Any:
        """Something small that was read off a result; None where nothing was."""
        with self._lock:
            return self._readings.get((key, name))

    def put_reading(self, key: str, name: str, value: Any) -> None:
        with self._lock:
            self._readings[key, name] = value

    def clear(self) -> None:
        """Forget everything."""
        self._results.clear()
        with self._lock:
            self._readings.clear()

    @property
    def held_bytes(self) -> int:
        return self._results.held_bytes
