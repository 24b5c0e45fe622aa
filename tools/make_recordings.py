"""Makes the recordings of the demo: field recordings of a greenhouse that does not exist.

Run: .venv/bin/python tools/make_recordings.py [FOLDER]
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import soundfile
from numpy.typing import NDArray
from scipy.signal import butter, sosfilt

RATE = 32000
FOLDER = Path(__file__).parent.parent / "demo" / "recordings"


def _noise(seconds: float, seed: int) -> NDArray[np.float64]:
    draw = np.random.Generator(np.random.Philox(key=seed))
    return draw.normal(size=round(seconds * RATE))


def fern_breath() -> NDArray[np.float64]:
    """A fan of leaves that opens and closes: two breaths of coloured air with a hum in them."""
    time_s = np.arange(round(2.4 * RATE)) / RATE
    swell = np.sin(np.pi * np.clip(time_s / 2.4, 0, 1)) ** 2 * (0.6 + 0.4 * np.cos(7.9 * time_s))
    air = sosfilt(butter(2, (300, 2600), "bandpass", fs=RATE, output="sos"), _noise(2.4, 11))
    hum = sum(np.sin(2 * np.pi * 130.81 * k * time_s + k) / k**1.3 for k in range(1, 9))
    return np.asarray(swell * (0.5 * air + 0.22 * hum))


def felt_thumps() -> NDArray[np.float64]:
    """Felt dampers settling on a bench: a dozen dull blows, none like another."""
    made = np.zeros(round(3.0 * RATE))
    draw = np.random.Generator(np.random.Philox(key=23))
    dull = sosfilt(butter(2, 240, fs=RATE, output="sos"), _noise(3.0, 24))
    for start in np.arange(12) * 0.25:
        first = round(start * RATE)
        time_s = np.arange(round(0.24 * RATE)) / RATE
        hz = 62.0 + 16.0 * draw.random()
        body = np.sin(2 * np.pi * hz * time_s) * np.exp(-time_s / (0.04 + 0.03 * draw.random()))
        blow = 0.7 * body + 2.2 * dull[first : first + time_s.size] * np.exp(-time_s / 0.03)
        edge = np.minimum(1.0, time_s / 0.002)
        made[first : first + time_s.size] += blow * edge * (0.8 + 0.2 * draw.random())
    return made


RECORDINGS = {"fern-breath": fern_breath, "felt-thumps": felt_thumps}


def main() -> None:
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER
    folder.mkdir(parents=True, exist_ok=True)
    for name, make in RECORDINGS.items():
        samples = make()
        path = folder / f"{name}.wav"
        soundfile.write(path, 0.9 * samples / np.abs(samples).max(), RATE, subtype="PCM_16")
        print(path)


if __name__ == "__main__":
    main()
