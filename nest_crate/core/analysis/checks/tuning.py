"""Where a sound settles, and whether that is a note."""

from __future__ import annotations

import numpy as np

from nest_crate.core.analysis.checks.remarks import Edit, Fix, Remark
from nest_crate.core.analysis.measures.figures import Measures
from nest_crate.core.analysis.pictures.details import layer_landings_hz
from nest_crate.core.dsp.util.signals import peak
from nest_crate.core.engine.mixer import hit_planner
from nest_crate.core.engine.settings import Rendering
from nest_crate.core.engine.settled_values import settled
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.sound import Hit, Layer, Sound, ToneSource
from nest_crate.core.units import hz_to_note

__all__ = ["check_tuning"]

# Less than this is not heard as out of tune, and is about what beating voices measure.
_OFF_CENTS = 10.0
# A layer settles where the sound does when it is as near.
_SAME_CENTS = 60.0
# A low sound that falls so far is taken for a kick, whose fundamental usually lies in this range.
_KICK_FALL_ST = 12.0
_KICK_BELOW_HZ = 120.0
_KICK_HZ = (35.0, 70.0)
# A pitch rests where it stays within a semitone and a half over the last part of the render.
_LAST_PART = 0.3
_RESTS_OCTAVES = 1.5 / 12.0


def check_tuning(sound: Sound, hit: Hit, rendering: Rendering, measures: Measures) -> list[Remark]:
    """The note a sound settles at; off pitch only where a layer that follows the note says so."""
    if measures.several_notes:
        return [Remark("tuning", "good", "Several notes at once")]
    if measures.fundamental_hz is None or measures.note is None or measures.cents is None:
        return []
    if not _anything_rests(sound, hit, rendering):
        return []
    cents = round(measures.cents)
    where = f"{measures.fundamental_hz:.1f} Hz, {measures.note}"
    text = f"Settles at {where}" + (f" {cents:+d} cents" if cents else "")
    if abs(measures.cents) > _OFF_CENTS:
        layer = _settling_layer(sound, hit, rendering, measures.fundamental_hz)
        if layer is not None:
            fix = Fix("Retune", _retuned(sound, measures.cents))
            off = f"Off pitch: {where} {cents:+d} cents"
            return [Remark("off_pitch", "warn", off, fixes=[fix])]
    if _is_kick(sound, measures.fundamental_hz):
        low, high = _KICK_HZ
        text += f" (kicks: {low:.0f} to {high:.0f} Hz)"
    return [Remark("tuning", "good", text)]


def _anything_rests(sound: Sound, hit: Hit, rendering: Rendering) -> bool:
    """Whether any tone that is heard has come to rest by its end; a riser settles at no note."""
    heard = [
        layer
        for layer in sound.layers
        if layer.id in rendering.layers and isinstance(layer.source, ToneSource)
    ]
    if not any(_may_move(sound, layer) for layer in heard):
        return True
    settings = rendering.settings
    once = settled(sound, hit, settings)
    whole = hit_planner(once, hit, settings, rendering.audio.samples.shape[1])
    planner = whole.notes[-1] if whole.notes else whole
    runner = StageRunner(None)
    for layer in heard:
        pitch_hz = runner.result(planner.pitch(layer.id))[0]
        last = pitch_hz[round((1.0 - _LAST_PART) * pitch_hz.size) :]
        # The render's own end is silent; what counts is how far the pitch still goes.
        if last.size and last.min() > 0.0 and np.log2(last.max() / last.min()) < _RESTS_OCTAVES:
            return True
    return False


def _may_move(sound: Sound, layer: Layer) -> bool:
    curves = [layer.pitch, sound.pitch] if layer.follows_pitch else [layer.pitch]
    changes = any(len({point.value for point in curve.points}) > 1 for curve in curves)
    return changes or any(link.target == f"{layer.id}.pitch_st" for link in sound.links)


def _settling_layer(
    sound: Sound, hit: Hit, rendering: Rendering, fundamental_hz: float
) -> Layer | None:
    """The loudest layer that settles where the sound does, if it follows the note and is off."""
    settings = rendering.settings
    landings = layer_landings_hz(sound, hit, settings, rendering)
    near = [
        layer
        for layer in sound.layers
        if layer.id in landings
        and abs(100.0 * (hz_to_note(landings[layer.id]) - hz_to_note(fundamental_hz))) < _SAME_CENTS
    ]
    loudest = max(near, key=lambda layer: peak(rendering.layers[layer.id]), default=None)
    if loudest is None or not isinstance(loudest.source, ToneSource):
        return None
    # Two notes close together measure as one between them; then neither layer is off by itself.
    exact = hz_to_note(landings[loudest.id])
    off = abs(100.0 * (exact - round(exact))) > _OFF_CENTS
    return loudest if off and loudest.source.follows_note else None


def _retuned(sound: Sound, cents: float) -> list[Edit]:
    """Every layer that follows the note moved by ``-cents``, so that they stay together."""
    edits = []
    for index, layer in enumerate(sound.layers):
        source = layer.source
        if not isinstance(source, ToneSource) or not source.follows_note:
            continue
        fine = round(source.fine_cent - cents, 1)
        path = f"layers.{index}.source"
        if abs(fine) > 100.0:
            whole = 1.0 if fine > 0.0 else -1.0
            edits.append(Edit(f"{path}.transpose_st", source.transpose_st + whole))
            fine = round(fine - 100.0 * whole, 1)
        edits.append(Edit(f"{path}.fine_cent", fine))
    return edits


def _is_kick(sound: Sound, fundamental_hz: float) -> bool:
    if fundamental_hz > _KICK_BELOW_HZ:
        return False
    curves = [sound.pitch, *(layer.pitch for layer in sound.layers)]
    return any(curve.points[0].value - curve.final_value() >= _KICK_FALL_ST for curve in curves)
