"""What the serving program does beside its requests."""

from __future__ import annotations

import os
from datetime import timedelta

import pytest

from nest_crate.catalogue.db.errors import DatabaseGone
from nest_crate.catalogue.db.models import Sample, utc_now
from nest_crate.catalogue.search import SampleQuery
from nest_crate.server.upkeep import repeat, sweeper
from nest_crate.server.web_process import index_keeper
from nest_crate.settings import Settings
from nest_crate.web import create_app
from nest_crate.web.infra.context import open_services


class Enough(Exception):
    """Ends what would go on for as long as the program runs."""


def pauses(count: int):
    slept: list[float] = []

    def sleep(seconds: float) -> None:
        slept.append(seconds)
        if len(slept) == count:
            raise Enough

    return slept, sleep


def test_work_is_done_at_once_and_after_each_pause():
    done: list[int] = []
    slept, sleep = pauses(3)
    with pytest.raises(Enough):
        repeat(lambda: done.append(len(slept)), 60.0, sleep=sleep)
    assert done == [0, 1, 2]
    assert slept == [60.0] * 3


@pytest.mark.parametrize("error", [DatabaseGone("away"), OSError(28, "No space left on device")])
def test_what_fails_for_a_while_is_done_the_next_time(error):
    done: list[str] = []

    def work() -> None:
        done.append("tried")
        if len(done) == 1:
            raise error

    _, sleep = pauses(2)
    with pytest.raises(Enough):
        repeat(work, 1.0, sleep=sleep)
    assert done == ["tried", "tried"]


def test_a_mistake_of_our_own_is_not_hidden():
    def work() -> None:
        raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        repeat(work, 1.0, sleep=lambda _: None)


@pytest.fixture
def app(store, tmp_path):
    settings = Settings(database_url=store.url, audio_url=f"file://{store.files_folder}")
    app = create_app(settings)
    app.extensions["nest_crate"].database.engine.dispose()
    app.extensions["nest_crate"] = open_services(settings, store.database)
    return app


def add(store, name, **facts):
    given = {
        "library_id": store.library_id,
        "created_by_id": store.account.id,
        "file_digest": "0" * 64,
        "length_s": 1.0,
        "channels": 1,
        "sample_rate": 48000,
        "peak_db": -1.0,
        "true_peak_db": -1.0,
        "loudness_lufs": -12.0,
        "outline": b"",
        **facts,
    }
    with store.database.session() as session:
        session.add(Sample(name=name, **given))


def test_the_index_is_there_before_anybody_searches_and_finds_what_came_past_it(app, store):
    index = app.extensions["nest_crate"].index
    add(store, "Gong")
    keep = index_keeper(app.extensions["nest_crate"])
    keep()
    found = lambda: index.search(SampleQuery(), [store.library_id]).total  # noqa: E731
    assert found() == 1
    add(store, "Old bell", changed=utc_now() - timedelta(days=90))
    keep()
    assert found() == 2


def test_files_without_rows_are_swept_once_they_are_old(app, store):
    kept = store.files.put(b"of a sample")
    add(store, "Gong", file_digest=kept)
    orphan = store.files.put(b"of nothing")
    young = store.files.put(b"its rows are on the way")
    for digest in (kept, orphan):
        path = next(store.files_folder.rglob(f"{digest}.wav"))
        os.utime(path, (0, 0))
    sweeper(store.database, store.files)()
    assert store.files.digests() == {kept, young}
