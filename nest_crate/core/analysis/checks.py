"""Checks: computed remarks on a rendered sound, each with a mend where one exists.

A remark is computed from the render, never from settings alone; a mend is a list of edits to the
document (path and new value) that the screen makes as one ordinary, undoable edit.
"""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass, field
from typing import Any, Literal

from nest_crate.core.analysis.clicks import attack_that_removes_click_s, starts_with_click
from nest_crate.core.analysis.contribution import contributions_db
from nest_crate.core.analysis.measures import Measures
from nest_crate.core.dsp.curves import curve_breakpoints, value_at
from nest_crate.core.engine.settings import Rendering
from nest_crate.core.sound import Curve, CurvePoint, FilterProcessor, Sound
from nest_crate.core.sound.document import MAX_PROCESSORS

__all__ = ["Edit", "Mend", "Remark", "check_sound"]

# Below this a hit is as good as silent.
_AUDIBLE_DB = -80.0

# A layer that nowhere changes the level by as much does nothing.
_NO_CONTRIBUTION_DB = 0.1

# An offset counts above this level, and where it is not far below the peak.
_OFFSET_DB = -46.0
_OFFSET_BELOW_DB = 26.0


@dataclass(frozen=True)
class Edit:
    """Put ``value`` at ``path`` (``main.level_db``) of the document."""

    path: str
    value: Any


@dataclass(frozen=True)
class Mend:
    """What the button says, and the edits it makes."""

    label: str
    edits: list[Edit]


@dataclass(frozen=True)
class Remark:
    """``code`` names the check; ``at_s`` places it on the ruler, ``layer`` in a lane."""

    code: str
    severity: Literal["good", "warn", "bad"]
    text: str
    at_s: float | None = None
    layer: str | None = None
    mends: list[Mend] = field(default_factory=list)

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


def check_sound(sound: Sound, rendering: Rendering, measures: Measures) -> list[Remark]:
    """All remarks on one rendered hit, what is wrong before what is right."""
    remarks = [
        *_level(sound, measures),
        *_ending(sound, rendering),
        *_layers(sound, rendering),
        *_clicks(sound, rendering),
        *_offset(sound, measures),
    ]
    if measures.note is not None and measures.cents is not None:
        cents = round(measures.cents)
        text = f"Settles at {measures.note}" + (f", {cents:+d} cents" if cents else "")
        remarks.append(Remark("tuning", "good", text))
    order = {"bad": 0, "warn": 1, "good": 2}
    return sorted(remarks, key=lambda remark: order[remark.severity])


def _level(sound: Sound, measures: Measures) -> list[Remark]:
    if measures.peak_db <= _AUDIBLE_DB:
        text = "Nothing is heard: add a layer" if not sound.layers else "Nothing is heard"
        return [Remark("silent", "bad", text)]
    over_db = measures.true_peak_db
    if over_db <= 0.0:
        return [Remark("headroom", "good", f"Headroom {-over_db:.1f} dB")]
    # Rounded down, so that the trimmed sound is below 0 by what is shown.
    level_db = math.floor(10.0 * (sound.main.level_db - over_db - 0.1)) / 10.0
    trim = Mend("Trim", [Edit("main.level_db", max(-72.0, level_db))])
    return [Remark("over", "bad", f"{over_db:.1f} dB over full scale", mends=[trim])]


def _ending(sound: Sound, rendering: Rendering) -> list[Remark]:
    if rendering.audio.end_reason == "limit":
        endless = next((layer for layer in sound.layers if layer.level.final_value() > 0.0), None)
        name = f"{endless.name} never falls silent" if endless else "Sounds on"
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
            mends = [
                Mend("Mute", [Edit(f"layers.{index}.mute", True)]),
                Mend("Remove", [Edit("layers", others)]),
            ]
            code = "silent_layer" if silent else "idle_layer"
            remarks.append(Remark(code, "warn", text, layer=layer.id, mends=mends))
    return remarks


def _clicks(sound: Sound, rendering: Rendering) -> list[Remark]:
    """Tones that set in with a step; a noise may, and a tick is made of nothing else."""
    remarks = []
    rate = rendering.audio.sample_rate
    for index, layer in enumerate(sound.layers):
        signal = rendering.layers.get(layer.id)
        if signal is None or layer.source.kind != "tone" or not starts_with_click(signal, rate):
            continue
        mends = []
        if layer.source.phase_deg not in (0.0, 180.0, 360.0) and layer.source.phase_random == 0.0:
            mends.append(Mend("Phase 0°", [Edit(f"layers.{index}.source.phase_deg", 0.0)]))
        attack_s = attack_that_removes_click_s(signal, rate)
        if attack_s is not None:
            curve = with_attack(layer.level, attack_s).model_dump(mode="json")
            mends.append(
                Mend(f"Attack {1e3 * attack_s:g} ms", [Edit(f"layers.{index}.level", curve)])
            )
        remarks.append(
            Remark("click_start", "warn", "click at the start", layer.delay_s, layer.id, mends)
        )
    if not remarks and rendering.layers:
        remarks.append(Remark("no_click", "good", "No click at the start"))
    return remarks


def with_attack(curve: Curve, attack_s: float) -> Curve:
    """A level curve that rises from 0 over ``attack_s`` and then goes on as it did."""
    reached = value_at(curve_breakpoints(curve.model_copy(update={"release": ()}), 0.0), attack_s)
    rise = (CurvePoint(time_s=0.0, value=0.0), CurvePoint(time_s=attack_s, value=reached))
    rest = tuple(point for point in curve.points if point.time_s > attack_s)
    return curve.model_copy(update={"points": rise + rest, "loop": None})


def _offset(sound: Sound, measures: Measures) -> list[Remark]:
    """A mean far from 0 eats headroom; a high-pass below hearing takes it away."""
    if measures.offset_db < _OFFSET_DB or measures.offset_db < measures.peak_db - _OFFSET_BELOW_DB:
        return []
    used = {part.id for part in sound.main.chain}
    name = next(f"offset-{n}" for n in range(1, 99) if f"offset-{n}" not in used)
    high_pass = FilterProcessor(id=name, response="high_pass", cutoff_hz=15.0)
    chain = [part.model_dump(mode="json") for part in (*sound.main.chain, high_pass)]
    mends = [Mend("High-pass", [Edit("main.chain", chain)])] if len(chain) <= MAX_PROCESSORS else []
    return [Remark("offset", "warn", f"DC offset {measures.offset_db:.0f} dB", mends=mends)]
