"""What a plan will cost, before anything is rendered: time and memory, and a budget for both.

Times are rough: nanoseconds that a stereo frame takes on one core of a common machine. Memory is
counted by going through the plan as the runner does, letting each result go after its last reader.
"""

from __future__ import annotations

from collections.abc import Iterable

from nest_crate.core.engine.budget import Budget, Cost
from nest_crate.core.engine.stages import Stage, count_readers
from nest_crate.core.errors import DocumentError, FieldProblem

__all__ = ["cost_of", "require_within"]

_BYTES = 8


def cost_of(wanted: Iterable[Stage]) -> Cost:
    """The cost of making stages, all from nothing; what is ``wanted`` is held to the end."""
    asked = list(wanted)
    counter = _Counter(count_readers(asked))
    for part in asked:
        counter.make(part)
    seconds = sorted(counter.seconds.items(), key=lambda one: -one[1])
    return Cost(sum(counter.seconds.values()), counter.most, tuple(seconds[:3]))


class _Counter:
    def __init__(self, readers: dict[str, int]) -> None:
        self._readers = dict(readers)
        self._made: set[str] = set()
        self._held = 0
        self.most = 0
        self.seconds: dict[str, float] = {}

    def make(self, part: Stage) -> None:
        if part.key in self._made:
            return
        self._made.add(part.key)
        for one in part.inputs:
            self.make(one)
        own = _result_bytes(part)
        self.most = max(self.most, self._held + own + round(part.load.room * own))
        self._held += own
        took = part.load.frames * part.load.ns * 1e-9
        self.seconds[part.name] = self.seconds.get(part.name, 0.0) + took
        for one in part.inputs:
            self._readers[one.key] -= 1
            if self._readers[one.key] == 0:
                self._held -= _result_bytes(one)


def _result_bytes(part: Stage) -> int:
    return part.load.frames * part.load.channels * _BYTES


def require_within(cost: Cost, budget: Budget, *, length_s: float, sample_rate: int) -> None:
    """Refuse what costs more than a budget, with what to change.

    Raises
    ------
    DocumentError
        with the code ``budget``.
    """
    if cost.seconds <= budget.seconds and cost.bytes <= budget.bytes:
        return
    over = []
    if cost.seconds > budget.seconds:
        over.append(f"about {cost.seconds:.0f} s of computing, {budget.seconds:.0f} s at most")
    if cost.bytes > budget.bytes:
        over.append(f"{cost.bytes / 1e9:.1f} GB of memory, {budget.bytes / 1e9:.1f} GB at most")
    names = " and ".join(f"'{name}'" for name, _ in cost.dearest[:2])
    rate = f", choose a lower rate than {sample_rate} Hz" if sample_rate > 48000 else ""
    message = (
        f"This would take {' and '.join(over)}: shorten its {length_s:.1f} s (hold, level curves, "
        f"tails){rate}, or take parts away; {names} cost the most"
    )
    raise DocumentError([FieldProblem("", message, "budget")])
