"""Prints the time of each processor, of the six that are compared, and of SciPy and NumPy doing
about the same; and the memory of twenty processors on ten seconds.

Run: .venv/bin/python benchmarks/effects.py
One second of stereo at 48 kHz, final quality, one core; medians of many runs, all in one process,
so that the ratio says more than the figures.
"""

from __future__ import annotations

import tracemalloc

import numpy as np
from scipy.ndimage import maximum_filter1d, uniform_filter1d
from scipy.signal import fftconvolve, lfilter, resample_poly

from nest_crate.core.allocation import keep_freed_memory
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import RenderSettings, StageMemory, render
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS
from timing import median_ms

RATE = 48000
SIX = ("compressor", "drive", "chorus", "delay", "room", "ceiling")


def drum() -> Signal:
    """A second of a loud hit and its noise, two sides."""
    time_s = np.arange(RATE) / RATE
    tone = np.sin(2 * np.pi * 60 * time_s) * np.exp(-3 * time_s)
    noise = np.random.default_rng(1).normal(size=(2, RATE)) * 0.3 * np.exp(-6 * time_s)
    return np.asarray(0.9 * tone + noise)


def plain_compressor(signal: Signal) -> Signal:
    level = 20 * np.log10(np.maximum(np.abs(signal).max(axis=0), 1e-7))
    wanted = np.where(level > -18, (level + 18) * (1 / 3 - 1), 0.0)
    pole = np.exp(-1 / (0.05 * RATE))
    return np.asarray(signal * 10 ** (lfilter([1 - pole], [1, -pole], wanted) / 20))


def plain_drive(signal: Signal) -> Signal:
    return np.asarray(resample_poly(np.tanh(2 * resample_poly(signal, 8, 1, axis=1)), 1, 8, axis=1))


def plain_chorus(signal: Signal) -> Signal:
    n = np.arange(RATE)
    out = np.zeros_like(signal)
    for voice in range(3):
        swing = 0.012 + 0.003 * np.sin(2 * np.pi * (0.6 * n / RATE + voice / 3))
        out += [np.interp(n - swing * RATE, n, side, left=0.0) for side in signal]
    return 0.5 * signal + 0.5 * out / np.sqrt(3)


def plain_delay(signal: Signal) -> Signal:
    back = np.zeros(12001)
    back[0], back[12000] = 1.0, -0.35
    return np.asarray(signal + 0.3 * lfilter([1.0], back, signal, axis=1))


def plain_room(signal: Signal) -> Signal:
    rng = np.random.default_rng(2)
    tail = rng.normal(size=(2, RATE)) * 10 ** (-3 * np.arange(RATE) / (1.4 * RATE))
    return np.asarray(signal + 0.02 * fftconvolve(signal, tail, axes=1)[:, :RATE])


def plain_ceiling(signal: Signal) -> Signal:
    peaks = np.abs(resample_poly(signal, 8, 1, axis=1)).max(axis=0).reshape(-1, 8).max(axis=1)
    needed = np.minimum(1.0, 0.89 / np.maximum(peaks, 1e-9))
    lowest = -maximum_filter1d(-needed, 145)
    return np.asarray(signal * uniform_filter1d(lowest, 72))


PLAIN = {
    "compressor": plain_compressor,
    "drive": plain_drive,
    "chorus": plain_chorus,
    "delay": plain_delay,
    "room": plain_room,
    "ceiling": plain_ceiling,
}


def chained(kinds: tuple[str, ...], seconds: float) -> Sound:
    """A noise of two sides through a chain, of about so many seconds."""
    level = {"points": [{"time_s": 0, "value": 1}, {"time_s": seconds, "value": 0}]}
    layer = {"id": "a", "name": "A", "source": {"kind": "noise", "width": 1}, "level": level}
    chain = [{"id": f"p{n}", "kind": kind} for n, kind in enumerate(kinds)]
    return load_sound({"name": "Chain", "layers": [layer], "main": {"chain": chain}})


def main() -> None:
    keep_freed_memory()
    signal = drum()
    context = ProcessContext(RenderSettings())
    print("Each processor, 1 s of stereo:")
    for kind, model in sorted(PROCESSOR_KINDS.items()):
        part = model(id="x")
        print(f"  {kind:<12} {median_ms(lambda p=part: process(signal, p, context), 9):7.2f} ms")  # type: ignore[misc]
    print("Six in a row, and SciPy and NumPy doing about the same:")
    ours = plain = 0.0
    made = made_plainly = signal
    for kind in SIX:
        part = PROCESSOR_KINDS[kind](id="x")
        took = median_ms(lambda p=part, s=made: process(s, p, context))  # type: ignore[misc]
        took_plainly = median_ms(lambda k=kind, s=made_plainly: PLAIN[k](s))  # type: ignore[misc]
        made, made_plainly = process(made, part, context), PLAIN[kind](made_plainly)
        ours, plain = ours + took, plain + took_plainly
        print(f"  {kind:<12} {took:7.2f} ms   plainly {took_plainly:7.2f} ms")
    print(f"  together     {ours:7.2f} ms   plainly {plain:7.2f} ms   ratio {ours / plain:.2f}")
    _last_alone()
    _memory()


def _last_alone() -> None:
    """What a change of the last processor costs where the rest is remembered."""
    sound = chained(SIX, 1.0)
    memory = StageMemory()
    settings = RenderSettings(length_s=1.0)
    whole = median_ms(lambda: render(sound, settings=settings), 7)
    levels = iter(np.linspace(-6.0, -1.0, 200))

    def change() -> object:
        last = sound.main.chain[-1].model_copy(update={"ceiling_db": float(next(levels))})
        main = sound.main.model_copy(update={"chain": (*sound.main.chain[:-1], last)})
        return render(sound.model_copy(update={"main": main}), settings=settings, memory=memory)

    print(f"Change of the last of six: {median_ms(change, 15):.2f} ms of {whole:.2f} ms")


def _memory() -> None:
    """The most that is held at once for twenty processors on ten seconds of stereo."""
    kinds = tuple(kind for kind in sorted(PROCESSOR_KINDS) if kind not in ("reverse", "fade"))[:20]
    sound = chained(kinds, 8.0)
    settings = RenderSettings(length_s=10.0)
    render(sound, settings=RenderSettings(length_s=0.1))
    tracemalloc.start()
    render(sound, settings=settings)
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    print(f"Twenty processors on 10 s of stereo: {most / 1e6:.0f} MB at the most")


if __name__ == "__main__":
    main()
