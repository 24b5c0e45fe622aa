"""Prints what each kind of source costs, and what bringing in and proposing take.

Run: .venv/bin/python benchmarks/sources.py
48 kHz, final quality, one core; medians of many runs in one process.
"""

from __future__ import annotations

import hashlib
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
import soundfile
import soxr

from nest_crate.core.allocation import keep_freed_memory
from nest_crate.core.dsp.bodies.modes import decay_times_s, modal_signal, mode_ratios
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.engine.plan import make_plan
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.proposals import propose_sound
from nest_crate.core.sound import Sound, load_sound
from nest_crate.storage.decoder import decode_file
from timing import median_ms

RATE = 48000


def sound_of(source: dict[str, Any]) -> Sound:
    level = {"points": [{"time_s": 0, "value": 1}]}
    layer = {"id": "a", "name": "A", "source": source, "level": level}
    return load_sound({"name": "Source", "layers": [layer]})


def source_ms(source: dict[str, Any], settings: RenderSettings) -> tuple[float, float]:
    """The source's own stage, and the whole render."""
    sound = sound_of(source)
    plan = make_plan(sound, sound.hit, settings)
    whole = median_ms(lambda: render(sound, settings=settings))
    return median_ms(lambda: StageRunner(None).result(plan.sources["a"])), whole


def main() -> None:
    keep_freed_memory()
    noise = np.random.default_rng(1).normal(size=(1, 10 * RATE)) * 0.1
    key = hashlib.sha256(noise.tobytes()).hexdigest()
    known = {key: Audio(noise, RATE)}
    two, ten, one = (
        RenderSettings(length_s=length, recordings=known) for length in (2.0, 10.0, 1.0)
    )
    body = {"kind": "struck", "body": "plate", "modes": 60, "decay_s": 4.0, "damping": 0.0}
    sample = {"kind": "sample", "recording": key}
    seven = {"voices": 7, "width": 1.0}
    table = {"kind": "wavetable", "table": {"origin": "stock", "name": "swarm"}}
    cases: list[tuple[str, dict[str, Any], RenderSettings]] = [
        ("body of 60 modes, 2 s", body, two),
        ("the same, two sides", {**body, "spread": 1.0}, two),
        ("string loop, 2 s", {"kind": "struck", "body": "string_loop", "decay_s": 4.0}, two),
        ("sample, 10 s", sample, ten),
        ("sample at seven voices, 10 s", {**sample, "unison": seven}, ten),
        ("sample in grains, 10 s", {**sample, "reading": "grains", "speed": 0.5}, ten),
        ("wavetable scanned, 1 s", {**table, "scan": "forwards"}, one),
        ("the same at seven voices", {**table, "scan": "forwards", "unison": seven}, one),
    ]
    print(f"{'':<34}{'source':>10}{'render':>10}")
    for name, source, settings in cases:
        own, whole = source_ms(source, settings)
        print(f"{name:<34}{own:7.2f} ms{whole:7.2f} ms")
    _beside_others(noise)
    _files(noise)


def _beside_others(noise: np.ndarray) -> None:
    """NumPy and soxr doing about the same."""
    ratios, strikes = mode_ratios("plate", 60, position=0.3, aspect=1.5)
    hz, decays = 200.0 * ratios, decay_times_s(ratios, 2.0, 0.0)
    exciter, time_s = np.ones(1), np.arange(2 * RATE) / RATE
    given: dict[str, Any] = {"frames": 2 * RATE, "sample_rate": RATE}
    given |= {"frequencies_hz": hz, "decays_s": decays, "gains": strikes[np.newaxis]}
    ours = median_ms(lambda: modal_signal(exciter, **given))

    def plainly() -> np.ndarray:
        total = np.zeros(2 * RATE)
        for f, t, a in zip(hz, decays, strikes, strict=True):
            total += a * np.exp(-6.91 * time_s / t) * np.sin(2 * np.pi * f * time_s)
        return total

    print(f"60 modes of 2 s, ours {ours:.2f} ms, NumPy {median_ms(plainly, 3):.2f} ms")
    converted = median_ms(lambda: soxr.resample(noise[0], RATE, 45301, quality="VHQ"), 5)
    print(f"10 s at another pitch by soxr (VHQ): {converted:.2f} ms a voice")


def _files(noise: np.ndarray) -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "ten.wav"
        soundfile.write(path, noise[0], RATE, subtype="PCM_24")
        print(f"10 s decoded apart: {median_ms(lambda: decode_file(path), 5):.0f} ms")
    time_s = np.arange(RATE) / RATE
    hz = 48 + 272 * np.exp(-time_s / 0.018)
    kick = np.sin(2 * np.pi * np.cumsum(hz) / RATE) * np.exp(-time_s / 0.11)
    took = median_ms(lambda: propose_sound(kick[np.newaxis], RATE), 3)
    print(f"a first sound from a kick of 1 s: {took:.0f} ms")


if __name__ == "__main__":
    main()
