"""Clicks of tone layers, where they set in and where they stop, with what removes them.

A noise may set in and stop with a step, and a tick is made of nothing else.
"""

from __future__ import annotations

from nest_crate.core.analysis.checks.clicks import (
    attack_that_removes_click_s,
    clicks_within,
    ends_with_click,
    release_that_removes_click_s,
    starts_with_click,
)
from nest_crate.core.analysis.checks.remarks import Edit, Fix, Remark
from nest_crate.core.dsp.util.curves import curve_breakpoints, value_at
from nest_crate.core.dsp.util.signals import Signal, loud_frames
from nest_crate.core.engine.settings import Rendering
from nest_crate.core.sound import Curve, CurvePoint, Layer, NoiseSource, Sound, ToneSource
from nest_crate.core.sound.layers import MAX_LAYERS

__all__ = ["check_clicks", "with_attack", "with_fade", "with_release"]


def check_clicks(sound: Sound, rendering: Rendering) -> list[Remark]:
    """Tone layers that start or end with a step, or have one within."""
    rate = rendering.audio.sample_rate
    remarks = []
    for index, layer in enumerate(sound.layers):
        signal = rendering.layers.get(layer.id)
        if signal is None or not isinstance(layer.source, ToneSource):
            continue
        path = f"layers.{index}"
        if starts_with_click(signal, rate):
            fixes = _start_fixes(sound, layer, path, signal, rate)
            text = "click at the start"
            remarks.append(Remark("click_start", "warn", text, layer.delay_s, layer.id, fixes))
        if rendering.audio.end_reason == "silence" and ends_with_click(signal, rate):
            fixes = _end_fixes(layer, path, signal, rate)
            at_s = int(loud_frames(signal, 1e-6)) / rate
            text = "click at the end"
            remarks.append(Remark("click_end", "warn", text, at_s, layer.id, fixes))
        within_s = clicks_within(signal, rate)
        if within_s:
            more = f" and {len(within_s) - 1} more" if len(within_s) > 1 else ""
            text = f"click at {1e3 * within_s[0]:.0f} ms{more}"
            remarks.append(Remark("click_within", "warn", text, within_s[0], layer.id))
    if not remarks and rendering.layers:
        remarks.append(Remark("no_click", "good", "No click"))
    return remarks


def _start_fixes(sound: Sound, layer: Layer, path: str, signal: Signal, rate: int) -> list[Fix]:
    source = layer.source
    assert isinstance(source, ToneSource)
    fixes = []
    if source.phase_deg not in (0.0, 180.0, 360.0) and source.phase_random == 0.0:
        fixes.append(Fix("Phase 0°", [Edit(f"{path}.source.phase_deg", 0.0)]))
    attack_s = attack_that_removes_click_s(signal, rate)
    if attack_s is not None:
        softer = _level_fix("Attack", attack_s, path, with_attack(layer.level, attack_s))
        fixes.append(softer)
        if len(sound.layers) < MAX_LAYERS:
            fixes.append(Fix("Tick layer", [*softer.edits, _added_tick(sound, layer)]))
    return fixes


def _added_tick(sound: Sound, layer: Layer) -> Edit:
    """The click as a layer of its own, a few milliseconds of noise, where it can be shaped."""
    used = {one.id for one in sound.layers}
    fall = (CurvePoint(time_s=0.0, value=1.0), CurvePoint(time_s=0.004, value=0.0, bend=4.0))
    tick = Layer(
        id=next(f"tick-{n}" for n in range(1, 99) if f"tick-{n}" not in used),
        name="Tick",
        pigment="slate",
        level_db=max(-72.0, layer.level_db - 12.0),
        delay_s=layer.delay_s,
        source=NoiseSource(),
        level=Curve(points=fall),
    )
    return Edit(f"layers.{len(sound.layers)}", tick.model_dump(mode="json"))


def _end_fixes(layer: Layer, path: str, signal: Signal, rate: int) -> list[Fix]:
    needed_s = release_that_removes_click_s(signal, rate)
    if needed_s is None:
        return []
    fixes = [_level_fix("Release", needed_s, path, with_release(layer.level, needed_s))]
    if not layer.level.release:
        fixes.append(_level_fix("Fade", needed_s, path, with_fade(layer.level, needed_s)))
    return fixes


def _level_fix(what: str, time_s: float, path: str, curve: Curve) -> Fix:
    edit = Edit(f"{path}.level", curve.model_dump(mode="json"))
    return Fix(f"{what} {1e3 * time_s:g} ms", [edit])


def with_attack(curve: Curve, attack_s: float) -> Curve:
    """A level curve that rises from 0 over ``attack_s`` and then goes on as it did."""
    reached = value_at(curve_breakpoints(curve.model_copy(update={"release": ()}), 0.0), attack_s)
    rise = (CurvePoint(time_s=0.0, value=0.0), CurvePoint(time_s=attack_s, value=reached))
    rest = tuple(point for point in curve.points if point.time_s > attack_s)
    return curve.model_copy(update={"points": rise + rest, "loop": None})


def with_release(curve: Curve, release_s: float) -> Curve:
    """A level curve whose last way to its end takes at least ``release_s``."""
    part = curve.release or curve.points
    before_s = part[-2].time_s if len(part) > 1 else 0.0
    end_s = max(part[-1].time_s, before_s + release_s)
    last = part[-1].model_copy(update={"time_s": end_s, "value": 0.0})
    return curve.model_copy(update={"release" if curve.release else "points": (*part[:-1], last)})


def with_fade(curve: Curve, fade_s: float) -> Curve:
    """A one-shot's level curve that goes down to 0 within its last ``fade_s``."""
    end_s = curve.points[-1].time_s
    start_s = max(0.0, end_s - fade_s)
    here = value_at(curve_breakpoints(curve, 0.0), start_s)
    kept = tuple(point for point in curve.points if point.time_s < start_s)
    fade = (CurvePoint(time_s=start_s, value=here), CurvePoint(time_s=end_s, value=0.0))
    return curve.model_copy(update={"points": kept + fade, "loop": None})
