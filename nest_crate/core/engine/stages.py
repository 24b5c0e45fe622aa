"""A stage: one step of a plan, with the key of all that its result depends on."""

from __future__ import annotations

import hashlib
import json
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from nest_crate.core.dsp.signals import Signal
from nest_crate.core.engine.memory import StageMemory

__all__ = ["Stage", "StageRunner", "stage"]


@dataclass(frozen=True)
class Stage:
    """``work`` makes the result, shape (channels, frames), from the inputs' results."""

    name: str
    key: str
    work: Callable[[list[Signal]], Signal]
    inputs: tuple[Stage, ...] = ()
    gains_db: Callable[[list[Signal]], dict[str, Signal]] | None = None
    """Of what follows the level: its gain over time, from the same inputs."""


def stage(
    name: str,
    depends_on: dict[str, Any],
    work: Callable[[list[Signal]], Signal],
    inputs: Sequence[Stage] = (),
    gains_db: Callable[[list[Signal]], dict[str, Signal]] | None = None,
) -> Stage:
    """A stage whose key covers its kind, its numbers and its inputs' keys.

    ``depends_on`` must hold every number that ``work`` uses.
    """
    facts = [name.split(" ")[-1], depends_on, [part.key for part in inputs]]
    text = json.dumps(facts, sort_keys=True, separators=(",", ":"))
    return Stage(name, hashlib.sha256(text.encode()).hexdigest(), work, tuple(inputs), gains_db)


class StageRunner:
    """Runs stages, each at most once, and takes from memory what was made before."""

    def __init__(self, memory: StageMemory | None) -> None:
        self._memory = memory
        self._made: dict[str, Signal] = {}
        self.seconds: dict[str, float] = {}

    def result(self, wanted: Stage) -> Signal:
        made = self._made.get(wanted.key)
        if made is None and self._memory is not None:
            made = self._memory.get(wanted.key)
            if made is not None:
                self.seconds.setdefault(wanted.name, 0.0)
        if made is None:
            inputs = [self.result(part) for part in wanted.inputs]
            began = time.perf_counter()
            made = wanted.work(inputs)
            self.seconds[wanted.name] = time.perf_counter() - began
            if self._memory is not None:
                self._memory.put(wanted.key, made)
        self._made[wanted.key] = made
        return made
