"""What a part contributes: how much is changed where it is muted, switched off or taken away."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.fft import rfft

from nest_crate.core.analysis.remarks import Edit, Mend
from nest_crate.core.dsp.loudness import integrated_loudness_lufs
from nest_crate.core.dsp.signals import Signal, sum_signals
from nest_crate.core.engine import Audio, RenderSettings, StageMemory, render
from nest_crate.core.engine.ends import sounding_layers
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.chains import chain_places

__all__ = ["Contribution", "Difference", "contributions_db", "difference", "list_contributions"]

_FRAME = 512
_BANDS = np.array([0, 2, 4, 8, 16, 32, 64, 128, 257])
# Where the whole is quieter than this, nothing is judged.
_QUIET_DB = -70.0
_MASKED_DB = 40.0


def contributions_db(layers: dict[str, Signal]) -> dict[str, float]:
    """By how much each layer changes the level of the sum, at the most, in dB.

    Compared in frames of 512 samples and about octave-wide bands, the sum with and without the
    layer: a quiet tick over a loud low tone counts by its own band.
    """
    if not layers:
        return {}
    frames = next(iter(layers.values())).shape[1]
    total = sum_signals(list(layers.values()), frames)
    with_all = _band_levels(total)
    return {
        key: _largest_change(with_all, _band_levels(total - signal))
        for key, signal in layers.items()
    }


@dataclass(frozen=True)
class Difference:
    """``change_db`` is the largest change in any frame and band, ``loudness_db`` of the whole."""

    change_db: float
    loudness_db: float


@dataclass(frozen=True)
class Contribution:
    """What one part does to the sound: the difference where it is gone, and how to remove it."""

    kind: str
    id: str
    name: str
    owner: str
    difference: Difference
    mend: Mend


def difference(first: Audio, second: Audio) -> Difference:
    """How far two renders differ; the loudness is the first's above the second's."""
    frames = max(first.samples.shape[1], second.samples.shape[1])
    levels = [_smooth_band_levels(_padded(one.samples, frames)) for one in (first, second)]
    loudness = [integrated_loudness_lufs(one.samples, one.sample_rate) for one in (first, second)]
    # What is far below the loudest is masked by it, and not what a part is there for.
    floor_db = max(_QUIET_DB, max(float(one.max()) for one in levels) - _MASKED_DB)
    change_db = _largest_change(levels[0], levels[1], floor_db)
    return Difference(change_db, loudness[0] - loudness[1])


def list_contributions(
    sound: Sound, hit: Hit, settings: RenderSettings, *, memory: StageMemory | None = None
) -> list[Contribution]:
    """Every layer that is heard, every processor that is on, and every link, each taken away once.

    Only what comes after the part is rendered anew where ``memory`` holds the rest.
    """
    whole = render(sound, hit, settings, memory=memory)
    found = []
    for kind, identifier, name, owner, without, mend in _each_taken_away(sound):
        other = render(without, hit, settings, memory=memory)
        found.append(Contribution(kind, identifier, name, owner, difference(whole, other), mend))
    return found


def _each_taken_away(sound: Sound) -> Iterator[tuple[str, str, str, str, Sound, Mend]]:
    """Kind, id, name and owner of each part, the sound without it, and the edit that removes it."""
    heard = {layer.id for layer in sounding_layers(sound)}
    for n, layer in enumerate(sound.layers):
        if layer.id in heard:
            edit = Edit(f"layers.{n}.mute", True)
            yield "layer", layer.id, layer.name, "", _edited(sound, edit), Mend("Mute", [edit])
    for place in chain_places(sound):
        for n, part in enumerate(place.chain):
            if part.on and (
                place.owner not in {one.id for one in sound.layers} or place.owner in heard
            ):
                edit = Edit(f"{place.path}.{n}.on", False)
                mend = Mend("Switch off", [edit])
                yield "processor", part.id, part.kind, place.name, _edited(sound, edit), mend
    names = {mover.id: mover.name for mover in sound.movers}
    for n, link in enumerate(sound.links):
        others = [one.model_dump(mode="json") for one in sound.links if one is not link]
        without = sound.model_copy(update={"links": sound.links[:n] + sound.links[n + 1 :]})
        mend = Mend("Unlink", [Edit("links", others)])
        yield "link", link.target, names[link.mover], link.mover, without, mend


def _edited(sound: Sound, edit: Edit) -> Sound:
    """The sound with one value put at a path."""

    def put(node: Any, keys: list[str]) -> Any:
        key, *rest = keys
        if isinstance(node, tuple):
            index = int(key)
            return (*node[:index], put(node[index], rest), *node[index + 1 :])
        inner = put(getattr(node, key), rest) if rest else edit.value
        return node.model_copy(update={key: inner})

    edited: Sound = put(sound, edit.path.split("."))
    return edited


def _padded(signal: Signal, frames: int) -> Signal:
    padded = np.zeros((signal.shape[0], frames))
    padded[:, : signal.shape[1]] = signal
    return padded


def _largest_change(
    first: NDArray[np.float64], second: NDArray[np.float64], floor_db: float = _QUIET_DB
) -> float:
    heard = np.maximum(first, second) > floor_db
    return float(np.abs(first - second)[heard].max()) if heard.any() else 0.0


def _smooth_band_levels(signal: Signal) -> NDArray[np.float64]:
    """As ``_band_levels``, under windows that overlap: a shift in phase alone changes nothing."""
    window = np.hanning(_FRAME + 1)[:_FRAME]
    count = signal.shape[1] // _FRAME + 1
    padded = np.zeros((signal.shape[0], (count + 1) * _FRAME))
    padded[:, _FRAME // 2 : _FRAME // 2 + signal.shape[1]] = signal
    tiled = np.tile(window, count)
    halves = [padded[:, at : at + count * _FRAME] * tiled for at in (0, _FRAME // 2)]
    return np.concatenate([_band_levels(half[:, :-1]) for half in halves])


def _band_levels(signal: Signal) -> NDArray[np.float64]:
    """Levels in dB by frame and band, of the channels' mean power."""
    count = signal.shape[1] // _FRAME + 1
    padded = np.zeros((signal.shape[0], count * _FRAME), dtype=np.float32)
    padded[:, : signal.shape[1]] = signal
    spectrum = rfft(padded.reshape(signal.shape[0], count, _FRAME)) / (_FRAME / 2)
    power = (spectrum.real**2 + spectrum.imag**2).mean(axis=0)
    bands = np.add.reduceat(power, _BANDS[:-1], axis=1)
    return np.asarray(10.0 * np.log10(np.maximum(bands, 1e-15)), dtype=np.float64)
