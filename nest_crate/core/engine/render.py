"""render(sound, hit, settings) -> Audio, the engine's one entrance."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from typing import Any

from nest_crate.core.cancellation import watching
from nest_crate.core.dsp.util.signals import Signal, fade_end, loud_frames, peak
from nest_crate.core.engine.budget import Cost
from nest_crate.core.engine.cost import cost_of, require_within
from nest_crate.core.engine.ends import SILENCE_HOLD_S
from nest_crate.core.engine.loops import Loop, loop_of
from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.plan import make_plan
from nest_crate.core.engine.readings import tap_reading
from nest_crate.core.engine.settings import (
    MAX_LENGTH_S,
    Audio,
    EndReason,
    Rendering,
    RenderSettings,
)
from nest_crate.core.engine.stages import Stage, StageRunner
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.units import db_to_gain, gain_to_db

__all__ = ["SILENCE_DBFS", "expected_cost", "render", "render_with_trace"]

SILENCE_DBFS = -90.0

# No render ends in a step: what is cut goes down over this time.
_CUT_FADE_S = 0.01


def render(
    sound: Sound,
    hit: Hit | None = None,
    settings: RenderSettings | None = None,
    *,
    memory: StageMemory | None = None,
    listen_at: str | None = None,
) -> Audio:
    """Render one hit of a sound.

    The same sound, hit, settings and engine version give the same samples.

    Parameters
    ----------
    hit
        the sound's own hit where None.
    memory
        results of earlier renders to take up; the samples are the same with and without.
    listen_at
        id of the step whose output is wanted instead of the sound's; see ``make_plan``.

    Raises
    ------
    DocumentError
        where it would take more than the settings' budget.
    Cancelled
        where the settings' ``cancel`` was set.
    """
    return _rendered(sound, hit, settings, memory, listen_at).audio


def render_with_trace(
    sound: Sound,
    hit: Hit | None = None,
    settings: RenderSettings | None = None,
    *,
    memory: StageMemory | None = None,
    listen_at: str | None = None,
    read: Mapping[str, Callable[[Signal], Any]] | None = None,
) -> Rendering:
    """As ``render``, with each layer's output, the level after each step, and stage times.

    Parameters
    ----------
    read
        called with each processor's output as it is made, by a name that means the same function
        wherever one memory is used; answers are ``Rendering.read``.
    """
    run = _rendered(sound, hit, settings, memory, listen_at, traced=True, read=read)
    return run.rendering()


def expected_cost(sound: Sound, hit: Hit, settings: RenderSettings) -> Cost:
    """What a render will take, as far as it is known before."""
    if hit.loop_s > 0.0:
        loop = loop_of(sound, hit, settings.sample_rate)
        sound, hit = loop.sound, loop.hit
    return cost_of([make_plan(sound, hit, settings).output])


def _rendered(
    sound: Sound,
    hit: Hit | None,
    settings: RenderSettings | None,
    memory: StageMemory | None,
    listen_at: str | None,
    *,
    traced: bool = False,
    read: Mapping[str, Callable[[Signal], Any]] | None = None,
) -> _Run:
    hit = sound.hit if hit is None else hit
    settings = RenderSettings() if settings is None else settings
    loop = None
    if hit.loop_s > 0.0:
        loop = loop_of(sound, hit, settings.sample_rate)
        sound, hit, settings = loop.sound, loop.hit, replace(settings, length_s=None)
    with watching(settings.cancel):
        return _Run(sound, hit, settings, memory, listen_at, traced=traced, loop=loop, read=read)


def _read_after(read: Callable[[Signal], Any], _: object, made: Signal) -> Any:
    return read(made)


class _Run:
    """One render: planned, run, and planned longer where it turns out to sound on."""

    def __init__(
        self,
        sound: Sound,
        hit: Hit,
        settings: RenderSettings,
        memory: StageMemory | None,
        listen_at: str | None,
        *,
        traced: bool,
        loop: Loop | None = None,
        read: Mapping[str, Callable[[Signal], Any]] | None = None,
    ) -> None:
        self._settings, self._traced, self._read = settings, traced, dict(read or {})
        self._loop = loop
        longer = 0
        while True:
            self._plan = make_plan(sound, hit, settings, listen_at=listen_at, longer=longer)
            wanted = self._wanted()
            self._cost = cost_of(wanted)
            require_within(
                self._cost,
                settings.budget,
                length_s=self._plan.frames / settings.sample_rate,
                sample_rate=settings.sample_rate,
            )
            self._runner = StageRunner(memory, wanted, self._looked_at())
            self._watch()
            output = self._runner.result(self._plan.output)
            if not self._sounds_on(output):
                break
            longer += 1
        ended = self._ended(output)
        self.audio = ended if loop is None else loop.closed(ended)

    def _tapped(self) -> dict[str, Stage]:
        """The processors that are on, by id, where the hit is one note."""
        return {
            key: part
            for key, part in self._plan.taps.items()
            if part.gains_db is not None and part.owner == key
        }

    def _wanted(self) -> list[Stage]:
        """The stages whose results will be asked for."""
        return [self._plan.output, *(self._plan.layers.values() if self._traced else ())]

    def _looked_at(self) -> list[Stage]:
        """The stages that something will be read off, what comes later in the path first: as it is
        made, so is what comes before it."""
        found = [one for several in self._plan.peaks.values() for one in several]
        ends = [*self._plan.must_end, *self._plan.cut_notes]
        return [*(reversed(found) if self._traced else ()), *ends]

    def _watch(self) -> None:
        rate = self._settings.sample_rate
        for part in (*self._plan.must_end, *self._plan.cut_notes):
            self._runner.watch(part, "end", lambda _, made: self._loud_at_end(made))
        if not self._traced:
            return
        for several in self._plan.peaks.values():
            for part in several:
                self._runner.watch(part, "peak", lambda _, made: peak(made))
        for part in self._tapped().values():
            self._runner.watch(part, "tap", lambda given, made: tap_reading(given()[0], made, rate))
            for name, read in self._read.items():
                self._runner.watch(part, name, partial(_read_after, read))

    def _loud_at_end(self, signal: Signal) -> bool:
        hold = round(SILENCE_HOLD_S * self._settings.sample_rate)
        return peak(signal[:, -hold:]) >= db_to_gain(SILENCE_DBFS)

    def _sounds_on(self, output: Signal) -> bool:
        """Whether more must be rendered for the sound to come to its end."""
        settings, plan = self._settings, self._plan
        if any(self._runner.reading(part, "end") for part in plan.cut_notes):
            return True
        turned = any(self._runner.reading(part, "end") for part in plan.must_end)
        if settings.length_s is not None or plan.frames >= MAX_LENGTH_S * settings.sample_rate:
            return False
        return turned or self._loud_at_end(output)

    def _ended(self, output: Signal) -> Audio:
        """The output cut where it has fallen silent, and faded so that it ends in exact zero."""
        settings, rate = self._settings, self._settings.sample_rate
        cut_fade = round(_CUT_FADE_S * rate)
        if settings.length_s is not None:
            return Audio(fade_end(output, cut_fade), rate, "length")
        loud = int(loud_frames(output, db_to_gain(SILENCE_DBFS)))
        end = loud + round(SILENCE_HOLD_S * rate)
        reason: EndReason = "silence" if end <= output.shape[1] else "limit"
        return Audio(fade_end(output[:, :end], cut_fade), rate, reason)

    def _heard_of(self, layer: Signal) -> Signal:
        """As much of a layer as the sound lasts."""
        return self._loop.part(layer) if self._loop else layer[:, : self.audio.samples.shape[1]]

    def rendering(self) -> Rendering:
        plan, runner = self._plan, self._runner
        layers = {key: self._heard_of(runner.result(part)) for key, part in plan.layers.items()}
        for several in reversed(plan.peaks.values()):
            for part in several:
                runner.reading(part, "peak")
        tapped = self._tapped()
        return Rendering(
            audio=self.audio,
            settings=self._settings,
            layers=layers,
            taps={key: runner.reading(part, "tap") for key, part in tapped.items()},
            read={
                name: {key: runner.reading(part, name) for key, part in tapped.items()}
                for name in self._read
            },
            levels_db={
                key: gain_to_db(max(float(runner.reading(one, "peak")) for one in several))
                for key, several in plan.peaks.items()
            },
            stage_seconds=runner.seconds,
            cost=self._cost,
        )
