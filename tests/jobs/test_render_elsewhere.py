"""Renders that people wait for, made by Dask workers."""

import threading
import time

import numpy as np
import pytest
from distributed import LocalCluster

from nest_crate.core.cancellation import Cancelled
from nest_crate.core.engine import render
from nest_crate.core.errors import DocumentError
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import load_sound
from nest_crate.jobs.rendering.client import Renderers
from nest_crate.jobs.rendering.pool import RenderPool
from nest_crate.settings import Settings
from tests.jobs.test_render_pool import STORE, dear, small, wanted


@pytest.fixture(scope="module")
def pool(tmp_path_factory):
    with LocalCluster(
        n_workers=1,
        threads_per_worker=2,
        host="127.0.0.1",
        dashboard_address="127.0.0.1:0",
        worker_dashboard_address=None,
    ) as cluster:
        folder = str(tmp_path_factory.mktemp("run"))
        address = cluster.scheduler_address
        started = RenderPool(Settings(run_folder=folder, render_scheduler=address))
        started.start()
        yield Renderers(Settings(run_folder=folder).render_socket, STORE)
        started.stop()


def test_the_same_samples_come_from_elsewhere_in_the_same_parts(pool):
    frames = list(pool.ask(wanted(small(), steps=("hear", "look", "details"))))
    assert [one.head["part"] for one in frames] == ["audio", "figures", "pictures", "details"]
    samples, _ = decode_wav(frames[0].body)
    np.testing.assert_array_equal(samples, render(load_sound(small())).samples.astype(np.float32))


def test_errors_come_back_as_they_are(pool):
    with pytest.raises(DocumentError, match="listen_at"):
        pool.one(wanted(small(), steps=("hear",), given={"listen_at": "gone"}))


def test_what_nobody_waits_for_stops_there_too(pool):
    leave = threading.Event()
    caught = []

    def ask():
        try:
            pool.one(wanted(dear()), leave.is_set)
        except Cancelled as error:
            caught.append(error)

    thread = threading.Thread(target=ask)
    thread.start()
    time.sleep(0.8)
    leave.set()
    thread.join()
    assert caught
    # Both threads of the worker are free for others.
    began = time.monotonic()
    for name in ("One", "Two", "Three"):
        assert pool.one(wanted(small(name), sound=name)).body
    assert time.monotonic() - began < 3.0
