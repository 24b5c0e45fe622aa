"""What can be moved: every target of a sound with its declaration, and what links may not do."""

from __future__ import annotations

from typing import TYPE_CHECKING

from pydantic import BaseModel

from nest_crate.core.sound.movers import MAX_MACROS
from nest_crate.core.sound.parameters import Parameter, declared_parameters

if TYPE_CHECKING:
    from nest_crate.core.sound.document import Layer, Sound

__all__ = ["MOVABLE", "PITCH", "moved_unit", "require_sound_links", "targets_of"]

# Added to a tone's pitch, beside its curve; no field of the document, for 0 is its only base.
PITCH = Parameter(
    name="pitch_st",
    label="Pitch",
    unit="st",
    minimum=-120.0,
    maximum=120.0,
    default=0.0,
    scale="linear",
    step=1.0,
    whole=False,
    help="Added to the pitch of the layer.",
)

# What of each part a link may move, by the part's kind.
MOVABLE: dict[str, dict[str, tuple[str, ...]]] = {
    "layer": {"": ("level_db", "pan")},
    "modulation": {"": ("amount",)},
    "source": {"tone": ("shape",), "noise": ()},
    "processor": {
        "filter": ("cutoff_hz", "resonance", "mix", "level_db"),
        "drive": ("drive_db", "mix", "level_db"),
        "comb": ("frequency_hz", "mix", "level_db"),
    },
    "mover": {"lfo": ("rate_hz",), "steps": ("rate_hz",)},
}


def moved_unit(parameter: Parameter) -> str:
    """The unit in which a parameter is moved: frequencies in octaves, all else in its own."""
    return "octave" if parameter.unit == "Hz" else parameter.unit


def _numbers(part: BaseModel, names: tuple[str, ...] | None = None) -> dict[str, Parameter]:
    return {
        parameter.name: parameter
        for parameter in declared_parameters(type(part))
        if names is None or parameter.name in names
    }


def _layer_targets(layer: Layer) -> dict[str, Parameter]:
    found = {
        f"{layer.id}.{name}": one for name, one in _numbers(layer, MOVABLE["layer"][""]).items()
    }
    if layer.source.kind == "tone":
        found[f"{layer.id}.pitch_st"] = PITCH
        for name, one in _numbers(layer.source, MOVABLE["source"]["tone"]).items():
            found[f"{layer.id}.source.{name}"] = one
    for name, one in _numbers(layer.modulation, MOVABLE["modulation"][""]).items():
        found[f"{layer.id}.modulation.{name}"] = one
    return found


def targets_of(sound: Sound) -> dict[str, Parameter]:
    """Every target that a link of the sound may name."""
    found = {f"main.{name}": one for name, one in _numbers(sound.main).items()}
    for layer in sound.layers:
        found |= _layer_targets(layer)
    for part in (*sound.main.chain, *(part for layer in sound.layers for part in layer.chain)):
        names = MOVABLE["processor"][part.kind]
        found |= {f"{part.id}.{name}": one for name, one in _numbers(part, names).items()}
    for mover in sound.movers:
        names = MOVABLE["mover"].get(mover.kind, ())
        found |= {f"{mover.id}.{name}": one for name, one in _numbers(mover, names).items()}
    return found


def require_sound_links(sound: Sound) -> None:
    """Every link has a mover, a target and, where it is scaled, a scaling mover; none goes round.

    Raises
    ------
    ValueError
        naming the link and what to change.
    """
    if sum(mover.kind == "macro" for mover in sound.movers) > MAX_MACROS:
        raise ValueError(f"a sound has at most {MAX_MACROS} macros")
    movers = {mover.id for mover in sound.movers}
    targets = targets_of(sound) if sound.links else {}
    seen = set()
    for index, link in enumerate(sound.links):
        for identifier in (link.mover, link.scaled_by):
            if identifier is not None and identifier not in movers:
                raise ValueError(f"links.{index}: there is no mover {identifier!r}")
        if link.target not in targets:
            raise ValueError(f"links.{index}: there is nothing to move at {link.target!r}")
        if (link.mover, link.target) in seen:
            raise ValueError(f"links.{index}: {link.mover!r} moves {link.target!r} already")
        seen.add((link.mover, link.target))
    layers = {layer.id for layer in sound.layers}
    for layer in sound.layers:
        if layer.modulation.by is not None and layer.modulation.by not in layers:
            raise ValueError(
                f"{layer.id}: there is no layer {layer.modulation.by!r} to modulate it"
            )
    for mover in sound.movers:
        if mover.kind == "follower" and mover.layer not in layers:
            raise ValueError(f"{mover.id}: there is no layer {mover.layer!r} to follow")
    _require_no_loop(sound)


def _require_no_loop(sound: Sound) -> None:
    """What each part waits for: movers for what moves them, layers too, followers for layers."""
    owners = {layer.id: layer.id for layer in sound.layers}
    owners |= {part.id: layer.id for layer in sound.layers for part in layer.chain}
    needs: dict[str, set[str]] = {}
    for link in sound.links:
        part = link.target.split(".", 1)[0]
        wanted = needs.setdefault(owners.get(part, part), set())
        wanted |= {link.mover} | ({link.scaled_by} if link.scaled_by else set())
    for mover in sound.movers:
        if mover.kind == "follower":
            needs.setdefault(mover.id, set()).add(mover.layer)
    for layer in sound.layers:
        if layer.modulation.by is not None:
            needs.setdefault(layer.id, set()).add(layer.modulation.by)
    done: set[str] = set()

    def visit(part: str, way: tuple[str, ...]) -> None:
        if part in way:
            circle = " waits for ".join((*way[way.index(part) :], part))
            raise ValueError(f"links go round: {circle}")
        if part in done:
            return
        for other in sorted(needs.get(part, ())):
            visit(other, (*way, part))
        done.add(part)

    for part in sorted(needs):
        visit(part, ())
