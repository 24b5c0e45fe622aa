"""Results of stages, remembered under the hash of all that they depend on."""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Any

from nest_crate.core.dsp.util.signals import Signal

__all__ = ["StageMemory"]

# Of small things read off results, which are kept longer than the results.
_MOST_READINGS = 20_000


class StageMemory:
    """Least recently used results, bounded by bytes; safe for many threads."""

    def __init__(self, limit_bytes: int = 256_000_000) -> None:
        self._limit_bytes = limit_bytes
        self._bytes = 0
        self._results: OrderedDict[str, Signal] = OrderedDict()
        self._readings: OrderedDict[tuple[str, str], Any] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: str) -> Signal | None:
        with self._lock:
            result = self._results.get(key)
            if result is not None:
                self._results.move_to_end(key)
            return result

    def put(self, key: str, result: Signal) -> None:
        """Keep a result. It is shared from now on, and nobody may write to it.

        It is not marked read-only: kernels would be compiled a second time for such arrays.
        """
        if result.nbytes > self._limit_bytes:
            return
        with self._lock:
            before = self._results.pop(key, None)
            if before is not None:
                self._bytes -= before.nbytes
            self._results[key] = result
            self._bytes += result.nbytes
            while self._bytes > self._limit_bytes:
                _, oldest = self._results.popitem(last=False)
                self._bytes -= oldest.nbytes

    def reading(self, key: str, name: str) -> Any:
        """Something small that was read off a result; None where nothing was."""
        with self._lock:
            found = self._readings.get((key, name))
            if found is not None:
                self._readings.move_to_end((key, name))
            return found

    def put_reading(self, key: str, name: str, value: Any) -> None:
        with self._lock:
            self._readings[key, name] = value
            while len(self._readings) > _MOST_READINGS:
                self._readings.popitem(last=False)

    @property
    def held_bytes(self) -> int:
        return self._bytes
