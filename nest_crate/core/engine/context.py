"""What a processor needs to know of the hit, and what each kind answers."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.util.movement import Control, at_frames
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.moved import NOT_MOVED, Moved
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound.processors import Need

__all__ = [
    "FOLLOWED_FROM",
    "GainCurves",
    "ProcessContext",
    "ProcessorWork",
    "TailFacts",
    "cycles_gone_by",
    "values_at_frames",
]

# The note at which a cutoff that follows the keys is as it is set.
FOLLOWED_FROM = 60

# Towards which end of a number a tail gets longer.
Longer = Literal["down", "up", "far"]

# Gain in dB at each frame, by the name of the band ("" for the whole).
GainCurves = dict[str, NDArray[np.float64]]


# Where nothing else is given, as in a processor tried by itself.
_PLAIN: Mapping[Need, Any] = {"note": 60.0, "tempo": 120.0, "random": (1, "alone")}


@dataclass(frozen=True)
class ProcessContext:
    """What a processor may know: rate and quality, what moves it, the layers that it listens to,
    and what its kind declares by ``needs``. Asking for anything else raises LookupError: what the
    engine does not know to matter would be left out of the keys of remembered results."""

    settings: RenderSettings
    moved: Moved = NOT_MOVED
    given: Mapping[Need, Any] = field(default_factory=lambda: _PLAIN)
    heard: tuple[Signal, ...] = ()

    @property
    def sample_rate(self) -> int:
        return self.settings.sample_rate

    @property
    def note(self) -> float | Control:
        """The note of the hit, at the control rate where it slides."""
        found: float | Control = self._given("note")
        return found

    @property
    def tempo_bpm(self) -> float:
        return float(self._given("tempo"))

    @property
    def random_key(self) -> tuple[int, str]:
        """Seed and name of the processor's own randomness."""
        seed, part = self._given("random")
        return int(seed), str(part)

    @property
    def side(self) -> Signal | None:
        """The first layer that it listens to."""
        return self.heard[0] if self.heard else None

    def tracking(self, key_follow: float | Control) -> float | Control:
        """The factor on a frequency that follows the keys; 1 where it does not."""
        if isinstance(key_follow, float) and key_follow == 0.0:
            return 1.0
        return _follow_factor(key_follow, self.note)

    def _given(self, need: Need) -> Any:
        if need not in self.given:
            raise LookupError(f"a processor reads {need!r} and does not declare that it needs it")
        return self.given[need]


class TailFacts(NamedTuple):
    """What a tail may hang on besides a processor's own numbers."""

    set: Any
    """The processor as it is set, before links take it anywhere."""
    tempo_bpm: float
    low_note: int
    high_note: int
    reach: Callable[[str], float]
    """How far links may move a number to either side, by its name."""


@dataclass(frozen=True)
class ProcessorWork:
    """What the engine knows of one kind of processor.

    Parameters
    ----------
    apply
        (signal, processor, context) to signal.
    tail_s
        how long it sounds on, of a processor that stands where its tail is longest.
    gains_db
        of what follows the level: its gain over time, from the same as ``apply``.
    standing
        (processor, facts) to the processor as notes and tempo let it ring longest.
    rings
        the numbers that change its tail, by their path, and towards which end it gets longer: down,
        up, or far from 0. What is moved is put there before ``tail_s`` is asked.
    cost_ns
        nanoseconds a stereo frame at 48 kHz takes in final quality, roughly: one number, or one for
        a processor.
    room
        what it needs beside its input while it works, as a multiple of its stereo result.
    needs_end
        whether it must have heard its whole input: what is turned round begins with its end.
    ends_at_s
        of what lets nothing through after a time: that time, in seconds.
    """

    apply: Callable[[Signal, Any, ProcessContext], Signal]
    tail_s: Callable[[Any], float]
    gains_db: Callable[[Signal, Any, ProcessContext], GainCurves] | None = None
    standing: Callable[[Any, TailFacts], Any] | None = None
    rings: Mapping[str, Longer] = field(default_factory=dict)
    cost_ns: float | Callable[[Any], float] = 50.0
    room: float = 4.0
    needs_end: bool = False
    ends_at_s: Callable[[Any], float] | None = None

    def cost_of(self, part: Any) -> float:
        """Nanoseconds a stereo frame takes, roughly."""
        return self.cost_ns(part) if callable(self.cost_ns) else self.cost_ns


def values_at_frames(value: float | Control, count: int) -> Control:
    """A number or a control signal at every frame."""
    return np.full(count, value) if isinstance(value, float) else at_frames(value, count)


def cycles_gone_by(rate_hz: float | Control, count: int, sample_rate: int) -> Control:
    """Cycles gone by at every frame of a rate that may move; none at the start of the hit."""
    if isinstance(rate_hz, float):
        return np.asarray(np.arange(count) * (rate_hz / sample_rate))
    rates = values_at_frames(rate_hz, count)
    return np.concatenate([[0.0], np.cumsum(rates[:-1])]) / sample_rate if count else rates


def _follow_factor(key_follow: float | Control, note: float | Control) -> float | Control:
    """The factor on a frequency that follows the keys."""
    follow = 2.0 ** (np.asarray(key_follow) * (np.asarray(note) - FOLLOWED_FROM) / 12.0)
    return follow if follow.ndim else float(follow)
