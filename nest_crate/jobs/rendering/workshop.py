"""What a render worker has at hand from one task to the next, and what a task is."""

from __future__ import annotations

import ctypes
import threading
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import psutil
from cachetools import LRUCache

from nest_crate.core.byte_memory import ByteMemory
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import RenderSettings, StageMemory
from nest_crate.core.engine.budget import Budget
from nest_crate.core.sound import Hit, Sound, load_hit, load_sound
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.storage import AudioStore
from nest_crate.storage.stored_recordings import StoredRecordings

__all__ = ["Task", "Wanted", "Workshop"]

# Renderings, by job, whose figures and pictures are still to be made.
_MOST_KEPT = 8
_MOST_STORES = 2
# Estimates say up to so many times what a render takes; what takes too long all the same is ended.
_ESTIMATED_TOO_HIGH = 5.0


@dataclass(frozen=True)
class Wanted:
    """What a request asks for, as JSON, and the job that it belongs to."""

    job: int | str
    given: dict[str, Any]

    @cached_property
    def sound(self) -> Sound:
        return load_sound(self.given["document"])

    def hit_of(self, sound: Sound) -> Hit:
        given = self.given.get("hit")
        return sound.hit if given is None else load_hit(given)


@dataclass
class Workshop:
    """Memories of one worker process, and the recordings of the stores that it worked with."""

    stages: StageMemory
    budget: Budget
    recordings_bytes: int
    hits: ByteMemory[str, Signal]
    """Hits of try-outs, which are played again and again as they are."""
    stores: LRUCache[str, StoredRecordings] = field(default_factory=lambda: LRUCache(_MOST_STORES))
    _kept: LRUCache[int | str, Any] = field(default_factory=lambda: LRUCache(_MOST_KEPT))
    # Elsewhere several threads share one.
    _lock: threading.Lock = field(default_factory=threading.Lock)

    @classmethod
    def opened(cls, *, memory_mb: int, stage_memory_mb: int, time_s: float) -> Workshop:
        """A workshop whose renders stay within the worker's memory."""
        room = (memory_mb - stage_memory_mb) * 1_000_000
        return cls(
            stages=StageMemory(stage_memory_mb * 1_000_000),
            budget=Budget(seconds=_ESTIMATED_TOO_HIGH * time_s, bytes=max(room, 50_000_000)),
            recordings_bytes=stage_memory_mb * 500_000,
            hits=ByteMemory(stage_memory_mb * 500_000, lambda one: one.nbytes),
        )

    def recordings(self, url: str) -> StoredRecordings:
        """What lies in a store, the last few decoded."""
        with self._lock:
            found = self.stores.get(url)
            if found is None:
                found = self.stores[url] = StoredRecordings(AudioStore(url), self.recordings_bytes)
            return found

    def settings(self, wanted: Wanted) -> RenderSettings:
        given = wanted.given
        return RenderSettings(
            sample_rate=given.get("sample_rate", 48000),
            quality=given.get("quality", "final"),
            recordings=self.recordings(given["store"]),
            budget=self.budget,
        )

    def keep(self, wanted: Wanted, made: Any) -> None:
        """Keep something of a job for its next step."""
        with self._lock:
            self._kept[wanted.job] = made

    def taken(self, wanted: Wanted) -> Any:
        """What was kept of a job, once; None where it is not here any more."""
        with self._lock:
            return self._kept.pop(wanted.job, None)

    def forget(self) -> None:
        """Give up what is remembered, and the memory with it."""
        with self._lock:
            self._kept.clear()
        self.stages.clear()
        self.hits.clear()
        self.stores.clear()
        self.give_back()

    def give_back(self) -> int:
        """Return free memory to the system; answers the bytes still held."""
        trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
        if trim is not None:
            trim(0)
        return int(psutil.Process().memory_info().rss)


Task = Callable[[Workshop, Wanted], Iterator[Frame]]
