"""What a plan means: its members in the order of the sheet, each a hit of a sound with values."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.families.document import BatchPlan, PlannedSound
from nest_crate.core.families.drawing import SpreadRange, drawn_values, spread_ranges
from nest_crate.core.families.loading import count_of, require_runnable
from nest_crate.core.families.overrides import base_values
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.targets import targets_of

__all__ = ["DEFAULT_RATE", "Family", "Member"]

DEFAULT_RATE = 48000


@dataclass(frozen=True)
class Member:
    """One member: its number from 1, which sound, the hit, values by target, the rate, and where
    it lies on each axis (``note``, ``velocity``, ``hold``, ``hit``, ``rate``, ``macro:ID``)."""

    number: int
    sound: str
    hit: Hit
    values: dict[str, float]
    sample_rate: int
    axes: dict[str, float]
    draw: int
    """Which draw of its spreads."""


@dataclass(frozen=True)
class Family:
    """A plan over its sounds. Members are made when they are asked for.

    Raises
    ------
    DocumentError
        where it cannot be run; see ``require_runnable``.
    """

    plan: BatchPlan
    sounds: Mapping[str, Sound]
    redrawn: Mapping[int, int] = field(default_factory=dict)
    """How often a member was drawn anew, by number."""

    def __post_init__(self) -> None:
        require_runnable(self.plan, self.sounds)

    @cached_property
    def count(self) -> int:
        return sum(count_of(one) for one in self.plan.sounds)

    @cached_property
    def _starts(self) -> list[int]:
        counts = [count_of(one) for one in self.plan.sounds]
        return [0, *itertools.accumulate(counts)]

    @cached_property
    def ranges(self) -> dict[str, list[SpreadRange]]:
        """The spreads of each sound as they are drawn."""
        found = {}
        for planned in self.plan.sounds:
            sound = self.sounds[planned.id]
            targets = targets_of(sound) if planned.spreads else {}
            bases = base_values(sound, [one.target for one in planned.spreads])
            found[planned.id] = spread_ranges(planned, self.plan.difference, bases, targets)
        return found

    @cached_property
    def _draws(self) -> dict[str, list[dict[str, float]]]:
        """All draws of each sound, with those of members drawn anew behind them."""
        found = {}
        for index, planned in enumerate(self.plan.sounds):
            spare = max((self._anew(index, number) for number in self.redrawn), default=0)
            count = max(planned.draws, spare)
            found[planned.id] = drawn_values(self.plan, index, self.ranges[planned.id], count)
        return found

    def _anew(self, index: int, number: int) -> int:
        """How many draws a sound needs so that a member can be drawn anew as often as it was."""
        planned = self.plan.sounds[index]
        start, end = self._starts[index], self._starts[index + 1]
        if not start < number <= end or not planned.spreads:
            return 0
        return self._draw(planned, number - 1 - start, self.redrawn[number]) + 1

    def _draw(self, planned: PlannedSound, at: int, times: int) -> int:
        """A member's first draw is its own; the next are behind those of all others, each for one
        member only."""
        own = at % planned.draws
        return own if times == 0 else planned.draws * times + own

    def member(self, number: int) -> Member:
        """One member by its number.

        Raises
        ------
        DocumentError
            where there is none.
        """
        if not 1 <= number <= self.count:
            raise DocumentError(
                [FieldProblem("number", f"there are {self.count} members", "range")]
            )
        index = next(n for n, end in enumerate(self._starts[1:]) if number <= end)
        planned = self.plan.sounds[index]
        return self._made(planned, number, number - 1 - self._starts[index])

    def members(self, numbers: Sequence[int] | None = None) -> Iterator[Member]:
        """Members by number, or all."""
        for number in numbers if numbers is not None else range(1, self.count + 1):
            yield self.member(number)

    def _made(self, planned: PlannedSound, number: int, at: int) -> Member:
        sound = self.sounds[planned.id]
        draws = planned.draws if planned.spreads else 1
        place, axes = at // draws, {}
        # The last axis runs fastest, and draws within it.
        for axis in reversed(planned.axes):
            place, step = divmod(place, axis.count)
            name = f"macro:{axis.macro}" if axis.kind == "macro" else axis.kind
            axes[name] = axis.steps()[step]
        draw = self._draw(planned, at, self.redrawn.get(number, 0)) if planned.spreads else 0
        values = dict(self._draws[planned.id][draw]) if planned.spreads else {}
        values |= {
            f"{name.removeprefix('macro:')}.value": value
            for name, value in axes.items()
            if name.startswith("macro:")
        }
        return Member(
            number=number,
            sound=planned.id,
            hit=_hit(sound.hit, axes),
            values=values,
            sample_rate=int(axes.get("rate", DEFAULT_RATE)),
            axes=axes,
            draw=draw,
        )


def _hit(own: Hit, axes: Mapping[str, float]) -> Hit:
    """The sound's hit with what the axes say. A chord moves with its first note."""
    changed: dict[str, object] = {}
    if "note" in axes:
        note = int(axes["note"])
        moved = note - own.note
        changed["note"] = note
        changed["further"] = tuple(
            one.model_copy(update={"note": min(127, max(0, one.note + moved))})
            for one in own.further
        )
    if "velocity" in axes:
        changed["velocity"] = int(axes["velocity"])
    if "hit" in axes:
        changed["number"] = int(axes["hit"])
    hit = own.model_copy(update=changed)
    if "hold" in axes:
        hit = hit.with_seconds(hold_s=float(axes["hold"]))
    return hit if math.isfinite(hit.hold_s) else own
