"""Render workers as processes: what they give, and what becomes of work that goes wrong."""

import json
import os
import signal
import subprocess
import sys
import threading
import time
from dataclasses import asdict, replace

import numpy as np
import psutil
import pytest

from nest_crate.core.cancellation import Cancelled
from nest_crate.core.engine import render
from nest_crate.core.errors import DocumentError
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.jobs.rendering.admission import Step
from nest_crate.jobs.rendering.client import Renderers
from nest_crate.jobs.rendering.errors import RenderersBusy, RenderFailed, RenderTooLarge, Replaced
from nest_crate.jobs.rendering.here import machine_has_room
from nest_crate.jobs.rendering.pool import RenderPool, pool_settings
from nest_crate.jobs.rendering.requests import RenderRequest
from nest_crate.settings import Settings

STORE = "memory://no-recordings"
SOCKETS: list[str] = []


@pytest.fixture(scope="module")
def settings(tmp_path_factory):
    folder = str(tmp_path_factory.mktemp("run"))
    return Settings(
        run_folder=folder, render_workers=2, render_time_s=6.0, renders_at_once=8, renders_waiting=4
    )


@pytest.fixture(scope="module")
def pool(settings):
    started = RenderPool(settings)
    started.start()
    SOCKETS[:] = [settings.render_socket]
    yield Renderers(settings.render_socket, STORE)
    started.stop()


IMPORTS_NUMPY_LATE = """
import os, socket, sys

class Watch:
    def find_spec(self, name, *rest):
        if name == "numpy":
            with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as asking:
                asking.connect(sys.argv[1])
            print("listens")
            sys.stdout.flush()
            os._exit(0)

sys.meta_path.insert(0, Watch())
from nest_crate.jobs.rendering.__main__ import main
main()
"""


def test_who_asks_while_the_engine_is_imported_waits(tmp_path, settings):
    given = json.dumps(asdict(pool_settings(settings)))
    command = [sys.executable, "-c", IMPORTS_NUMPY_LATE, str(tmp_path / "socket"), given]
    ended = subprocess.run(command, capture_output=True, text=True, timeout=60)
    assert ended.stdout == "listens\n", ended.stderr


def small(name="Small"):
    layer = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": {"points": POINTS}}
    return dump_sound(load_sound({"name": name, "layers": [layer], "hit": {"hold_s": 0.1}}))


POINTS = [{"time_s": 0, "value": 1}, {"time_s": 0.1, "value": 0}]


def dear(seconds=2.0, layers=8):
    """A legal sound that takes many seconds."""
    listed = [
        {
            "id": f"l{n}",
            "name": f"L{n}",
            "source": {"kind": "tone", "feedback": 0.4, "unison": {"voices": 16}},
        }
        for n in range(layers)
    ]
    return dump_sound(load_sound({"name": "Dear", "layers": listed, "hit": {"hold_s": seconds}}))


def wanted(document, account="a", sound="s", cost_s=0.01, steps=("play",), **facts):
    return RenderRequest(
        account=account,
        sound=sound,
        steps=[Step(task, n) for n, task in enumerate(steps)],
        given={"document": document, **facts.pop("given", {})},
        cost_s=cost_s,
        **facts,
    )


def dispatchers():
    """The dispatcher of this module's own pool, known by its socket."""
    children = psutil.Process().children()
    return [one for one in children if set(SOCKETS) & set(one.cmdline())]


def workers():
    """The worker processes of this module's own pool."""
    found = [worker for one in dispatchers() for worker in one.children()]
    return [one for one in found if one.name().startswith("nest-render")]


def used_s(seconds):
    """What the workers use of the processors within so many seconds."""
    before = sum(sum(one.cpu_times()[:2]) for one in workers())
    time.sleep(seconds)
    return sum(sum(one.cpu_times()[:2]) for one in workers()) - before


def busy_worker():
    """The one that works, found by its use of a processor."""
    found = workers()
    before = {one.pid: sum(one.cpu_times()[:2]) for one in found}
    time.sleep(0.3)
    return max(found, key=lambda one: sum(one.cpu_times()[:2]) - before[one.pid])


def began(target):
    thread = threading.Thread(target=target)
    thread.start()
    return thread


def error_of(act):
    """What it raises, caught in a thread of its own."""
    caught = []

    def run():
        try:
            act()
            caught.append(None)
        except Exception as error:
            caught.append(error)

    return began(run), caught


def test_a_worker_gives_what_the_engine_gives(pool):
    samples, rate = decode_wav(pool.one(wanted(small())).body)
    assert rate == 48000
    expected = render(load_sound(small())).samples
    np.testing.assert_array_equal(samples, expected.astype(np.float32))


def test_parts_come_in_order_with_audio_first(pool):
    parts = [
        one.head["part"] for one in pool.ask(wanted(small(), steps=("hear", "look", "details")))
    ]
    assert parts == ["audio", "figures", "pictures", "details"]


def test_what_is_wrong_with_a_sound_is_said_as_by_the_engine(pool):
    with pytest.raises(DocumentError, match="listen_at") as refused:
        pool.one(wanted(small(), steps=("hear",), given={"listen_at": "gone"}))
    assert refused.value.problems[0].path == "listen_at"


def test_work_that_nobody_waits_for_stops_within_a_tenth_of_a_second(pool):
    # In their spare time workers read their kernels from the disk, once.
    while used_s(1.0) > 0.2:
        pass
    for _ in range(3):
        leave = threading.Event()
        thread, caught = error_of(lambda leave=leave: pool.one(wanted(dear()), leave.is_set))
        time.sleep(0.6)
        assert max(one.cpu_percent(0.2) for one in workers()) > 15
        leave.set()
        thread.join()
        assert isinstance(caught[0], Cancelled)
        # Half of it is the caller's own pause between two looks.
        time.sleep(0.1)
        assert used_s(0.4) < 0.1


def test_a_newer_state_ends_the_earlier_one(pool):
    thread, caught = error_of(lambda: pool.one(wanted(dear(), stream="bench")))
    time.sleep(0.4)
    began_at = time.monotonic()
    pool.one(wanted(small(), stream="bench"))
    assert time.monotonic() - began_at < 1.0
    thread.join()
    assert isinstance(caught[0], Replaced)


def test_too_long_a_render_is_ended_and_said(pool):
    with pytest.raises(RenderTooLarge, match="Shorten it"):
        pool.one(wanted(dear()))
    assert pool.one(wanted(small())).body


def test_a_worker_that_waits_for_a_processor_is_given_the_time(pool, settings):
    caught = []
    thread = threading.Thread(
        target=lambda: caught.append(pool.one(wanted(dear(0.6, layers=4), steps=("play",))))
    )
    thread.start()
    worker = busy_worker()
    # As on a machine where others are always first.
    worker.suspend()
    time.sleep(settings.render_time_s + 1.0)
    worker.resume()
    thread.join()
    assert [bool(one.body) for one in caught] == [True]


@pytest.mark.parametrize(
    ("running", "room"), [("1/300", True), (f"{os.cpu_count()}/9", True), ("99/300", False)]
)
def test_kernels_are_read_ahead_only_where_nothing_else_wants_to_run(tmp_path, running, room):
    load = tmp_path / "loadavg"
    load.write_text(f"0.10 0.20 0.30 {running} 4711\n")
    assert machine_has_room(load) is room
    assert machine_has_room(tmp_path / "none")


def test_too_dear_a_render_is_refused_before_it_begins(pool):
    began_at = time.monotonic()
    with pytest.raises(DocumentError, match="at most"):
        pool.one(wanted(dear(60.0)))
    assert time.monotonic() - began_at < 1.0


def test_who_asks_for_too_much_is_told_when_to_come_back(pool):
    floods = [
        error_of(lambda n=n: pool.one(wanted(dear(0.5), "flood", f"f{n}", cost_s=9.0)))
        for n in range(8)
    ]
    time.sleep(0.5)
    with pytest.raises(RenderersBusy) as refused:
        pool.one(wanted(small(), "flood", cost_s=9.0))
    assert refused.value.details["retry_after_s"] >= 1
    # Another is let in at once, also behind.
    assert pool.one(wanted(small(), "other")).body
    thread, caught = error_of(lambda: pool.one(wanted(small(), "other", behind=True)))
    for flood, _ in floods:
        flood.join()
    thread.join()
    assert caught == [None]


def test_a_killed_worker_is_replaced_and_its_job_done_by_another(pool):
    slow = wanted(dear(0.4, layers=2))
    frames = []
    thread = began(lambda: frames.append(pool.one(slow)))
    time.sleep(0.2)
    os.kill(busy_worker().pid, signal.SIGKILL)
    thread.join()
    samples, _ = decode_wav(frames[0].body)
    expected = render(load_sound(dear(0.4, layers=2))).samples
    np.testing.assert_array_equal(samples, expected.astype(np.float32))


def test_a_sound_that_ends_every_worker_ends_only_two(pool):
    thread, caught = error_of(lambda: pool.one(wanted(dear())))
    for _ in range(2):
        time.sleep(0.3)
        os.kill(busy_worker().pid, signal.SIGKILL)
        time.sleep(2.5)
    thread.join()
    assert isinstance(caught[0], RenderFailed | RenderTooLarge)
    assert pool.one(wanted(small())).body


def test_a_killed_dispatcher_is_replaced(pool):
    for one in dispatchers():
        one.kill()
    assert pool.one(wanted(small())).body
    # The workers of the one that died went with it.
    time.sleep(1.0)
    assert len(workers()) == 3


def test_only_this_account_reaches_the_workers(pool, settings):
    assert os.stat(settings.render_socket).st_mode & 0o077 == 0


@pytest.mark.parametrize("body", [b"", b"{", b"[" * 5000, b"x" * 100])
def test_what_is_no_request_harms_nobody(pool, body):
    task = replace(wanted(small()), steps=[Step("no such task", 0)])
    with pytest.raises(RenderFailed):
        pool.one(task)
    assert json.loads(pool.one(wanted(small(), steps=("details",))).body)["layers"]
