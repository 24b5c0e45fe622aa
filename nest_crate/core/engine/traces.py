"""What links really do to each parameter over a hit, as it is reached in the render."""

from __future__ import annotations

from functools import reduce
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.movement import CONTROL_FRAMES
from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.plan import Planner, planned_frames
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.sound import Hit, Sound

__all__ = ["base_value", "traces"]


def base_value(sound: Sound, target: str) -> float:
    """The value of a target before anything moves it."""
    part, path = target.split(".", 1)
    if path == "pitch_st":
        return 0.0
    chains = (sound.main.chain, *(layer.chain for layer in sound.layers))
    parts: dict[str, Any] = {"main": sound.main}
    parts |= {layer.id: layer for layer in sound.layers}
    parts |= {one.id: one for chain in chains for one in chain}
    parts |= {mover.id: mover for mover in sound.movers}
    return float(reduce(getattr, path.split("."), parts[part]))


def traces(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    *,
    points: int = 160,
    memory: StageMemory | None = None,
) -> dict[str, NDArray[np.float64]]:
    """For every target that is moved: (points, 2) of seconds and the value in its own unit."""
    frames, _ = planned_frames(sound, hit, settings)
    planner = Planner(sound, hit, settings, frames)
    runner = StageRunner(memory)
    found = {}
    for target in dict.fromkeys(link.target for link in sound.links):
        part, path = target.split(".", 1)
        moves = planner.moves(part)
        moved = moves.read([runner.result(stage) for stage in moves.stages])
        control = np.atleast_1d(moved.control(path, base_value(sound, target)))
        picked = np.unique(np.linspace(0, control.size - 1, points).round().astype(int))
        time_s = picked * CONTROL_FRAMES / settings.sample_rate
        found[target] = np.stack([time_s, control[picked]], axis=1)
    return found
