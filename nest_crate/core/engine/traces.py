"""What links really do to each parameter over a hit, as it is reached in the render."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, control_points
from nest_crate.core.engine.ends import planned_frames
from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.mixer import hit_planner
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.settled_values import base_value, settled
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.targets import LEVELS

__all__ = ["TRACE_POINTS", "Reached", "reached_values", "traces"]

# Two for each of 300 columns: as fine as a lane is drawn.
TRACE_POINTS = 602


@dataclass(frozen=True)
class Reached:
    """``within`` is the parameter as it is reached, ``wanted`` where links would take it beyond
    its range; (points,) each, at ``time_s``."""

    time_s: NDArray[np.float64]
    within: NDArray[np.float64]
    wanted: NDArray[np.float64]


def reached_values(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    *,
    points: int = TRACE_POINTS,
    memory: StageMemory | None = None,
) -> dict[str, Reached]:
    """What links do to every target that is moved, over the hit.

    What is moved once a hit stays where it is put; of several notes the first counts.
    """
    if not sound.links:
        return {}
    once = settled(sound, hit, settings)
    frames, _ = planned_frames(once, hit, settings)
    whole = hit_planner(once, hit, settings, frames)
    planner = whole.notes[0] if whole.notes else whole
    runner = StageRunner(memory)
    followed = {link.target for link in once.links}
    count = control_points(planner.frames)
    found = {}
    for target in dict.fromkeys(link.target for link in sound.links):
        part, path = target.split(".", 1)
        base = base_value(once, target)
        if target in followed:
            moves = planner.moves(part)
            moved = moves.read([runner.result(stage) for stage in moves.stages])
            level = path in LEVELS
            values = [
                moved.level_db(path, base) if level else moved.control(path, base),
                moved.wanted(path, base),
            ]
        else:
            values = [base, base]
        within, wanted = (np.broadcast_to(np.asarray(one), (count,)) for one in values)
        picked = _telling(within, points)
        time_s = picked * CONTROL_FRAMES / settings.sample_rate
        found[target] = Reached(time_s, within[picked], wanted[picked])
    return found


def _telling(values: NDArray[np.float64], points: int) -> NDArray[np.int64]:
    """Indices of at most ``points`` values that show all of them: both ends, and the least and the
    most of equal stretches, so that a fast movement is as wide as it is and not a slow one."""
    if values.size <= points:
        return np.arange(values.size)
    length = -(-values.size // (points // 2 - 1))
    # The last stretch is filled up with the last value, which adds no other least or most.
    stretches = np.pad(values, (0, -values.size % length), mode="edge").reshape(-1, length)
    starts = np.arange(len(stretches)) * length
    ends = np.array([0, values.size - 1])
    picked = [ends, starts + stretches.argmin(axis=1), starts + stretches.argmax(axis=1)]
    return np.unique(np.minimum(np.concatenate(picked), values.size - 1))


def traces(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    *,
    points: int = TRACE_POINTS,
    memory: StageMemory | None = None,
) -> dict[str, NDArray[np.float64]]:
    """For every target that is moved: (at most points, 2) of seconds and value in its own unit."""
    reached = reached_values(sound, hit, settings, points=points, memory=memory)
    return {key: np.stack([one.time_s, one.within], axis=1) for key, one in reached.items()}
