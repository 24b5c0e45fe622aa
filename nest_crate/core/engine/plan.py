"""From a sound and a hit to a plan: the stages, and how many frames they fill."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from nest_crate.core.engine.ends import planned_frames, sounding_layers
from nest_crate.core.engine.mixer import HitPlanner, hit_planner
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.settled_values import differs_by_note, settled, settled_for_note
from nest_crate.core.engine.stages import Stage
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.chains import chain_ids

__all__ = ["Plan", "make_plan"]


@dataclass(frozen=True)
class Plan:
    """Stages in the order of the sound: each layer's source, its level, the layer itself,
    ``taps`` and ``movers`` by id, ``output`` last.

    ``ends_by_itself`` is False where a layer never ends. ``sound`` is the one that is
    rendered: what is moved once a hit stands at its value.
    """

    sound: Sound
    output: Stage
    sources: dict[str, Stage]
    levels: dict[str, Stage]
    layers: dict[str, Stage]
    taps: dict[str, Stage]
    movers: dict[str, Stage]
    frames: int
    ends_by_itself: bool
    peaks: dict[str, list[Stage]]
    """Stages whose loudest peak is the level at a tap, by its id."""
    must_end: list[Stage]
    """Stages that must have fallen silent by their end for the output to be whole."""
    cut_notes: list[Stage]
    """Layers' notes that are cut off by their own planned length, and must be silent there."""


def make_plan(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    *,
    listen_at: str | None = None,
    longer: int = 0,
) -> Plan:
    """The stages from sources to the main output.

    Parameters
    ----------
    listen_at
        id of a layer, processor or bus, or ``main`` for the end of the main chain: its output is
        the plan's then, as it is, whether it is muted or not.
    longer
        how often the planned length is doubled, for what turned out to sound on.

    Raises
    ------
    DocumentError
        where there is nothing to listen at.
    """
    drawn, sound = sound, settled(sound, hit, settings)
    audible = _audible(sound, listen_at)
    frames, ends_by_itself = planned_frames(audible, hit, settings, longer=longer)
    heard = frozenset(layer.id for layer in sounding_layers(sound))
    of_note = partial(settled_for_note, drawn, hit, settings) if differs_by_note(drawn) else None
    planner = hit_planner(sound, hit, settings, frames, longer=longer, heard=heard, of_note=of_note)
    layers = {layer.id: planner.layer(layer.id) for layer in sound.layers if layer.id in heard}
    output = planner.mix()
    if listen_at is not None:
        output = _tap(planner, listen_at)
    return Plan(
        sound,
        output,
        {key: made for key, made in planner.sources.items() if key in heard},
        {key: made for key, made in planner.levels.items() if key in heard},
        layers,
        planner.taps,
        {mover.id: planner.mover(mover.id) for mover in sound.movers},
        frames,
        ends_by_itself,
        {key: planner.levels_of(key) for key in planner.taps},
        planner.all_must_end(),
        planner.cut_notes(),
    )


def _audible(sound: Sound, listen_at: str | None) -> Sound:
    """The sound with a layer that is listened at unmuted, so that its length is planned."""
    if listen_at is None:
        return sound
    layers = tuple(
        layer.model_copy(update={"mute": False, "solo": True})
        if listen_at in (layer.id, *chain_ids(layer.chain))
        else layer
        for layer in sound.layers
    )
    return sound.model_copy(update={"layers": layers})


def _tap(planner: HitPlanner, listen_at: str) -> Stage:
    for layer in planner.sound.layers:
        if listen_at in (layer.id, *chain_ids(layer.chain)):
            planner.layer(layer.id)
    found = planner.taps.get(listen_at)
    if found is None:
        message = f"there is no step {listen_at!r} to listen at"
        raise DocumentError([FieldProblem("listen_at", message, "unknown")])
    return found
