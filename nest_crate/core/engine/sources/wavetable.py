"""The wavetable at work: its table, the place in it, its voices."""

from __future__ import annotations

import hashlib
import math
from threading import Lock

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray
from scipy.signal import oaconvolve
from scipy.signal.windows import blackmanharris

from nest_crate.core.dsp.oscillators.cycles import (
    CycleTables,
    bent_partials,
    edited_partials,
    skewed_partials,
)
from nest_crate.core.dsp.oscillators.feedback import feedback_tone
from nest_crate.core.dsp.oscillators.oscillator import Voice
from nest_crate.core.dsp.oscillators.wavetables import (
    WaveTable,
    partials_of_cycles,
    scan_signal,
    spread_keys,
)
from nest_crate.core.dsp.resampling.oversampling import octaves_above
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.sources.context import SourceContext, start_phase
from nest_crate.core.engine.sources.voices import unison_sum
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.sound import WavetableSource
from nest_crate.core.sound.sources.wavetable import (
    MAX_TABLE_FRAMES,
    DrawnTable,
    ImportedTable,
    PartialTable,
    SlicedTable,
    StockTable,
    WaveTableOrigin,
)
from nest_crate.core.tables import stock_cycles

__all__ = ["position_signal", "table_of", "wavetable_source"]

Numbers = NDArray[np.float64]

_SLICE = 2048
# A step from frame to frame goes through what lies between in this time, so that it does not click.
_STEP_S = 0.006
_KEPT_TABLES = 4
# No skew, bend or fold of the cycles.
_PLAIN = (0.0, 0.0, 0.0)

_made: LRUCache[str, WaveTable] = LRUCache(_KEPT_TABLES)
_lock = Lock()


def table_of(
    origin: WaveTableOrigin, settings: RenderSettings, shape: tuple[float, float, float] = _PLAIN
) -> WaveTable:
    """The table of a source; the last few are kept.

    Raises
    ------
    DocumentError
        where its recording, or the stock table of that name, is not here.
    """
    key = hashlib.sha256(f"{origin.model_dump_json()} {shape}".encode()).hexdigest()
    with _lock:
        found = _made.get(key)
        if found is not None:
            return found
    found = WaveTable(_shaped(_partials(origin, settings), shape))
    with _lock:
        _made[key] = found
    return found


def _shaped(
    partials: NDArray[np.complex128], shape: tuple[float, float, float]
) -> NDArray[np.complex128]:
    """Every cycle of a table skewed, bent and folded."""
    if shape == _PLAIN:
        return partials
    skew, bend, fold = shape
    return np.stack([bent_partials(skewed_partials(one, skew), bend, fold) for one in partials])


def _partials(origin: WaveTableOrigin, settings: RenderSettings) -> NDArray[np.complex128]:
    match origin:
        case StockTable():
            try:
                return partials_of_cycles(stock_cycles(origin.name))
            except LookupError as error:
                problem = FieldProblem("source.table.name", str(error), "unknown")
                raise DocumentError([problem]) from error
        case PartialTable():
            keys = [
                edited_partials(
                    one.amplitudes,
                    one.phases_deg,
                    tilt_db=one.tilt_db,
                    odd_even=one.odd_even,
                    comb=one.comb,
                )
                for one in origin.keys
            ]
            return spread_keys(np.stack(keys), origin.frames)
        case DrawnTable():
            drawn = [_smooth_cycle(np.array(one)) for one in origin.keys]
            return spread_keys(partials_of_cycles(np.stack(drawn)), origin.frames)
        case ImportedTable():
            samples = settings.recording(origin.recording).samples.mean(axis=0)
            frames = min(MAX_TABLE_FRAMES, max(1, samples.size // origin.cycle_frames))
            whole = np.zeros(frames * origin.cycle_frames)
            count = min(whole.size, samples.size)
            whole[:count] = samples[:count]
            return partials_of_cycles(whole.reshape(frames, origin.cycle_frames))
        case SlicedTable():
            return _sliced(origin, settings)


def _smooth_cycle(levels: Numbers) -> Numbers:
    """A drawn cycle at full length, with straight lines between its levels."""
    closed = np.append(levels, levels[0])
    places = np.linspace(0.0, 1.0, closed.size)
    return np.asarray(np.interp(np.arange(_SLICE) / _SLICE, places, closed))


def _sliced(origin: SlicedTable, settings: RenderSettings) -> NDArray[np.complex128]:
    """Single periods at even distances, each turned so that its first partial begins alike."""
    recording = settings.recording(origin.recording)
    samples, rate = recording.samples.mean(axis=0), recording.sample_rate
    period = rate / origin.hz
    first = min(origin.start_s * rate, samples.size - 1.0)
    end = origin.end_s * rate if origin.end_s > 0.0 else float(samples.size)
    last = max(first, min(end, float(samples.size)) - period)
    starts = np.linspace(first, last, origin.frames)
    places = starts[:, np.newaxis] + period * np.arange(_SLICE) / _SLICE
    cut = np.interp(places, np.arange(samples.size), samples, right=0.0)
    # What a period does not come back to is removed evenly, so that no cycle has a step.
    closing = np.interp(starts + period, np.arange(samples.size), samples, right=0.0) - cut[:, 0]
    cut -= closing[:, np.newaxis] * np.arange(_SLICE) / _SLICE
    partials = partials_of_cycles(cut)
    turn = np.angle(partials[:, 1]) + 0.5 * np.pi
    order = np.arange(partials.shape[1])
    return np.asarray(partials * np.exp(-1j * turn[:, np.newaxis] * order))


def position_signal(context: SourceContext, source: WavetableSource, frames: int) -> Numbers:
    """The place in a table of so many frames, in frames, at each frame of the layer."""
    position = context.moved_number("position", source.position)
    if source.scan == "still":
        way = position
    else:
        gone = np.arange(context.frames) / context.settings.sample_rate / source.scan_s
        match source.scan:
            case "forwards":
                way = np.minimum(1.0, position + gone)
            case "backwards":
                way = np.maximum(0.0, position - gone)
            case _:
                way = 1.0 - np.abs((position + gone) % 2.0 - 1.0)
    places = np.broadcast_to(np.asarray(way) * (frames - 1.0), (context.frames,))
    if source.reading == "smooth" or not places.size:
        return np.ascontiguousarray(places)
    return _softened(np.round(places), round(_STEP_S * context.settings.sample_rate))


def _softened(steps: Numbers, span: int) -> Numbers:
    """Each step along an S that takes so many frames: the integral of a window that leaves nothing
    of it 92 dB below and more, beyond 4 / span of the rate (Harris, "On the Use of Windows for
    Harmonic Analysis with the Discrete Fourier Transform", 1978)."""
    kernel = blackmanharris(span)
    padded = np.concatenate([np.full(span - 1, steps[0]), steps])
    soft = oaconvolve(padded - steps[0], kernel / kernel.sum(), mode="valid") + steps[0]
    return np.asarray(np.clip(soft, steps.min(), steps.max()))


def wavetable_source(context: SourceContext, source: WavetableSource) -> Signal:
    """A table with all its voices, shape (1 or 2, frames)."""
    table = table_of(source.table, context.settings, (source.skew, source.bend, source.fold))
    final = context.settings.quality == "final"
    octaves = octaves_above(context.settings.sample_rate, final=final)

    def read(own: SourceContext, pitch_hz: Signal, voices: tuple[Voice, ...]) -> Signal:
        places = position_signal(own, source, table.frames)
        if own.sync_hz is not None:
            return _synced(own, table, places, pitch_hz, voices, octaves)
        bent = own.phase_cycles is not None or own.frequency_share is not None
        return scan_signal(
            pitch_hz,
            table,
            places,
            sample_rate=own.settings.sample_rate,
            voices=voices,
            octaves=octaves if bent else 0,
            phase_cycles=own.phase_cycles,
            frequency_share=own.frequency_share,
        )

    phase = start_phase(context, source.phase_deg, source.phase_random)
    return unison_sum(context, source, source.unison, phase, read)


def _synced(
    context: SourceContext,
    table: WaveTable,
    places: Numbers,
    pitch_hz: Signal,
    voices: tuple[Voice, ...],
    octaves: int,
) -> Signal:
    """Each frame that is passed, read as a tone that begins again with the other's cycles; mixed
    by how near the place is to it."""
    total = np.zeros((len(voices[0].gains), places.size))
    if not places.size:
        return total
    for frame in range(math.floor(places.min()), math.ceil(places.max()) + 1):
        weight = np.maximum(0.0, 1.0 - np.abs(places - frame))
        if weight.any():
            total += weight * feedback_tone(
                pitch_hz,
                CycleTables(table.partials[frame]),
                amount=0.0,
                sample_rate=context.settings.sample_rate,
                voices=voices,
                octaves=octaves,
                phase_cycles=context.phase_cycles,
                frequency_share=context.frequency_share,
                sync_hz=context.sync_hz,
                sync_share=context.sync_share,
            )
    return total
