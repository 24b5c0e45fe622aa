"""How long designers wait for their changes, from 1 to 32 of them at once, on this machine.

Each changes a half-second sound of three layers twice a second, as a page does, and waits for the
audio; figures, pictures and the closer look are read as they come, until the next change ("all
seen": all of it came before that). Prints the curve, then the same with one more who floods the
server with the dearest sounds there are.

    .venv/bin/python -m benchmarks.designers [--seconds 20]
"""

from __future__ import annotations

import argparse
import tempfile
import threading
import time
from contextlib import suppress
from pathlib import Path

import psutil

from tests.load.conftest import Loaded, tokens_for
from tests.load.designers import dearest, figures, in_threads
from tests.program import start_program, stop_program

_COUNTS = (1, 2, 4, 8, 16, 32)
_EVERY_S = 0.5
_WARMED_UP = 2


def main() -> None:
    """Start the program on an empty catalogue and measure."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--seconds", type=float, default=20.0)
    seconds = parser.parse_args().seconds
    with tempfile.TemporaryDirectory(prefix="nest-crate-") as folder:
        running = start_program(Path(folder) / "data", "--no-demo")
        try:
            loaded = Loaded(running, tokens_for(running, 34))
            for flooded in (False, True):
                print(f"\n{'With one who floods' if flooded else 'Alone'}")
                print(
                    "designers   median ms   95 % ms   all seen   changes/s   processors       MB"
                )
                for count in _COUNTS:
                    print(_line(loaded, count, seconds, flooded))
        finally:
            stop_program(running)


def _line(loaded: Loaded, count: int, seconds: float, flooded: bool) -> str:
    until = threading.Event()
    flood = _flood(loaded, until) if flooded else []
    before, began = _processor_s(loaded), time.monotonic()
    took: list[float] = []
    seen: list[bool] = []
    lock = threading.Lock()

    def work(number: int) -> None:
        designer = loaded.designer(number)
        # Not all at the same instant.
        time.sleep(_EVERY_S * number / count)
        changes = 0
        while time.monotonic() - began < seconds:
            changed = time.monotonic()
            heard = designer.change()
            # The next change comes when it comes, whatever of this one is still on its way.
            whole = designer.finish(within_s=max(0.01, _EVERY_S - (time.monotonic() - changed)))
            changes += 1
            if changes > _WARMED_UP:
                with lock:
                    took.append(heard)
                    seen.append(whole)
            time.sleep(max(0.0, _EVERY_S - (time.monotonic() - changed)))
        designer.close()

    for thread in in_threads(count, work):
        thread.join()
    spent = time.monotonic() - began
    used = (_processor_s(loaded) - before) / spent
    until.set()
    for thread in flood:
        thread.join()
    median, most = figures(took) if took else (float("nan"), float("nan"))
    memory = sum(_memory(one) for one in _ours(loaded)) / 1e6
    rate = len(took) / spent
    shown = f"{sum(seen) / max(1, len(seen)):8.0%}"
    figures_in_words = f"{count:9d}   {median:9.0f}   {most:7.0f}   {shown}   {rate:9.1f}"
    return f"{figures_in_words}   {used:10.2f}   {memory:9.0f}"


def _flood(loaded: Loaded, until: threading.Event) -> list[threading.Thread]:
    def ask(number: int) -> None:
        designer = loaded.designer(33)
        document = dearest(2.0)
        while not until.is_set():
            document["name"] = f"Dear {number} {time.monotonic()}"
            designer.ask(document)

    return in_threads(24, ask)


def _ours(loaded: Loaded) -> list[psutil.Process]:
    program = psutil.Process(loaded.running.process.pid)
    return [program, *program.children(recursive=True)]


def _processor_s(loaded: Loaded) -> float:
    total = 0.0
    for one in _ours(loaded):
        with suppress(psutil.Error):
            total += sum(one.cpu_times()[:2])
    return total


def _memory(one: psutil.Process) -> int:
    with suppress(psutil.Error):
        return int(one.memory_info().rss)
    return 0


if __name__ == "__main__":
    main()
