"""Checks: computed remarks on a rendered sound, each with a fix where one exists.

A remark is computed from the render, never from settings alone; a fix is a list of edits to the
document (path and new value) that the screen makes as one ordinary, undoable edit.
"""

from __future__ import annotations

import math

from nest_crate.core.analysis.checks.click_checks import check_clicks
from nest_crate.core.analysis.checks.contribution import contributions_db
from nest_crate.core.analysis.checks.effect_checks import check_effects
from nest_crate.core.analysis.checks.movement import check_movement
from nest_crate.core.analysis.checks.remarks import Edit, Fix, Remark
from nest_crate.core.analysis.checks.tuning import check_tuning
from nest_crate.core.analysis.measures.figures import Measures
from nest_crate.core.engine import StageMemory
from nest_crate.core.engine.settings import Rendering
from nest_crate.core.sound import FilterProcessor, Hit, Sound
from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.processors import MAX_PROCESSORS

__all__ = ["check_sound"]

# Below this a hit is as good as silent.
_AUDIBLE_DB = -80.0

# A layer that nowhere changes the level by as much does nothing.
_NO_CONTRIBUTION_DB = 0.1

# An offset counts above this level, and where it is not far below the peak.
_OFFSET_DB = -60.0
_OFFSET_BELOW_DB = 42.0


def check_sound(
    sound: Sound,
    rendering: Rendering,
    measures: Measures,
    hit: Hit | None = None,
    *,
    memory: StageMemory | None = None,
) -> list[Remark]:
    """All remarks on one rendered hit (the sound's own where None), what is wrong first."""
    hit = sound.hit if hit is None else hit
    settings = rendering.settings
    remarks = [
        *_level(sound, measures),
        *_ending(sound, rendering),
        *_layers(sound, rendering),
        *check_clicks(sound, rendering),
        *check_tuning(sound, hit, rendering, measures),
        *check_movement(sound, hit, settings, memory=memory),
        *_offset(sound, measures),
        *check_effects(sound, rendering, measures),
    ]
    order = {"bad": 0, "warn": 1, "good": 2}
    return sorted(remarks, key=lambda remark: order[remark.severity])


def _level(sound: Sound, measures: Measures) -> list[Remark]:
    if measures.peak_db <= _AUDIBLE_DB:
        text = "Silent: add a layer" if not sound.layers else "Silent"
        return [Remark("silent", "bad", text)]
    over_db = measures.true_peak_db
    if over_db <= 0.0:
        return [Remark("headroom", "good", f"True peak {-over_db:.1f} dB below full scale")]
    # Rounded down, so that the trimmed sound is below 0 by what is shown.
    level_db = math.floor(10.0 * (sound.main.level_db - over_db - 0.1)) / 10.0
    trim = Fix("Trim", [Edit("main.level_db", max(-72.0, level_db))])
    return [Remark("over", "bad", f"True peak {over_db:.1f} dB over full scale", fixes=[trim])]


def _ending(sound: Sound, rendering: Rendering) -> list[Remark]:
    if rendering.audio.end_reason == "limit":
        endless = next((layer for layer in sound.layers if layer.level.final_value() > 0.0), None)
        name = f"{endless.name} never ends" if endless else "Does not end"
        text = f"{name}; cut at {rendering.audio.length_s:.0f} s"
        return [Remark("endless", "warn", text, layer=endless.id if endless else None)]
    return [Remark("ending", "good", "Ends in silence")]


def _layers(sound: Sound, rendering: Rendering) -> list[Remark]:
    """Layers that are silent, or change the sum by less than can be heard."""
    changes_db = contributions_db(rendering.layers)
    remarks = []
    for index, layer in enumerate(sound.layers):
        if layer.id not in changes_db:
            continue
        silent = rendering.levels_db[layer.id] <= _AUDIBLE_DB
        if silent or changes_db[layer.id] < _NO_CONTRIBUTION_DB:
            text = "silent" if silent else "changes nothing by 0.1 dB or more"
            others = [other.model_dump(mode="json") for other in sound.layers if other is not layer]
            fixes = [
                Fix("Mute", [Edit(f"layers.{index}.mute", True)]),
                Fix("Remove", [Edit("layers", others)]),
            ]
            code = "silent_layer" if silent else "idle_layer"
            remarks.append(Remark(code, "warn", text, layer=layer.id, fixes=fixes))
    return remarks


def _offset(sound: Sound, measures: Measures) -> list[Remark]:
    """A mean far from 0 eats headroom; a high-pass below hearing takes it away."""
    if measures.offset_db < _OFFSET_DB or measures.offset_db < measures.peak_db - _OFFSET_BELOW_DB:
        return []
    used = {part.id for place in chain_places(sound) for part in place.chain}
    name = next(f"offset-{n}" for n in range(1, 99) if f"offset-{n}" not in used)
    high_pass = FilterProcessor(id=name, response="high_pass", cutoff_hz=15.0)
    chain = [part.model_dump(mode="json") for part in (*sound.main.chain, high_pass)]
    fixes = [Fix("High-pass", [Edit("main.chain", chain)])] if len(chain) <= MAX_PROCESSORS else []
    return [Remark("offset", "warn", f"DC offset {measures.offset_db:.0f} dB", fixes=fixes)]
