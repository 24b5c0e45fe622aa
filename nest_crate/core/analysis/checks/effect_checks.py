"""Remarks on effects: stereo in the low end, resonances, tails, lost hits, idle processors."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from nest_crate.core.analysis.checks.remarks import Edit, Fix, Remark
from nest_crate.core.analysis.checks.tail import check_tail
from nest_crate.core.analysis.measures.figures import Measures
from nest_crate.core.analysis.measures.spectra import Resonance, standing_out
from nest_crate.core.engine.settings import Rendering
from nest_crate.core.sound import Sound
from nest_crate.core.sound.chains import ChainPlace, chain_places
from nest_crate.core.sound.names import processor_name
from nest_crate.core.sound.processors import (
    MAX_PROCESSORS,
    CeilingProcessor,
    EqualiserProcessor,
    FadeProcessor,
    Processor,
    WidthProcessor,
)
from nest_crate.core.sound.processors.equaliser import EQUALISER_BANDS, EqualiserBand
from nest_crate.core.sound.sources import PitchedSource

__all__ = ["appended", "check_effects", "free_id"]

# A sum of both sides may lose this share of the low end before it is said.
_MONO_LOSS_DB = -1.0
# Low ends softer than this, re all, are not what the sound is about.
_LOW_MATTERS_DB = -20.0
_MONO_BELOW_HZ = 120.0
# Narrow, and no deeper than what is heard as a cut.
_CUT_SHARPNESS, _DEEPEST_CUT_DB = 8.0, 12.0
_LOST_HIT_DB = 6.0
_OVER_DB = 0.1


def check_effects(sound: Sound, rendering: Rendering, measures: Measures) -> list[Remark]:
    """What effects do to a hit that its maker may not want, each with a fix."""
    found = [
        _stereo_low(sound, measures),
        _resonance(sound, rendering),
        check_tail(sound, rendering),
        _too_long(sound, rendering),
        _lost_hit(sound, rendering),
        _over_ceiling(sound, measures),
        *_idle(sound, rendering),
    ]
    return [remark for remark in found if remark is not None]


def free_id(sound: Sound, stem: str) -> str:
    """An id that no part of the sound has yet."""
    used = {part.id for place in chain_places(sound) for part in place.chain}
    used |= {part.id for parts in (sound.layers, sound.buses, sound.movers) for part in parts}
    return next(f"{stem}-{n}" for n in range(1, 999) if f"{stem}-{n}" not in used)


def appended(sound: Sound, label: str, part: Processor, *, first: bool = False) -> list[Fix]:
    """A fix: a processor more at the end of the main chain, before a ceiling that ends it."""
    chain = list(sound.main.chain)
    if len(chain) >= MAX_PROCESSORS:
        return []
    at = len(chain) - 1 if chain and chain[-1].kind == "ceiling" else len(chain)
    chain.insert(0 if first else at, part)
    edit = Edit("main.chain", [one.model_dump(mode="json") for one in chain])
    return [Fix(label, [edit])]


def _stereo_low(sound: Sound, measures: Measures) -> Remark | None:
    stereo = measures.stereo
    if stereo.mono_loss_db > _MONO_LOSS_DB or stereo.low_share_db < _LOW_MATTERS_DB:
        return None
    for n, part in enumerate(sound.main.chain):
        if part.kind == "width" and part.on and part.mix == 1.0:
            fixes = [Fix("Mono below", [Edit(f"main.chain.{n}.mono_below_hz", _MONO_BELOW_HZ)])]
            break
    else:
        width = WidthProcessor(id=free_id(sound, "width"), mono_below_hz=_MONO_BELOW_HZ)
        fixes = appended(sound, "Mono below", width)
    text = f"Stereo below 120 Hz: mono loses {-stereo.mono_loss_db:.1f} dB of the low end"
    return Remark("stereo_low", "warn", text, fixes=fixes)


def _resonance(sound: Sound, rendering: Rendering) -> Remark | None:
    tonal = any(
        isinstance(layer.source, PitchedSource)
        for layer in sound.layers
        if layer.id in rendering.layers
    )
    audio = rendering.audio
    found = standing_out(audio.samples, audio.sample_rate, tonal=tonal)
    if found is None:
        return None
    text = f"A resonance at {found.hz:.0f} Hz stands {found.over_db:.0f} dB over what is around"
    return Remark("resonance", "warn", text, fixes=_cut(sound, found))


def _cut(sound: Sound, found: Resonance) -> list[Fix]:
    """A narrow band against a resonance: in the last equaliser of main that has one to spare."""
    gain_db = -round(min(_DEEPEST_CUT_DB, found.over_db - 3.0), 1)
    band = EqualiserBand(frequency_hz=round(found.hz, 1), gain_db=gain_db, sharpness=_CUT_SHARPNESS)
    for n, part in reversed(list(enumerate(sound.main.chain))):
        if isinstance(part, EqualiserProcessor) and part.on:
            spare = next(
                (
                    name
                    for name in EQUALISER_BANDS
                    if part.bands[name].response == "peak" and part.bands[name].gain_db == 0.0
                ),
                None,
            )
            if spare is not None:
                edit = Edit(f"main.chain.{n}.{spare}", band.model_dump(mode="json"))
                return [Fix("Cut", [edit])]
    equaliser = EqualiserProcessor(id=free_id(sound, "equaliser"), band_4=band)
    return appended(sound, "Cut", equaliser)


def _too_long(sound: Sound, rendering: Rendering) -> Remark | None:
    asked_s, length_s = sound.main.end_by_s, rendering.audio.length_s
    # Renders end 50 ms after the last that is heard.
    over_s = length_s - 0.05 - asked_s
    if asked_s <= 0.0 or over_s < 0.01:
        return None
    text = f"Lasts {1e3 * over_s:.0f} ms longer than the {asked_s:g} s asked for"
    fade = FadeProcessor(
        id=free_id(sound, "fade"), end_s=max(0.005, asked_s), out_s=max(0.002, 0.3 * asked_s)
    )
    fixes = appended(sound, "Fade", fade)
    return Remark("long_tail", "warn", text, at_s=asked_s, fixes=fixes)


_TAMING = {"ceiling": "gain_db", "drive": "drive_db", "compressor": "threshold_db"}


def _lost_hit(sound: Sound, rendering: Rendering) -> Remark | None:
    """The step of main that takes most of the hit's own level away from it."""
    worst: tuple[float, int, Any] | None = None
    for n, part in enumerate(sound.main.chain):
        if part.kind not in _TAMING or part.id not in rendering.taps:
            continue
        reading = rendering.taps[part.id]
        before, after = reading.hit_before_db, reading.hit_after_db
        if before is None or after is None:
            continue
        if before - after > max(_LOST_HIT_DB, worst[0] if worst else 0.0):
            worst = (before - after, n, part)
    if worst is None:
        return None
    lost_db, n, part = worst
    name = _TAMING[part.kind]
    step_db = round(0.5 * lost_db, 1)
    value = getattr(part, name)
    lower = min(0.0, value + step_db) if part.kind == "compressor" else max(0.0, value - step_db)
    fixes = [Fix("Less gain", [Edit(f"main.chain.{n}.{name}", lower)])] if lower != value else []
    if part.kind == "compressor" and part.attack_s < 0.02:
        fixes.append(Fix("Slower attack", [Edit(f"main.chain.{n}.attack_s", 0.03)]))
    called = processor_name(part.kind).lower()
    text = f"Main {called} lowers the attack by {lost_db:.0f} dB relative to what follows it"
    return Remark("lost_hit", "warn", text, fixes=fixes)


def _over_ceiling(sound: Sound, measures: Measures) -> Remark | None:
    """A ceiling is passed by what stands behind it."""
    chain = sound.main.chain
    at = next(
        (
            n
            for n, part in reversed(list(enumerate(chain)))
            if isinstance(part, CeilingProcessor) and part.on and part.mix == 1.0
        ),
        None,
    )
    if at is None:
        return None
    part = chain[at]
    assert isinstance(part, CeilingProcessor)
    over_db = measures.true_peak_db - part.ceiling_db
    if over_db <= _OVER_DB:
        return None
    behind = [one for one in chain[at + 1 :] if one.on]
    if behind:
        ordered = [*chain[:at], *chain[at + 1 :], part]
        edit = Edit("main.chain", [one.model_dump(mode="json") for one in ordered])
        fix = Fix("Limiter last", [edit])
    elif part.level_db > 0.0:
        fix = Fix("Its level 0 dB", [Edit(f"main.chain.{at}.level_db", 0.0)])
    else:
        level_db = round(sound.main.level_db - over_db, 1)
        fix = Fix("Lower main", [Edit("main.level_db", max(-72.0, level_db))])
    text = f"True peak {over_db:.1f} dB over the limiter's ceiling of {part.ceiling_db:g} dB"
    return Remark("over_ceiling", "warn", text, fixes=[fix])


def _idle(sound: Sound, rendering: Rendering) -> Iterator[Remark]:
    """Processors that are on and leave what comes in as it is."""
    layers = {layer.id for layer in sound.layers}
    for place in chain_places(sound):
        for n, part in enumerate(place.chain):
            if _is_guard(part):
                continue
            if part.on and part.id in rendering.taps and rendering.taps[part.id].unchanged:
                yield _idle_remark(place, n, part, place.owner if place.owner in layers else None)


def _is_guard(part: Processor) -> bool:
    """What is there for the case that something else changes: low end kept in the middle."""
    return part.kind == "width" and part.mono_below_hz > 0.0 and part.width == 1.0


def _idle_remark(place: ChainPlace, n: int, part: Processor, layer: str | None) -> Remark:
    owner = "" if layer else f"{place.name} "
    fix = Fix("Switch off", [Edit(f"{place.path}.{n}.on", False)])
    name = processor_name(part.kind)
    name = name.lower() if owner else name
    return Remark(
        "idle_processor", "warn", f"{owner}{name} has no effect", layer=layer, fixes=[fix]
    )
