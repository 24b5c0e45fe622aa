"""Why is it silent? A walk from source to output that names the first silent step."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from nest_crate.core.analysis.checks.remarks import Edit, Fix
from nest_crate.core.dsp.util.signals import peak
from nest_crate.core.engine import RenderSettings, StageMemory
from nest_crate.core.engine.plan import Plan, make_plan
from nest_crate.core.engine.stages import Stage, StageRunner
from nest_crate.core.sound import Bus, Hit, Layer, Processor, Sound
from nest_crate.core.sound.names import processor_name
from nest_crate.core.units import SILENCE_DB, gain_to_db

__all__ = ["AUDIBLE_DB", "ProbeStep", "probe_silence"]

# Below this peak a step is as good as silent.
AUDIBLE_DB = -80.0


@dataclass(frozen=True)
class ProbeStep:
    """One step of the walk: ``level_db`` None where it is not rendered; ``reason`` where it is
    the first silent one of its way."""

    where: str
    layer: str | None
    level_db: float | None
    silent: bool
    reason: str = ""
    fixes: tuple[Fix, ...] = ()


def probe_silence(
    sound: Sound, hit: Hit, settings: RenderSettings, *, memory: StageMemory | None = None
) -> list[ProbeStep]:
    """Every step of every layer's way and of the main chain, with its level."""
    plan = make_plan(sound, hit, settings)
    runner = StageRunner(memory)

    def level_db(stage: Stage) -> float:
        return gain_to_db(peak(runner.result(stage)))

    walk: list[ProbeStep] = []
    if not sound.layers:
        walk.append(ProbeStep("Sound", None, None, True, "The sound has no layer: add one"))
        return walk
    for index, layer in enumerate(sound.layers):
        walk += _layer_steps(sound, layer, index, plan, level_db)
    for n, bus in enumerate(sound.buses):
        walk += _bus_steps(sound, n, bus, plan, level_db)
    reaching = {to: _loudest_to(sound, to, plan, level_db) for to in ("main", "output")}
    heard = reaching["main"] > AUDIBLE_DB
    walk += _chain_steps("Main", None, sound.main.chain, "main.chain", plan, level_db, heard)
    out_db = level_db(plan.output)
    before_db = max(level_db(plan.taps["main"]), reaching["output"])
    silenced = out_db <= AUDIBLE_DB and before_db > AUDIBLE_DB
    reason = f"Main level is {sound.main.level_db:g} dB" if silenced else ""
    fixes = (Fix("Level 0 dB", [Edit("main.level_db", 0.0)]),) if silenced else ()
    walk.append(ProbeStep("Output", None, out_db, out_db <= AUDIBLE_DB, reason, fixes))
    return walk


def _loudest_to(sound: Sound, to: str, plan: Plan, level_db: Any) -> float:
    """Level of the loudest layer, bus or send that goes straight to a bus, main or the output."""
    loud = [
        level_db(plan.layers[one.id])
        for one in sound.layers
        if one.id in plan.layers and one.to == to
    ]
    loud += [level_db(plan.taps[one.id]) for one in sound.buses if one.to == to and not one.mute]
    loud += [
        level_db(plan.taps[one.id]) for one in sound.sends if one.to == to and one.id in plan.taps
    ]
    return max(loud, default=SILENCE_DB)


def _layer_steps(
    sound: Sound, layer: Layer, index: int, plan: Plan, level_db: Any
) -> Iterator[ProbeStep]:
    path = f"layers.{index}"
    if layer.id not in plan.sources:
        if layer.mute:
            fix = Fix("Unmute", [Edit(f"{path}.mute", False)])
            reason = "The layer is muted"
        else:
            solos = [n for n, other in enumerate(sound.layers) if other.solo]
            fix = Fix("End solo", [Edit(f"layers.{n}.solo", False) for n in solos])
            reason = "Another layer is solo"
        yield ProbeStep(f"{layer.name}: bypassed", layer.id, None, True, reason, (fix,))
        return
    source_db = level_db(plan.sources[layer.id])
    silent = source_db <= AUDIBLE_DB
    reason, fixes = _silent_source(layer, path) if silent else ("", ())
    yield ProbeStep(f"{layer.name}: source", layer.id, source_db, silent, reason, fixes)
    shaped_db = level_db(plan.levels[layer.id])
    first = shaped_db <= AUDIBLE_DB and not silent
    silent = shaped_db <= AUDIBLE_DB
    reason, fixes = _silent_level(layer, path) if first else ("", ())
    yield ProbeStep(f"{layer.name}: level", layer.id, shaped_db, silent, reason, fixes)
    yield from _chain_steps(
        layer.name, layer.id, layer.chain, f"{path}.chain", plan, level_db, not silent
    )


def _silent_source(layer: Layer, path: str) -> tuple[str, tuple[Fix, ...]]:
    source = layer.source
    if source.kind == "tone" and source.cycle == "partials":
        fix = Fix("First partial", [Edit(f"{path}.source.partials.amplitudes", [1.0])])
        return "It has no partials left", (fix,)
    if layer.source.kind == "noise":
        return "No crackle falls within the rendered time", ()
    return "Its pitch leaves no audible partial", ()


def _silent_level(layer: Layer, path: str) -> tuple[str, tuple[Fix, ...]]:
    points = (*layer.level.points, *layer.level.release)
    if all(point.value <= 0.0 for point in points):
        curve = {"points": [{"time_s": 0.0, "value": 0.0}, {"time_s": 0.002, "value": 1.0}]}
        release = [{"time_s": 0.06, "value": 0.0, "bend": 3.0}]
        fix = Fix("Default level curve", [Edit(f"{path}.level", {**curve, "release": release})])
        return "The level curve never leaves 0", (fix,)
    if layer.level_db <= -60.0:
        return f"The layer's level is {layer.level_db:g} dB", (
            Fix("Level 0 dB", [Edit(f"{path}.level_db", 0.0)]),
        )
    if layer.level.release and max(p.value for p in layer.level.points) > 0.0:
        highest = max(layer.level.points, key=lambda point: point.value)
        hold_s = layer.delay_s + highest.time_s
        return (
            "The hold ends before the level curve rises: hold longer, or shorten the attack",
            (Fix(f"Hold {hold_s:g} s", [Edit("hit.hold_s", min(60.0, hold_s))]),),
        )
    return "Level, velocity and pan together leave it silent", ()


def _bus_steps(
    sound: Sound, index: int, bus: Bus, plan: Plan, level_db: Any
) -> Iterator[ProbeStep]:
    """A bus's chains and its output, where any layer that is heard goes to it."""
    heard = _loudest_to(sound, bus.id, plan, level_db) > AUDIBLE_DB
    for name in ("low_chain", "chain") if bus.split else ("chain",):
        chain, path = getattr(bus, name), f"buses.{index}.{name}"
        yield from _chain_steps(bus.name, None, chain, path, plan, level_db, heard)
    bus_db = level_db(plan.taps[bus.id])
    silent = bus.mute or bus_db <= AUDIBLE_DB
    reason: str = ""
    fixes: tuple[Fix, ...] = ()
    if bus.mute and heard:
        reason, fixes = "The bus is muted", (Fix("Unmute", [Edit(f"buses.{index}.mute", False)]),)
    elif silent and heard and bus.level_db <= -60.0:
        reason = f"The bus's level is {bus.level_db:g} dB"
        fixes = (Fix("Level 0 dB", [Edit(f"buses.{index}.level_db", 0.0)]),)
    yield ProbeStep(f"{bus.name}: bus", None, bus_db, silent, reason, fixes)


def _chain_steps(
    owner: str,
    layer: str | None,
    chain: tuple[Processor, ...],
    path: str,
    plan: Plan,
    level_db: Any,
    heard: bool,
) -> Iterator[ProbeStep]:
    for index, part in enumerate(chain):
        if not part.on:
            continue
        part_db = level_db(plan.taps[part.id])
        silent = part_db <= AUDIBLE_DB
        first = silent and heard
        name = processor_name(part.kind)
        reason = f"The {name.lower()} outputs nothing" if first else ""
        fixes = (Fix("Switch off", [Edit(f"{path}.{index}.on", False)]),) if first else ()
        yield ProbeStep(f"{owner}: {name}", layer, part_db, silent, reason, fixes)
        heard = not silent
