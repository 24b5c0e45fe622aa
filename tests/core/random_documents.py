"""Whole sounds made at random from everything that is declared: any kind, any number in range."""

from __future__ import annotations

import random
from typing import Any

from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.sound.kinds import (
    MOVER_KINDS,
    PROCESSOR_KINDS,
    SOURCE_KINDS,
    choices_of,
    declarations,
)
from nest_crate.core.sound.parameters import declared_parameters
from nest_crate.core.sound.targets import differs_by_voice, moved_unit, targets_of

# Times are kept short, so that hundreds of sounds can be rendered.
_LONGEST_S = 0.12
# Samples refer to it; a render must have one.
RECORDING = "a" * 64


def _numbers(dice: random.Random, model: Any) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for one in declared_parameters(model):
        high = min(one.maximum, _LONGEST_S) if one.unit == "s" else one.maximum
        pick = dice.choice(["low", "high", "default", "any", "any", "any"])
        value = {
            "low": one.minimum,
            "high": high,
            "default": min(one.default, high),
            "any": dice.uniform(one.minimum, high),
        }[pick]
        found[one.name] = round(value) if one.whole else value
    for choice in choices_of(model):
        if choice["type"] == "choice":
            found[choice["name"]] = dice.choice(choice["values"])
        elif choice["name"] not in ("mute", "solo"):
            found[choice["name"]] = dice.random() < 0.5
    return found


def _curve(dice: random.Random, low: float, high: float, ends: bool) -> dict[str, Any]:
    count = dice.randint(1, 5)
    times = [0.0, *sorted(dice.uniform(0.0, _LONGEST_S) for _ in range(count))]
    points = [
        {"time_s": t, "value": dice.uniform(low, high), "bend": dice.uniform(-10, 10)}
        for t in times
    ]
    release = [{"time_s": dice.uniform(0.0, _LONGEST_S), "value": 0.0}]
    return {"points": points, "release": release if ends else []}


def _kind(dice: random.Random, kinds: dict[str, Any], identifier: str) -> dict[str, Any]:
    kind = dice.choice(sorted(kinds))
    inner = {
        name: _numbers(dice, info.annotation)
        for name, info in kinds[kind].model_fields.items()
        if isinstance(info.annotation, type) and hasattr(info.annotation, "model_fields")
    }
    inner = {name: numbers for name, numbers in inner.items() if numbers}
    return {"id": identifier, "kind": kind, **_numbers(dice, kinds[kind]), **inner}


def _chain(dice: random.Random, owner: str) -> list[dict[str, Any]]:
    chain = [_kind(dice, PROCESSOR_KINDS, f"{owner}-{n}") for n in range(dice.choice([0, 0, 1, 2]))]
    for part in chain:
        _shorten(dice, part)
    return chain


def _shorten(dice: random.Random, part: dict[str, Any]) -> None:
    """Mostly no long ring: a low resonance or a comb near 100 % sounds on for half a minute."""
    if dice.random() < 0.02:
        return
    for inner in part.values():
        if isinstance(inner, dict):
            _shorten(dice, inner)
    for name, longest in (("time_s", 0.03), ("beats", 0.1), ("delay_s", 0.02), ("amount", 0.3)):
        if name in part:
            part[name] = min(longest, part[name])
    for name, lowest in (
        ("cutoff_hz", 200.0),
        ("frequency_hz", 100.0),
        ("first_hz", 200.0),
        ("centre_hz", 400.0),
        ("split_hz", 200.0),
        ("rate_hz", 0.5),
    ):
        if name in part:
            part[name] = max(lowest, part[name])
    if "feedback" in part:
        part["feedback"] = max(0.0 if part["kind"] == "pitch_delay" else -0.6, part["feedback"])
        part["feedback"] = min(0.6, part["feedback"])
    for name in ("resonance", "sharpness"):
        if name in part:
            part[name] = min(10.0, part[name])


def _layer(dice: random.Random, index: int, buses: list[str]) -> dict[str, Any]:
    kind = dice.choice(sorted(SOURCE_KINDS))
    source = {"kind": kind, **_numbers(dice, SOURCE_KINDS[kind])}
    if kind == "sample":
        source["recording"] = RECORDING
    own = declarations()["layer"]["parameters"]
    numbers = {p["name"]: dice.uniform(p["minimum"], p["maximum"]) for p in own}
    by = f"l{dice.randrange(index)}" if index and dice.random() < 0.6 else None
    ways = ["phase", "frequency", "ring", "amplitude", "sync"]
    return {
        "id": f"l{index}",
        "name": f"Layer {index}",
        **numbers,
        "delay_s": dice.uniform(0.0, _LONGEST_S),
        "source": source,
        "modulation": {"by": by, "way": dice.choice(ways), "amount": dice.uniform(0, 4)},
        "level": _curve(dice, 0.0, 1.0, True),
        "pitch": _curve(dice, -60.0, 60.0, False),
        "chain": _chain(dice, f"l{index}"),
        "to": dice.choice(["main", "output", *buses]),
    }


def _bus(dice: random.Random, index: int) -> dict[str, Any]:
    levels = {name: dice.uniform(-72, 12) for name in ("low_db", "high_db", "level_db")}
    return {
        "id": f"bus{index}",
        "name": f"Bus {index}",
        "to": dice.choice(["main", "output", *(f"bus{n}" for n in range(index))]),
        "split": dice.random() < 0.5,
        "crossover_hz": dice.uniform(20, 8000),
        "chain": _chain(dice, f"bus{index}-high"),
        "low_chain": _chain(dice, f"bus{index}-low"),
        **levels,
    }


def _links(dice: random.Random, sound: Sound) -> list[dict[str, Any]]:
    """Links that cannot go round: a mover may move only movers after it."""
    movers = [mover.id for mover in sound.movers]
    layers = {layer.id for layer in sound.layers}
    followers = {mover.id for mover in sound.movers if mover.kind == "follower"}
    found: dict[tuple[str, str], dict[str, Any]] = {}
    targets = targets_of(sound)
    names = sorted(targets)
    for _ in range(dice.randint(0, 12) if movers else 0):
        index = dice.randrange(len(movers))
        target = dice.choice(names)
        part = target.split(".")[0]
        if part in movers and movers.index(part) <= index:
            continue
        # What a follower moves may not be in any layer, lest a layer wait for itself.
        in_layer = part.split("-")[0] in layers
        by_voice = sound.movers[index].kind == "voice"
        if by_voice and not differs_by_voice(sound, target):
            continue
        if in_layer and (followers & {movers[index]} or part in followers):
            continue
        if part in movers and followers:
            continue
        # Loops that may be moved to their ends are planned to ring for half a minute.
        if (
            target.endswith(("feedback", "amount", "depth_oct", "centre_hz"))
            and dice.random() < 0.9
        ):
            continue
        parameter = targets[target]
        span = 12.0 if moved_unit(parameter) == "octave" else parameter.maximum - parameter.minimum
        found[(movers[index], target)] = {
            "mover": movers[index],
            "target": target,
            "amount": max(-240.0, min(240.0, dice.uniform(-span, span))),
            "bend": dice.uniform(-10, 10),
        }
    return list(found.values())


def random_document(seed: int) -> dict[str, Any]:
    """A valid document, the same for the same seed."""
    dice = random.Random(seed)
    buses = [_bus(dice, n) for n in range(dice.choice([0, 0, 1, 2]))]
    layers = [
        _layer(dice, n, [bus["id"] for bus in buses]) for n in range(dice.choice([1, 1, 2, 3]))
    ]
    movers = []
    for n in range(dice.randint(0, 4)):
        mover = {**_kind(dice, MOVER_KINDS, f"m{n}"), "name": f"Mover {n}"}
        if mover["kind"] == "follower" and dice.random() < 0.5:
            mover["layer"] = dice.choice(layers)["id"]
        if mover["kind"] in ("curve", "lfo"):
            mover["curve" if mover["kind"] == "curve" else "drawn"] = _curve(dice, -1, 1, False)
        movers.append(mover)
    data: dict[str, Any] = {
        "name": f"Random {seed}",
        "seed": seed,
        "tempo_bpm": dice.uniform(60, 400),
        "pitch": _curve(dice, -24.0, 24.0, False),
        "layers": layers,
        "buses": buses,
        "main": {"chain": _chain(dice, "main"), "level_db": dice.uniform(-20, 6)},
        "movers": movers,
        "playing": {
            "way": dice.choice(["poly", "mono", "legato"]),
            "glide_s": dice.uniform(0.0, _LONGEST_S),
        },
        "hit": {
            "note": dice.randint(0, 127),
            "velocity": dice.randint(1, 127),
            "hold_s": dice.uniform(0.0, _LONGEST_S),
            "number": dice.randint(1, 1_000_000),
            "further": [
                {"note": dice.randint(0, 127), "at_s": dice.uniform(0.0, _LONGEST_S)}
                for _ in range(dice.choice([0, 0, 1, 2]))
            ],
        },
    }
    if dice.random() < 0.3:
        data["pattern"] = {
            "order": dice.choice(["repeat", "up", "down", "up_down"]),
            "notes": dice.randint(1, 4),
            "sync": False,
            "every_s": dice.uniform(0.005, 0.1),
            "gate": dice.uniform(0.02, 4.0),
            "fade_db": dice.uniform(-48, 48),
        }
    plain = load_sound(data)
    return {**data, "links": _links(dice, plain)}
