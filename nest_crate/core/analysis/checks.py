"""Checks: computed remarks on a rendered sound, each with a mend where one exists.

A remark is computed from the render, never from settings alone; a mend is a list of edits to the
document (path and new value) that the screen makes as one ordinary, undoable edit.
"""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass, field
from typing import Any, Literal

from nest_crate.core.analysis.measures import Measures
from nest_crate.core.engine.settings import Rendering
from nest_crate.core.sound import Sound
from nest_crate.core.units import SILENCE_DB

__all__ = ["Edit", "Mend", "Remark", "check_sound"]

# Below this a hit is as good as silent.
_AUDIBLE_DB = -80.0


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
    remarks = [*_level(sound, measures), *_ending(sound, rendering), *_silent_layers(rendering)]
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


def _silent_layers(rendering: Rendering) -> list[Remark]:
    return [
        Remark("silent_layer", "warn", "A layer is silent", layer=identifier)
        for identifier in rendering.layers
        if rendering.levels_db[identifier] <= max(SILENCE_DB, _AUDIBLE_DB)
    ]
