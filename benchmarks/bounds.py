"""Prints what long renders take in memory, and how soon work stops once it is cancelled.

Run: .venv/bin/python benchmarks/bounds.py
Memory is that of a process of its own (its largest resident size), with the interpreter and all
packages in it. Ten seconds of stereo at 192 kHz stand for a long stage.
"""

from __future__ import annotations

import resource
import subprocess
import sys
import threading
import time
from contextlib import suppress

import numpy as np

from nest_crate.core.cancellation import Cancel, Cancelled, watching
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS


def everything(length_s: float) -> Sound:
    """Eight layers of stereo with 32 processors each, all kinds in turn."""
    kinds = [kind for kind in sorted(PROCESSOR_KINDS) if kind not in ("reverse", "fade")]
    layers = [
        {
            "id": f"l{n}",
            "name": f"Layer {n}",
            "source": {"kind": "tone", "shape": 2, "unison": {"voices": 3, "width": 1}},
            "level": {"points": [{"time_s": 0, "value": 1}]},
            "chain": [
                {"id": f"p{n}-{m}", "kind": kinds[(m + 4 * n) % len(kinds)]} for m in range(32)
            ],
        }
        for n in range(8)
    ]
    return load_sound({"name": "Everything", "layers": layers, "hit": {"hold_s": length_s}})


def one_render(length_s: float, sample_rate: int, traced: bool) -> None:
    sound = everything(length_s)
    settings = RenderSettings(sample_rate=sample_rate, length_s=length_s)
    expected = expected_cost(sound, sound.hit, settings)
    began = time.perf_counter()
    try:
        (render_with_trace if traced else render)(sound, settings=settings)
        done = f"took {time.perf_counter() - began:5.1f} s"
    except DocumentError as error:
        done = f"refused: {error.problems[0].message}"
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6
    print(
        f"{length_s:.0f} s at {sample_rate} Hz{' traced' if traced else ''}: {most:.2f} GB held "
        f"at most; {expected.seconds:.0f} s and {expected.bytes / 1e9:.2f} GB expected, {done}",
        flush=True,
    )


def cancelled_ms(kind: str) -> tuple[float, float]:
    """Milliseconds that a processor takes, and those from a cancel in its middle to its end."""
    noise = np.random.default_rng(1).normal(size=(2, 1_920_000)) * 0.1
    part = PROCESSOR_KINDS[kind](id="x")
    context = ProcessContext(RenderSettings(sample_rate=192000))
    process(noise, part, context)
    began = time.perf_counter()
    process(noise, part, context)
    whole = time.perf_counter() - began
    cancel, at = Cancel(), [0.0]

    def give_up() -> None:
        at[0] = time.perf_counter()
        cancel.set()

    timer = threading.Timer(0.4 * whole, give_up)
    with watching(cancel), suppress(Cancelled):
        timer.start()
        process(noise, part, context)
    ended = time.perf_counter()
    timer.join()
    return 1e3 * whole, 1e3 * max(0.0, ended - at[0])


if __name__ == "__main__":
    if len(sys.argv) > 1:
        one_render(float(sys.argv[1]), int(sys.argv[2]), sys.argv[3] == "traced")
    else:
        for case in (
            ("60", "48000", "plain"),
            ("60", "48000", "traced"),
            ("60", "192000", "plain"),
        ):
            subprocess.run([sys.executable, __file__, *case], check=True)
        for kind in sorted(PROCESSOR_KINDS):
            whole, late = cancelled_ms(kind)
            print(f"{kind:14} {whole:8.0f} ms for 10 s at 192 kHz, cancelled {late:6.0f} ms later")
