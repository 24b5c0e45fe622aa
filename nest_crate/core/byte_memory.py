"""Memories that are bounded by bytes: the least recently used goes first."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Generic, TypeVar

from cachetools import LRUCache

__all__ = ["ByteMemory"]

_Key = TypeVar("_Key")
_Value = TypeVar("_Value")


class ByteMemory(Generic[_Key, _Value]):
    """Safe for many threads.

    Parameters
    ----------
    limit_bytes
        what all values together may hold.
    bytes_of
        the size of a value.
    keep_larger
        whether one value that is larger than the limit is kept until another one comes.
    """

    def __init__(
        self, limit_bytes: int, bytes_of: Callable[[_Value], int], *, keep_larger: bool = False
    ) -> None:
        self._limit_bytes, self._keep_larger = limit_bytes, keep_larger
        self._bytes_of = bytes_of
        self._kept: LRUCache[_Key, _Value] = LRUCache(limit_bytes, getsizeof=bytes_of)
        self._larger: tuple[_Key, _Value] | None = None
        self._lock = threading.Lock()

    def get(self, key: _Key) -> _Value | None:
        with self._lock:
            if self._larger is not None and self._larger[0] == key:
                return self._larger[1]
            return self._kept.get(key)

    def put(self, key: _Key, value: _Value) -> None:
        with self._lock:
            self._larger = None
            if self._bytes_of(value) <= self._limit_bytes:
                self._kept[key] = value
            elif self._keep_larger:
                self._kept.clear()
                self._larger = (key, value)

    def clear(self) -> None:
        with self._lock:
            self._larger = None
            self._kept.clear()

    @property
    def held_bytes(self) -> int:
        larger = 0 if self._larger is None else self._bytes_of(self._larger[1])
        return int(self._kept.currsize) + larger
