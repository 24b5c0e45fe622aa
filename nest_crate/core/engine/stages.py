"""A stage: one step of a plan, with the key of all that its result depends on."""

from __future__ import annotations

import hashlib
import json
import time
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.memory import StageMemory

__all__ = ["Load", "Stage", "StageRunner", "count_readers", "split_by", "stage"]


@dataclass(frozen=True)
class Load:
    """How much a stage makes and takes: the shape of its result, nanoseconds a frame, and working
    memory as a multiple of the result. Estimates, for ``cost``."""

    frames: int = 0
    ns: float = 4.0
    room: float = 0.0
    channels: int = 2


@dataclass(frozen=True)
class Stage:
    """``work`` makes the result, shape (channels, frames), from the inputs' results.

    ``owner`` is the id of the part whose stage it is, ``kind`` what the stage does.
    """

    owner: str
    kind: str
    key: str
    work: Callable[[list[Signal]], Signal]
    inputs: tuple[Stage, ...] = ()
    gains_db: Callable[[list[Signal]], dict[str, Signal]] | None = None
    """Of what follows the level: its gain over time, from the same inputs."""
    load: Load = Load()

    @property
    def name(self) -> str:
        return f"{self.owner} {self.kind}"


def stage(
    owner: str,
    kind: str,
    depends_on: dict[str, Any],
    work: Callable[[list[Signal]], Signal],
    inputs: Sequence[Stage] = (),
    gains_db: Callable[[list[Signal]], dict[str, Signal]] | None = None,
    load: Load = Load(),
) -> Stage:
    """A stage whose key covers its kind, its numbers and its inputs' keys.

    ``depends_on`` must hold every number that ``work`` uses.
    """
    facts = [kind, depends_on, [part.key for part in inputs]]
    text = json.dumps(facts, sort_keys=True, separators=(",", ":"))
    key = hashlib.sha256(text.encode()).hexdigest()
    return Stage(owner, kind, key, work, tuple(inputs), gains_db, load)


def split_by(results: list[Signal], groups: Sequence[Sequence[Stage]]) -> list[list[Signal]]:
    """The results of several groups of inputs that were given one after the other."""
    found, at = [], 0
    for group in groups:
        found.append(results[at : at + len(group)])
        at += len(group)
    return found


# What goes in, if it is asked for, and what comes out.
Reading = Callable[[Callable[[], list[Signal]], Signal], Any]


class StageRunner:
    """Runs stages, each at most once, and takes from memory what was made before.

    Where ``wanted`` names all stages whose results will be asked for, each as often as it will be,
    a result is let go after its last reader. Readings are small things read off a stage's inputs
    and result as it is made, so that the signals need not be kept for them; ``looked_at`` names the
    stages that nothing but readings are wanted of.
    """

    def __init__(
        self,
        memory: StageMemory | None,
        wanted: Iterable[Stage] | None = None,
        looked_at: Iterable[Stage] = (),
    ) -> None:
        self._memory = memory
        self._made: dict[str, Signal] = {}
        self._readings: dict[str, dict[str, Reading]] = {}
        self._read: dict[tuple[str, str], Any] = {}
        self._readers = None if wanted is None else count_readers(wanted, looked_at)
        self.seconds: dict[str, float] = {}

    def watch(self, part: Stage, name: str, reading: Reading) -> None:
        """Have something read off a stage, once it is made."""
        self._readings.setdefault(part.key, {})[name] = reading

    def reading(self, part: Stage, name: str) -> Any:
        """What was read off a stage; it is made first where it was not yet."""
        key = (part.key, name)
        if key not in self._read and self._memory is not None:
            found = self._memory.reading(*key)
            if found is not None:
                self._read[key] = found
        if key not in self._read:
            result = self._result(part)
            # Where it was remembered, nothing was read off it yet.
            self._note(part, lambda: [self._result(one) for one in part.inputs], result)
        return self._read[key]

    def result(self, part: Stage) -> Signal:
        """A stage's result; counts as one of its readers."""
        made = self._result(part)
        self._release(part)
        return made

    def _result(self, part: Stage) -> Signal:
        made = self._made.get(part.key)
        if made is None and self._memory is not None:
            made = self._memory.get(part.key)
            if made is not None:
                self.seconds.setdefault(part.name, 0.0)
                self._made[part.key] = made
                self._forgo_inputs(part)
        if made is None:
            inputs = [self._result(one) for one in part.inputs]
            checkpoint()
            began = time.perf_counter()
            made = part.work(inputs)
            self.seconds[part.name] = time.perf_counter() - began
            checkpoint()
            self._note(part, lambda: inputs, made)
            self._made[part.key] = made
            if self._memory is not None:
                self._memory.put(part.key, made)
            for one in part.inputs:
                self._release(one)
        return made

    def _note(self, part: Stage, inputs: Callable[[], list[Signal]], made: Signal) -> None:
        for name, reading in self._readings.get(part.key, {}).items():
            if (part.key, name) not in self._read:
                value = reading(inputs, made)
                self._read[part.key, name] = value
                if self._memory is not None:
                    self._memory.put_reading(part.key, name, value)

    def _release(self, part: Stage) -> None:
        """One reader less; after the last the result is let go."""
        if self._readers is None:
            return
        self._readers[part.key] -= 1
        if self._readers[part.key] <= 0 and self._made.pop(part.key, None) is None:
            # Nobody asked for it, so it asks for nothing either.
            self._forgo_inputs(part)

    def _forgo_inputs(self, part: Stage) -> None:
        if self._readers is not None:
            for one in part.inputs:
                self._release(one)


def count_readers(wanted: Iterable[Stage], looked_at: Iterable[Stage] = ()) -> Counter[str]:
    """How often each stage's result will be read: by other stages, and by who asks.

    What is only looked at is read once more where no other stage would have it made.
    """
    readers: Counter[str] = Counter()
    seen: set[str] = set()
    for part in wanted:
        readers[part.key] += 1
        _count_inputs(part, readers, seen)
    for part in looked_at:
        if part.key not in seen:
            readers[part.key] += 1
            _count_inputs(part, readers, seen)
    return readers


def _count_inputs(first: Stage, readers: Counter[str], seen: set[str]) -> None:
    waiting = [first]
    while waiting:
        part = waiting.pop()
        if part.key in seen:
            continue
        seen.add(part.key)
        for one in part.inputs:
            readers[one.key] += 1
            waiting.append(one)
