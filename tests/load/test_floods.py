"""One who asks for far too much is slow; the others are not."""

import http.client
import threading
import time
from contextlib import suppress

import psutil

from tests.load.designers import dearest, figures, in_threads


def changes(designer, count):
    took = []
    for _ in range(count):
        took.append(designer.change())
        designer.finish()
    return took


def flooding(loaded, number, until, paths):
    """Twenty-four requests of one account at a time, of the dearest there are."""

    def ask(n):
        designer = loaded.designer(number)
        document = dearest()
        while not until.is_set():
            document["name"] = f"Dear {n} {time.monotonic()}"
            # What is still asked for when the program ends is answered no more.
            with suppress(OSError, http.client.HTTPException):
                designer.ask(document, paths[n % len(paths)])

    return in_threads(24, ask)


def test_a_flood_of_the_dearest_sounds_leaves_another_s_auditions_quick(loaded):
    designer = loaded.designer(1)
    changes(designer, 5)
    before = figures(changes(designer, 30))
    until = threading.Event()
    paths = (
        "/api/playing/hits",
        "/api/auditions",
        "/api/judging/contributions",
        "/api/judging/register",
        "/api/judging/repeats",
    )
    flooding(loaded, 2, until, paths)
    try:
        time.sleep(2.0)
        meanwhile = figures(changes(designer, 40))
    finally:
        until.set()
    assert meanwhile[0] < 2.0 * before[0] + 5.0, (before, meanwhile)
    assert meanwhile[1] < 3.0 * before[1] + 10.0, (before, meanwhile)


def test_memory_goes_back_once_nobody_works(loaded):
    designer = loaded.designer(3)
    changes(designer, 20)
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        held = {one.pid: one.memory_info().rss / 1e6 for one in _ours(loaded)}
        if max(held.values()) < 700:
            break
        time.sleep(1.0)
    assert max(held.values()) < 700, held
    assert sum(held.values()) < 3000, held


def _ours(loaded):
    program = psutil.Process(loaded.running.process.pid)
    return [program, *program.children(recursive=True)]


def test_several_designers_hear_their_changes_soon(loaded):
    """The curve up to many of them is ``benchmarks/designers.py``. Machines differ: what four wait
    is compared with what one waits alone."""
    lock = threading.Lock()

    def work(n, took):
        designer = loaded.designer(10 + n)
        for _ in range(20):
            began = time.monotonic()
            heard = designer.change()
            designer.finish()
            with lock:
                took.append(heard)
            time.sleep(max(0.0, 0.5 - (time.monotonic() - began)))

    alone, together = [], []
    work(4, alone)
    for thread in in_threads(4, lambda n: work(n, together)):
        thread.join()
    limit = max(150.0, 3.0 * figures(alone[3:])[0])
    assert figures(together[12:])[0] < limit, (figures(together), figures(alone))
