"""Wavetables: rows of cycles, each as its partials, read at a moving pitch and position."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.oscillators.cycles import MAX_PARTIALS, PARTIAL_COUNTS
from nest_crate.core.dsp.oscillators.oscillator import Voice
from nest_crate.core.dsp.oscillators.phase_modulation import READ_TO, Bending, Lowering, row_of
from nest_crate.core.dsp.util.interpolation import cubic

__all__ = [
    "Rows",
    "WaveTable",
    "cycles_of_partials",
    "partials_of_cycles",
    "scan_signal",
    "spread_keys",
]

Partials = NDArray[np.complex128]
Numbers = NDArray[np.float64]

# Columns of a row: so many to each of its partials, by which cubics err 100 dB below the loudest.
_COLUMNS_EACH, _FEWEST, _MOST = 16, 2048, 8192
# Cycles are brought to their peak as they are drawn with so many columns.
_DRAWN = 2048
# Tables of more frames have rows half an octave apart in pitch, those of fewer a quarter.
_MANY_FRAMES = 96
_FADE = 0.02


def partials_of_cycles(cycles: NDArray[np.float64]) -> Partials:
    """Partials of cycles (frames, length), shape (frames, MAX_PARTIALS + 1), without offset.

    As in ``cycles.shape_partials``: x(phase) = sum of Re(c[k] exp(2j pi k phase)).
    """
    length = cycles.shape[1]
    spectrum = np.fft.rfft(cycles, axis=1) * (2.0 / length)
    count = min((length - 1) // 2, MAX_PARTIALS)
    partials = np.zeros((cycles.shape[0], MAX_PARTIALS + 1), dtype=np.complex128)
    partials[:, 1 : count + 1] = spectrum[:, 1 : count + 1]
    return partials


def cycles_of_partials(partials: Partials, length: int) -> NDArray[np.float64]:
    """Cycles (frames, length) of partials (frames, any), what has no room left out."""
    spectrum = np.zeros((partials.shape[0], length // 2 + 1), dtype=np.complex128)
    count = min(partials.shape[1] - 1, length // 2 - 1)
    spectrum[:, 1 : count + 1] = partials[:, 1 : count + 1] * (length / 2.0)
    return np.fft.irfft(spectrum, length, axis=1)


def spread_keys(keys: Partials, frames: int) -> Partials:
    """Keys (keys, partials) spread evenly over so many frames, with what lies between mixed."""
    if keys.shape[0] == 1 or frames == 1:
        return np.repeat(keys[:1], frames, axis=0)
    place = np.linspace(0.0, keys.shape[0] - 1.0, frames)
    lower = np.minimum(place.astype(np.int64), keys.shape[0] - 2)
    weight = (place - lower)[:, np.newaxis]
    return np.asarray((1.0 - weight) * keys[lower] + weight * keys[lower + 1])


@dataclass(frozen=True)
class Rows:
    """Cycles of rising counts of partials, in single precision, one after the other in ``flat``.

    Frame f of row r begins at ``starts[r] + f * (columns[r] + 3)``; column i holds the cycle at
    phase (i - 1) / columns. ``limits_hz`` is each row's highest pitch.
    """

    flat: NDArray[np.float32]
    starts: NDArray[np.int64]
    columns: NDArray[np.int64]
    limits_hz: Numbers


class WaveTable:
    """A table's partials (frames, MAX_PARTIALS + 1), brought to a peak of 1, and its rows."""

    def __init__(self, partials: Partials) -> None:
        peak = float(np.abs(cycles_of_partials(partials, _DRAWN)).max(initial=0.0))
        self.partials = partials / peak if peak > 0.0 else partials
        self.frames = partials.shape[0]
        self._rows: tuple[tuple[int, ...], Rows] | None = None

    def cycles(self, length: int) -> NDArray[np.float64]:
        """The cycles as they are drawn, shape (frames, length)."""
        return cycles_of_partials(self.partials, length)

    def rows(self, low_hz: float, high_hz: float, sample_rate: int) -> Rows:
        """Rows for pitches from low_hz to high_hz.

        Which rows there are depends on the table alone, so that a pitch is read alike in whatever
        range it lies.
        """
        counts = PARTIAL_COUNTS[:: 2 if self.frames > _MANY_FRAMES else 1]
        with np.errstate(divide="ignore"):
            limits_hz = np.where(counts > 0, sample_rate / 2.0 / np.maximum(counts, 1), np.inf)
        richest = int(np.searchsorted(-limits_hz, -low_hz, side="right")) - 1
        sparsest = max(0, int(np.searchsorted(-limits_hz, -high_hz, side="right")) - 2)
        chosen = slice(sparsest, max(richest, sparsest + 1) + 1)
        key = (*counts[chosen].tolist(), sample_rate)
        if self._rows is None or self._rows[0] != key:
            self._rows = (key, self._made(counts[chosen], limits_hz[chosen]))
        return self._rows[1]

    def _made(self, counts: NDArray[np.int64], limits_hz: Numbers) -> Rows:
        columns = [
            min(_MOST, max(_FEWEST, 1 << (_COLUMNS_EACH * int(count) - 1).bit_length()))
            for count in np.maximum(counts, 1)
        ]
        parts = []
        for count, length in zip(counts, columns, strict=True):
            cycles = cycles_of_partials(self.partials[:, : count + 1], length)
            row = np.concatenate([cycles[:, -1:], cycles, cycles[:, :2]], axis=1)
            parts.append(row.astype(np.float32).ravel())
        starts = np.cumsum([0, *(part.size for part in parts[:-1])])
        return Rows(np.concatenate(parts), starts, np.array(columns), limits_hz.copy())


def scan_signal(
    frequency_hz: Numbers,
    table: WaveTable,
    position: Numbers,
    *,
    sample_rate: int,
    voices: Sequence[Voice] = (Voice(),),
    octaves: int = 0,
    phase_cycles: Numbers | None = None,
    frequency_share: Numbers | None = None,
) -> NDArray[np.float64]:
    """A table read at a pitch, whose partials all stay below Nyquist, shape (channels, frames).

    Parameters
    ----------
    frequency_hz : np.ndarray [shape=(frames,)]
    position : np.ndarray [shape=(frames,)]
        0 the first frame, ``table.frames - 1`` the last; what lies between is mixed.
    octaves
        how often the rate is doubled inside, where the phase is bent.
    phase_cycles, frequency_share : np.ndarray [shape=(frames,)]
        as in ``feedback.feedback_tone``.
    """
    out = np.zeros((len(voices[0].gains), frequency_hz.shape[0]))
    if not out.shape[1]:
        return out
    position = np.clip(position, 0.0, table.frames - 1.0)
    ratios = [voice.ratio for voice in voices]
    if octaves:
        bending = Bending(frequency_hz, sample_rate, octaves, phase_cycles, frequency_share)
        return _bent_scan(out, table, position, bending, voices)
    low_hz, high_hz = float(frequency_hz.min()), float(frequency_hz.max())
    rows = table.rows(low_hz * min(ratios), high_hz * max(ratios), sample_rate)
    read = (rows.flat, rows.starts, rows.columns, rows.limits_hz / sample_rate)
    steps = frequency_hz / sample_rate
    for voice in voices:
        checkpoint()
        motion = np.array([voice.phase, voice.ratio])
        speeds, gains = steps * voice.ratio, np.array(voice.gains)
        _scan(out, gains, speeds, steps, position, np.zeros(1), motion, read)
    return out


def _bent_scan(
    out: Numbers, table: WaveTable, position: Numbers, bending: Bending, voices: Sequence[Voice]
) -> Numbers:
    """As ``scan_signal`` at the raised rate; rows are chosen by the speed nearby."""
    times, rate = 1 << bending.octaves, bending.raised_rate
    ratios = [voice.ratio for voice in voices]
    slowest, fastest = bending.speed_range_hz(max(ratios))
    slowest = max(slowest, float(bending.frequency_hz.min()) * min(ratios))
    rows = table.rows(slowest, max(slowest, fastest), round(2.0 * READ_TO * rate))
    read = (rows.flat, rows.starts, rows.columns, rows.limits_hz / rate)
    motions = [np.array([voice.phase, voice.ratio]) for voice in voices]
    lowering = Lowering(out, bending.octaves)
    for block in bending.blocks(max(ratios)):
        count = (block.end - block.begin) * times
        at = np.arange(count) / times
        speeds = np.interp(at, np.arange(block.speed.shape[0]), block.speed)
        places = np.repeat(position[block.begin : block.end], times)
        raised = np.zeros((out.shape[0], count))
        steps = block.hz[:count] / rate
        for voice, motion in zip(voices, motions, strict=True):
            checkpoint()
            gains = np.array(voice.gains)
            _scan(raised, gains, speeds, steps, places, block.bent, motion, read)
        lowering.push(raised)
    return lowering.finish()


@njit(cache=True, nogil=True, inline="always")
def _cubic(flat, start, place):  # type: ignore[no-untyped-def]
    """4-point Lagrange reading of the cycle that begins at ``start``, at a phase in columns."""
    whole = np.uint32(place)
    x = place - whole
    index = start + np.int64(whole)
    return cubic(flat[index], flat[index + 1], flat[index + 2], flat[index + 3], x)


@njit(cache=True, nogil=True, inline="always")
def _between_frames(flat, start, columns, frame, weight, turned):  # type: ignore[no-untyped-def]
    """A row that begins at ``start``, between two frames, at a phase from 0 to 1."""
    place = turned * columns
    first = start + frame * (columns + 3)
    value = _cubic(flat, first, place)
    if weight > 0.0:
        value += weight * (_cubic(flat, first + columns + 3, place) - value)
    return value


@njit(cache=True, nogil=True)
def _scan(out, gains, speeds, steps, places, bent, motion, rows):  # type: ignore[no-untyped-def]
    """Add one voice to out (channels, frames), rows by ``speeds`` in cycles a frame; ``motion`` is
    its phase, which moves on, and its ratio; rows are those of ``Rows``, limits in cycles a frame.
    """
    flat, starts, columns, limits = rows
    phase, ratio = motion[0], motion[1]
    bending = bent.shape[0] > 1
    row = limits.shape[0] - 1
    for n in range(out.shape[1]):
        row = row_of(row, speeds[n], limits)
        turned = phase + bent[n] if bending else phase
        turned -= np.floor(turned)
        frame = np.int64(places[n])
        weight = places[n] - frame
        value = _between_frames(flat, starts[row], columns[row], frame, weight, turned)
        fading = limits[row] * (1.0 - _FADE)
        if row > 0 and speeds[n] > fading:
            sparser = _between_frames(
                flat, starts[row - 1], columns[row - 1], frame, weight, turned
            )
            value = sparser + (limits[row] - speeds[n]) / (limits[row] * _FADE) * (value - sparser)
        for channel in range(out.shape[0]):
            out[channel, n] += gains[channel] * value
        phase += steps[n] * ratio
        phase -= np.floor(phase)
    motion[0] = phase
