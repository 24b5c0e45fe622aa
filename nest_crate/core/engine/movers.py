"""How each kind of mover makes its control signal. A new mover is one entry in ``MOVERS``."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.special import ndtri

from nest_crate.core.dsp.util.curves import curve_signal
from nest_crate.core.dsp.util.movement import (
    CONTROL_FRAMES,
    Control,
    control_points,
    cycle_values,
    follow_level,
    step_values,
    wandering_values,
)
from nest_crate.core.dsp.util.randomness import uniform_numbers
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import Hit
from nest_crate.core.sound.movers import (
    CurveMover,
    FollowerMover,
    HoldMover,
    LfoMover,
    MacroMover,
    Mover,
    NoteMover,
    RandomMover,
    StepsMover,
    VelocityMover,
    VoiceMover,
)

__all__ = ["MOVERS", "MoverContext", "may_jump"]

_RANDOM_COUNT = 4096
# A normal spread is cut where 1 in 370 values lies beyond; scaled so that this is -1 to 1.
_NORMAL_CUT = 3.0
# A turn that is whole but for rounding counts as whole, so that its jump is on its frame.
_ROUNDING = 1e-10


def may_jump(mover: Mover) -> bool:
    """Whether a mover's value may jump, so that it must be known at every frame."""
    match mover:
        case LfoMover():
            return mover.shape not in ("sine", "triangle", "smooth") or mover.delay_s > 0.0
        case StepsMover() | CurveMover():
            return True
    return False


@dataclass(frozen=True)
class MoverContext:
    """What a mover needs to know: its id for its own randomness, the hit, the span.

    ``step`` frames lie from one value to the next; ``moved`` gives a parameter of the mover as it
    is moved itself, (points,) or one number.
    """

    id: str
    hit: Hit
    seed: int
    tempo_bpm: float
    frames: int
    settings: RenderSettings
    moved: Callable[[str], float | Control]
    step: int = CONTROL_FRAMES

    @property
    def points(self) -> int:
        return control_points(self.frames) * (CONTROL_FRAMES // self.step)

    @property
    def control_rate(self) -> float:
        return self.settings.sample_rate / self.step

    def time_s(self) -> Control:
        return np.arange(self.points) / self.control_rate

    def numbers(self, purpose: str) -> Control:
        """The hit's own random numbers from -1 to 1."""
        return uniform_numbers(
            _RANDOM_COUNT,
            seed=self.seed,
            part=f"{self.id}.{purpose}",
            hit_number=self.hit.number,
        )

    def phase(self, rate_hz: float | Control) -> Control:
        """Cycles gone by at each point at a rate that may move."""
        rate = np.asarray(rate_hz, dtype=np.float64)
        if rate.ndim == 0:
            return np.asarray(np.arange(self.points) * rate / self.control_rate)
        gone = np.concatenate([[0.0], np.cumsum(rate[:-1])])
        return np.asarray(gone / self.control_rate)


def _rate_hz(context: MoverContext, mover: LfoMover | StepsMover) -> float | Control:
    return (
        context.tempo_bpm / 60.0 / context.moved("beats")
        if mover.sync
        else context.moved("rate_hz")
    )


def _lfo(context: MoverContext, mover: LfoMover, _inputs: list[Signal]) -> Control:
    time_s = context.time_s()
    running = np.maximum(0.0, context.phase(_rate_hz(context, mover)))
    if mover.delay_s > 0.0:
        waited = np.interp(mover.delay_s, time_s, running)
        running = np.maximum(0.0, running - waited)
    if mover.once:
        running = np.minimum(running, 1.0 - 1e-9)
    begin = context.moved("phase_deg") / 360.0
    if mover.free:
        begin = begin + 0.5 + 0.5 * float(context.numbers("free")[0])
    phase = running + begin + _ROUNDING
    if mover.shape in ("stepped", "smooth"):
        value = wandering_values(phase, context.numbers("wander"), smooth=mover.shape == "smooth")
    elif mover.shape == "drawn":
        value = _drawn(mover, phase)
    else:
        value = cycle_values(mover.shape, phase, width=context.moved("width"))
    if mover.one_sided:
        value = 0.5 + 0.5 * value
    since_s = time_s - mover.delay_s
    value = np.where(since_s < 0.0, 0.0, value)
    if mover.fade_s > 0.0:
        value = value * np.clip(since_s / mover.fade_s, 0.0, 1.0)
    return value


_DRAWN_POINTS = 2048


def _drawn(mover: LfoMover, phase: Control) -> Control:
    """One cycle is the whole length of the drawn curve."""
    length_s = max(1e-6, mover.drawn.points[-1].time_s)
    scaled = [p.model_copy(update={"time_s": p.time_s / length_s}) for p in mover.drawn.points]
    cycle = mover.drawn.model_copy(update={"points": tuple(scaled), "release": (), "loop": None})
    table = curve_signal(cycle, frames=_DRAWN_POINTS, sample_rate=_DRAWN_POINTS, hold_s=0.0)
    return np.clip(np.interp((phase % 1.0) * _DRAWN_POINTS, np.arange(_DRAWN_POINTS), table), -1, 1)


def _steps(context: MoverContext, mover: StepsMover, _inputs: list[Signal]) -> Control:
    values = np.array(mover.values)
    # A skipped step goes on with the value before it.
    for index, skipped in enumerate(mover.skipped[: values.size]):
        if skipped:
            values[index] = values[index - 1]
    phase = context.phase(_rate_hz(context, mover)) + _ROUNDING
    return step_values(phase, values, glide=context.moved("glide"))


def _random(context: MoverContext, mover: RandomMover, _inputs: list[Signal]) -> Control:
    numbers = context.numbers("random")
    if mover.spread == "normal":
        inner = np.clip(0.5 + 0.5 * numbers, 1e-6, 1.0 - 1e-6)
        numbers = np.clip(ndtri(inner) / _NORMAL_CUT, -1.0, 1.0)
    rate_hz = context.moved("rate_hz")
    if np.all(np.asarray(rate_hz) <= 0.0):
        return np.full(context.points, numbers[0])
    return wandering_values(context.phase(rate_hz), numbers, smooth=True)


def _curve(context: MoverContext, mover: CurveMover, _inputs: list[Signal]) -> Control:
    whole = curve_signal(
        mover.curve,
        frames=context.points * context.step,
        sample_rate=context.settings.sample_rate,
        hold_s=context.hit.hold_s,
    )
    return np.clip(whole[:: context.step], -1.0, 1.0)


def _note(context: MoverContext, mover: NoteMover, _inputs: list[Signal]) -> Control:
    span = max(1, mover.high - mover.low)
    value = 2.0 * (context.hit.note - mover.low) / span - 1.0
    return np.full(context.points, min(1.0, max(-1.0, value)))


def _velocity(context: MoverContext, _mover: VelocityMover, _inputs: list[Signal]) -> Control:
    return np.full(context.points, (context.hit.velocity - 1) / 126.0)


def _hold(context: MoverContext, mover: HoldMover, _inputs: list[Signal]) -> Control:
    return np.full(context.points, min(1.0, context.hit.hold_s / mover.longest_s))


def _macro(context: MoverContext, mover: MacroMover, _inputs: list[Signal]) -> Control:
    return np.broadcast_to(np.asarray(context.moved("value")), (context.points,)).copy()


def _voice(context: MoverContext, _mover: VoiceMover, _inputs: list[Signal]) -> Control:
    # Of a single voice; the tone puts each of several in its place.
    return np.zeros(context.points)


def _pulses(context: MoverContext, mover: FollowerMover) -> Signal:
    """The pattern of pulses as a level at every frame, shape (1, frames)."""
    rate = context.settings.sample_rate
    each_s = 60.0 / context.tempo_bpm * mover.beats
    time_s = np.arange(context.frames) / rate
    step = np.floor(time_s / each_s + 1e-9).astype(np.int64)
    levels = np.array(mover.pulses)[step % len(mover.pulses)]
    on = time_s - step * each_s < min(mover.pulse_s, each_s)
    return np.where(on, levels, 0.0)[np.newaxis]


def _follower(context: MoverContext, mover: FollowerMover, inputs: list[Signal]) -> Control:
    if mover.layer is None:
        inputs = [_pulses(context, mover)]
    out = np.zeros(context.points)
    rate = context.settings.sample_rate

    def coefficient(time_s: float) -> float:
        return 1.0 - math.exp(-1.0 / (time_s * rate))

    attack, release = coefficient(mover.attack_s), coefficient(mover.release_s)
    follow_level(out, inputs[0], attack, release, CONTROL_FRAMES)
    return np.minimum(out, 1.0)


MOVERS: dict[str, Callable[[MoverContext, Any, list[Signal]], Control]] = {
    "curve": _curve,
    "lfo": _lfo,
    "steps": _steps,
    "random": _random,
    "note": _note,
    "velocity": _velocity,
    "hold": _hold,
    "voice": _voice,
    "macro": _macro,
    "follower": _follower,
}
