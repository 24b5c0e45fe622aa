"""Makes the wavetables that come with the program, as WAV files of single cycles.

Run: .venv/bin/python tools/make_tables.py [FOLDER]
Each file holds 32 cycles of 1024 samples, one behind the other, 16 bits. Without a folder they
are written to where the program reads them.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

import numpy as np
import soundfile
from numpy.typing import NDArray

CYCLE = 1024
FRAMES = 32
PARTIALS = 200
FOLDER = Path(__file__).parent.parent / "nest_crate" / "core" / "tables"

Numbers = NDArray[np.float64]

_K = np.arange(1, PARTIALS + 1)
_PHASE = np.arange(CYCLE) / CYCLE


def _of_partials(amplitudes: Numbers, phases: Numbers | float = 0.0) -> Numbers:
    """One cycle of sines."""
    spectrum = np.zeros(CYCLE // 2 + 1, dtype=np.complex128)
    spectrum[1 : PARTIALS + 1] = -1j * amplitudes * np.exp(1j * phases) * CYCLE / 2
    return np.fft.irfft(spectrum, CYCLE)


def even_odd(way: float) -> Numbers:
    """From the odd partials alone to all, and on to the even ones."""
    odd = _K % 2 == 1
    return _of_partials(np.where(odd, min(1.0, 2.0 - 2.0 * way), min(1.0, 2.0 * way)) / _K)


def dark_bright(way: float) -> Numbers:
    """Slopes from 18 dB an octave up to 3."""
    return _of_partials(_K ** -(3.0 - 2.5 * way))


def two_throats(way: float) -> Numbers:
    """Two humps in the spectrum that part and meet."""
    first, second = 3.0 + 3.0 * way, 22.0 - 14.0 * way
    humps = np.exp(-(((_K - first) / 1.6) ** 2)) + 0.7 * np.exp(-(((_K - second) / 2.6) ** 2))
    return _of_partials((humps + 0.03) / np.sqrt(_K))


def walking_gap(way: float) -> Numbers:
    """A sawtooth's spectrum with gaps at even distances that grow."""
    apart = 2.0 + 10.0 * way
    return _of_partials(np.sin(np.pi * _K / apart) ** 2 / _K)


def closing_reed(way: float) -> Numbers:
    """A pulse from half a cycle to a twentieth."""
    width = 0.5 - 0.45 * way
    turn = np.pi * _K * width
    return _of_partials(np.sin(turn) / _K, -turn)


def swarm(way: float) -> Numbers:
    """Partials that come and go, each in its own time."""
    draw = np.random.Generator(np.random.Philox(key=77))
    pace, begin = draw.integers(1, 5, PARTIALS), draw.uniform(0, 2 * np.pi, PARTIALS)
    phases = draw.uniform(0, 2 * np.pi, PARTIALS)
    level = 0.5 + 0.5 * np.cos(2 * np.pi * pace * way + begin)
    return _of_partials(level**2 * _K**-0.9 * (_K < 80), phases)


def glass_edge(way: float) -> Numbers:
    """A few far partials over the first, which climb."""
    chosen = np.isin(_K, (1, 3, 7, 12, 18, 25, 33, 42))
    reach = np.exp(-((np.log2(_K) - 5.2 * way) ** 2) / 1.4)
    return _of_partials(chosen * (0.15 / _K + reach))


def folded(way: float) -> Numbers:
    """A sine folded over itself, again and again."""
    return np.sin((0.5 * np.pi + 3.5 * np.pi * way) * np.sin(2 * np.pi * _PHASE))


def stairs(way: float) -> Numbers:
    """A sine in ever fewer steps."""
    steps = np.round(40.0 ** (1.0 - way) * 1.5)
    return np.round(np.sin(2 * np.pi * _PHASE) * steps) / steps


def squaring_sine(way: float) -> Numbers:
    """A sine that turns square: driven ever harder into a limit."""
    drive = 0.1 * 10.0 ** (2.7 * way)
    return np.tanh(drive * np.sin(2 * np.pi * _PHASE)) / np.tanh(drive)


def stretched_square(way: float) -> Numbers:
    """A square whose partials move apart: partial k lies at k to the power of up to 1.35."""
    made = np.zeros(CYCLE)
    for k in range(1, 60, 2):
        place = k ** (1.0 + 0.35 * way)
        # Between two whole partials it is shared, so that the cycle closes.
        low = int(place)
        for partial, share in ((low, 1.0 - (place - low)), (low + 1, place - low)):
            if partial < CYCLE // 2:
                made += share * np.sin(2 * np.pi * partial * _PHASE) / k
    return made


TABLES: dict[str, Callable[[float], Numbers]] = {
    "even-odd": even_odd,
    "dark-bright": dark_bright,
    "two-throats": two_throats,
    "walking-gap": walking_gap,
    "closing-reed": closing_reed,
    "swarm": swarm,
    "glass-edge": glass_edge,
    "folded": folded,
    "stairs": stairs,
    "squaring-sine": squaring_sine,
    "stretched-square": stretched_square,
}


def cycles(name: str) -> Numbers:
    """A table's cycles in a row, shape (FRAMES * CYCLE,), the loudest peak just below 1."""
    rows = [TABLES[name](way) for way in np.linspace(0.0, 1.0, FRAMES)]
    # Alike in power, so that a scan is heard as colour and not as level.
    made = np.concatenate([row / np.sqrt(np.mean(row**2)) for row in rows])
    return np.asarray(0.99 * made / np.abs(made).max())


def main() -> None:
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER
    folder.mkdir(parents=True, exist_ok=True)
    for name in TABLES:
        soundfile.write(folder / f"{name}.wav", cycles(name), 48000, subtype="PCM_16")
        print(folder / f"{name}.wav")


if __name__ == "__main__":
    main()
