"""What links really do to each parameter over a hit, as it is reached in the render."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.movement import CONTROL_FRAMES, control_points
from nest_crate.core.engine.ends import planned_frames
from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.mixing import hit_planner
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.settling import base_value, settled
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.sound import Hit, Sound

__all__ = ["traces"]


def traces(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    *,
    points: int = 160,
    memory: StageMemory | None = None,
) -> dict[str, NDArray[np.float64]]:
    """For every target that is moved: (points, 2) of seconds and the value in its own unit.

    What is moved once a hit stays where it is put; of several notes the first is told.
    """
    once = settled(sound, hit, settings)
    frames, _ = planned_frames(once, hit, settings)
    whole = hit_planner(once, hit, settings, frames)
    planner = whole.notes[0] if whole.notes else whole
    runner = StageRunner(memory)
    followed = {link.target for link in once.links}
    found = {}
    for target in dict.fromkeys(link.target for link in sound.links):
        part, path = target.split(".", 1)
        if target in followed:
            moves = planner.moves(part)
            moved = moves.read([runner.result(stage) for stage in moves.stages])
            control = np.atleast_1d(moved.control(path, base_value(once, target)))
        else:
            control = np.full(control_points(frames), base_value(once, target))
        picked = np.unique(np.linspace(0, control.size - 1, points).round().astype(int))
        time_s = picked * CONTROL_FRAMES / settings.sample_rate
        found[target] = np.stack([time_s, control[picked]], axis=1)
    return found
