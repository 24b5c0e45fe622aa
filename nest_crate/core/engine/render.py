"""render(sound, hit, settings) -> Audio, the engine's one entrance."""

from __future__ import annotations

from nest_crate.core.dsp.signals import Signal, fade_end, loud_frames, peak
from nest_crate.core.engine.ends import SILENCE_HOLD_S
from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.plan import make_plan
from nest_crate.core.engine.settings import Audio, EndReason, Rendering, RenderSettings
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.units import db_to_gain, gain_to_db

__all__ = ["SILENCE_DBFS", "render", "render_with_trace"]

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
    """
    return render_with_trace(sound, hit, settings, memory=memory, listen_at=listen_at).audio


def render_with_trace(
    sound: Sound,
    hit: Hit | None = None,
    settings: RenderSettings | None = None,
    *,
    memory: StageMemory | None = None,
    listen_at: str | None = None,
) -> Rendering:
    """As ``render``, with each layer's output, the level after each step, and stage times."""
    hit = sound.hit if hit is None else hit
    settings = RenderSettings() if settings is None else settings
    plan = make_plan(sound, hit, settings, listen_at=listen_at)
    runner = StageRunner(memory)
    output = runner.result(plan.output)
    audio = _ended(output, settings, plan.ends_by_itself)
    frames = audio.samples.shape[1]
    return Rendering(
        audio=audio,
        settings=settings,
        layers={key: runner.result(part)[:, :frames] for key, part in plan.layers.items()},
        taps={
            key: (runner.result(part.inputs[0]), runner.result(part))
            for key, part in plan.taps.items()
            if part.gains_db is not None and part.name.split(" ")[0] == key
        },
        levels_db={key: gain_to_db(peak(runner.result(part))) for key, part in plan.taps.items()},
        stage_seconds=runner.seconds,
    )


def _ended(output: Signal, settings: RenderSettings, ends_by_itself: bool) -> Audio:
    """The output cut where it has fallen silent, and faded so that it ends in exact zero."""
    rate = settings.sample_rate
    cut_fade = round(_CUT_FADE_S * rate)
    if settings.length_s is not None:
        return Audio(fade_end(output, cut_fade), rate, "length")
    end = int(loud_frames(output, db_to_gain(SILENCE_DBFS))) + round(SILENCE_HOLD_S * rate)
    reason: EndReason = "silence"
    if end > output.shape[1]:
        # A sound that should have ended did so; a drone was stopped at the longest length.
        reason = "silence" if ends_by_itself else "limit"
        end = output.shape[1]
    return Audio(fade_end(output[:, :end], cut_fade), rate, reason)
