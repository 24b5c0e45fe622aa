"""Long work: samples rendered again by workers beside the server, heard, and put in their place."""

import os
import signal
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path
from types import SimpleNamespace

import psutil
import pytest
from distributed import Client, LocalCluster
from distributed.scheduler import KilledWorker
from sqlalchemy import select

from nest_crate.catalogue.db.errors import NotPossible
from nest_crate.catalogue.db.job_models import Job, JobItem
from nest_crate.catalogue.db.models import utc_now
from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.catalogue.work.jobs import (
    Outcome,
    begin_job,
    end_piece,
    forget_old_jobs,
    piece_of,
    state_of,
    waiting_items,
)
from nest_crate.core.engine import ENGINE_VERSION
from nest_crate.core.formats.wav import decode_wav
from nest_crate.jobs.foreman import Foreman
from nest_crate.jobs.pieces import OtherEngine, work_on
from nest_crate.jobs.waking import heed
from nest_crate.settings import Settings
from tests.web.samples import bring, make_sound, one

# A worker that starts again imports and loads everything first; beside other work on two cores that
# alone takes half a minute.
LONGEST_S = 240


@pytest.fixture(scope="session")
def cluster():
    """A scheduler elsewhere with one worker, as far as the program is concerned."""
    with LocalCluster(
        n_workers=1,
        threads_per_worker=1,
        host="127.0.0.1",
        dashboard_address="127.0.0.1:0",
        worker_dashboard_address=None,
    ) as cluster:
        yield cluster


@contextmanager
def foreman_of(people, **settings):
    """A foreman beside the application, which wakes it."""
    held = people.app.extensions["nest_crate"]
    foreman = Foreman(held.settings.model_copy(update=settings), held.database)
    ended = threading.Event()
    given = (Path(held.settings.run_folder), foreman.wake, ended)
    heeding = threading.Thread(target=heed, args=given)
    heeding.start()
    yield foreman
    ended.set()
    heeding.join()
    foreman.close()


@pytest.fixture
def working(people, cluster):
    """People whose long work is done."""
    with foreman_of(people, job_scheduler=cluster.scheduler_address):
        yield people


def revise(people, sound, version, document, level_db):
    """A new revision of a sound with another level; answers its version."""
    main = {**document["main"], "level_db": level_db}
    body = {"base_version": version, "document": {**document, "main": main}}
    answer = people.editor.post(f"/api/sounds/{sound}/revisions", json=body)
    assert answer.status_code == 201, answer.json
    return answer.json


def begin(client, ids, **wanted):
    answer = client.post("/api/samples/rerender", json={"ids": ids, **wanted})
    assert answer.status_code == 201, answer.json
    return answer.json["id"]


def wait_for(look):
    """What ``look`` answers as soon as it is something."""
    until = time.monotonic() + LONGEST_S
    while time.monotonic() < until:
        if found := look():
            return found
        time.sleep(0.05)
    raise AssertionError("nothing came of it in time")


def ended(client, job_id):
    """A job's rows, once it has ended."""

    def look():
        body = client.get(f"/api/jobs/{job_id}/renders").json
        return None if body["job"]["state"] == "running" else body["rows"]

    return wait_for(look)


def replaced(client, job_id, ids):
    answer = client.post(f"/api/jobs/{job_id}/replace", json={"sample_ids": ids})
    assert answer.status_code == 200, answer.json
    return answer.json


def work_all(people):
    """What workers would do, here and now."""
    settings = people.app.extensions["nest_crate"].settings
    with people.store.database.session() as session:
        found = waiting_items(session, beside=(), count=100)
    for item_id in found:
        work_on(settings.database_url, settings.audio_url, ENGINE_VERSION, item_id)
    return found


def edited(people, sample_id, **edits):
    body = {"base_version": one(people.editor, {"id": sample_id})["version"], **edits}
    assert people.editor.put(f"/api/samples/{sample_id}/edits", json=body).status_code == 200


class TestRenderingAgain:
    def test_the_same_revision_gives_the_same_numbers(self, working, kick_document):
        _, kept = make_sound(working, kick_document)
        ids = [kept["sample"]["id"]]
        job = begin(working.editor, ids)
        (row,) = ended(working.editor, job)
        assert row["rendered"]["same"]
        assert row["rendered"]["likeness"] < 1e-5
        assert replaced(working.editor, job, ids) == {"gesture": None, "count": 0, "stayed": []}
        assert one(working.editor, kept["sample"])["version"] == kept["sample"]["version"]
        assert working.editor.get("/api/jobs").json["jobs"] == []

    def test_at_96_khz_and_back(self, working, kick_document):
        _, kept = make_sound(working, kick_document)
        ids = [kept["sample"]["id"]]
        job = begin(working.editor, ids, sample_rate=96000)
        (row,) = ended(working.editor, job)
        audio = working.editor.get(f"/api/jobs/{job}/renders/0.wav").data
        assert decode_wav(audio)[1] == row["rendered"]["sample_rate"] == 96000
        assert row["rendered"]["likeness"] < 0.3
        done = replaced(working.editor, job, ids)
        after = one(working.editor, kept["sample"])
        assert after["sample_rate"] == 96000
        assert after["length_s"] == pytest.approx(kept["sample"]["length_s"], abs=2e-3)
        assert working.store.files.get(after["file_digest"]) == audio
        working.editor.post("/api/samples/undo", json={"gesture": done["gesture"]})
        back = one(working.editor, kept["sample"])
        assert back["sample_rate"] == 48000
        assert back["file_digest"] == kept["sample"]["file_digest"]

    def test_what_was_heard_is_put_there_whatever_was_kept_since(self, working, kick_document):
        sound, kept = make_sound(working, kick_document)
        ids = [kept["sample"]["id"]]
        outdated = f"/api/libraries/{working.library_id}/outdated"
        assert working.listener.get(outdated).json["ids"] == []
        second = revise(working, sound, kept["version"], kick_document, -12.0)
        assert working.listener.get(outdated).json["ids"] == ids
        job = begin(working.editor, ids, newest=True)
        (row,) = ended(working.editor, job)
        heard = working.editor.get(f"/api/jobs/{job}/renders/0.wav").data
        assert row["rendered"]["revision"] == 2
        levels = [row["rendered"][side]["peak_db"] for side in ("before", "after")]
        assert levels[1] < levels[0] - 6.0
        revise(working, sound, second["version"], kick_document, -30.0)
        assert replaced(working.editor, job, ids)["count"] == 1
        after = one(working.editor, kept["sample"])
        assert after["sound_revision"] == 2
        assert working.store.files.get(after["file_digest"]) == heard
        assert after["peak_db"] == pytest.approx(levels[1])
        assert working.listener.get(outdated).json["ids"] == ids, "there is a third now"

    def test_a_render_is_heard_with_the_edits_of_its_sample(self, working, kick_document):
        _, kept = make_sound(working, kick_document)
        ids = [kept["sample"]["id"]]
        edited(working, ids[0], gain_db=-6.0, end_s=0.1)
        job = begin(working.editor, ids, sample_rate=96000)
        (row,) = ended(working.editor, job)
        audio, rate = decode_wav(working.editor.get(f"/api/jobs/{job}/renders/0.wav").data)
        assert audio.shape[1] == round(0.1 * rate)
        assert row["rendered"]["after"]["length_s"] == pytest.approx(0.1)
        replaced(working.editor, job, ids)
        after = one(working.editor, kept["sample"])
        assert after["length_s"] == pytest.approx(0.1)
        assert after["peak_db"] == pytest.approx(kept["sample"]["peak_db"] - 6.0, abs=0.1)

    def test_what_was_brought_in_is_told_and_the_others_are_done(self, working, kick_document):
        _, kept = make_sound(working, kick_document)
        gong = bring(working.editor, working.library_id, "Gong")
        rows = ended(working.editor, begin(working.editor, [gong["id"], kept["sample"]["id"]]))
        assert [(row["name"], row["words"]) for row in rows] == [
            ("Gong", "was imported; no sound made it"),
            ("Kick", None),
        ]
        (state,) = working.editor.get("/api/jobs").json["jobs"]
        assert (state["of"], state["done"], state["failed"]) == (2, 1, 1)
        assert state["state"] == "done"

    @pytest.mark.parametrize("rate", [0, 22050, 48001])
    def test_a_rate_that_there_is_not_is_refused_at_its_field(self, people, kick_document, rate):
        _, kept = make_sound(people, kick_document)
        body = {"ids": [kept["sample"]["id"]], "sample_rate": rate}
        answer = people.editor.post("/api/samples/rerender", json=body)
        assert answer.status_code == 422
        assert answer.json["problems"][0]["path"] == "sample_rate"
        assert people.editor.get("/api/jobs").json["jobs"] == []


class TestMeanwhile:
    """What others do between a render and its taking the place."""

    def rendered(self, people, document, count=3):
        _, kept = make_sound(people, document, count=count)
        job = begin(people.editor, kept["ids"], sample_rate=96000)
        work_all(people)
        return job, kept["ids"]

    def test_other_audio_stays_and_other_words_stay_with_the_new_audio(self, people, kick_document):
        job, (first, second, third) = self.rendered(people, kick_document)
        edited(people, first, gain_db=-3.0)
        tags = {"base_version": 1, "changes": {"tags": ["new"]}}
        people.editor.patch(f"/api/samples/{second}", json=tags)
        people.editor.post("/api/samples/bin", json={"ids": [third]})
        done = replaced(people.editor, job, [first, second, third])
        assert done["count"] == 1
        assert {row["sample_id"] for row in done["stayed"]} == {first, third}
        assert "has changed" in done["stayed"][0]["words"]
        assert "bin" in done["stayed"][1]["words"]
        assert one(people.editor, {"id": first})["sample_rate"] == 48000
        after = one(people.editor, {"id": second})
        assert (after["sample_rate"], after["tags"]) == (96000, ["new"])
        # What stayed can still be decided.
        (state,) = people.editor.get("/api/jobs").json["jobs"]
        assert state["of"] == 2

    def test_who_may_not_edit_any_more_replaces_nothing(self, people, kick_document):
        job, ids = self.rendered(people, kick_document, count=1)
        member = f"/api/libraries/{people.library_id}/members"
        people.owner.put(member, json={"handle": "isolde", "role": "listener"})
        answer = people.editor.post(f"/api/jobs/{job}/replace", json={"sample_ids": ids})
        assert answer.status_code == 403
        assert one(people.editor, {"id": ids[0]})["sample_rate"] == 48000

    def test_who_may_not_edit_any_more_renders_nothing(self, people, kick_document):
        _, kept = make_sound(people, kick_document)
        job = begin(people.editor, kept["ids"])
        member = f"/api/libraries/{people.library_id}/members"
        people.owner.put(member, json={"handle": "isolde", "role": "listener"})
        work_all(people)
        (row,) = ended(people.editor, job)
        assert row["rendered"] is None
        assert "listener" in row["words"]

    def test_approved_is_not_what_was_rendered_anew(self, people, kick_document):
        job, ids = self.rendered(people, kick_document, count=1)
        for status in ("in_review", "approved"):
            people.owner.post("/api/samples/move", json={"ids": ids, "status": status})
        assert replaced(people.editor, job, ids)["count"] == 1
        assert one(people.editor, {"id": ids[0]})["status"] == "draft"

    def test_work_is_nobody_elses(self, people, kick_document):
        job, ids = self.rendered(people, kick_document, count=1)
        url = f"/api/jobs/{job}"
        for client in (people.owner, people.reviewer, people.stranger):
            assert client.get("/api/jobs").json["jobs"] == []
            answers = [
                client.get(url),
                client.get(f"{url}/renders"),
                client.get(f"{url}/renders/0.wav"),
                client.post(f"{url}/stop"),
                client.post(f"{url}/replace", json={"sample_ids": ids}),
                client.delete(url),
            ]
            assert {answer.status_code for answer in answers} == {404}
        assert people.nobody.get(url).status_code == 401
        assert people.editor.get(url).status_code == 200

    def test_files_of_work_are_kept_as_long_as_it(self, people, kick_document):
        job, _ = self.rendered(people, kick_document, count=1)
        store = people.store
        assert sweep_orphans(store.database, store.files, older_than_s=0.0) == 0
        assert people.editor.get(f"/api/jobs/{job}/renders/0.wav").status_code == 200
        assert people.editor.delete(f"/api/jobs/{job}").status_code == 204
        assert sweep_orphans(store.database, store.files, older_than_s=0.0) == 1
        assert people.editor.get(f"/api/jobs/{job}").status_code == 404

    def test_work_that_nobody_came_back_to_is_forgotten(self, people, kick_document):
        job, _ = self.rendered(people, kick_document, count=1)
        running = begin(people.editor, [bring(people.editor, people.library_id, "Gong")["id"]])
        with people.store.database.session() as session:
            for key in (job, running):
                session.get_one(Job, key).created -= timedelta(days=30)
            session.get_one(Job, job).ended = utc_now() - timedelta(days=6)
            assert forget_old_jobs(session) == 0
            session.get_one(Job, job).ended = utc_now() - timedelta(days=8)
            session.flush()
            assert forget_old_jobs(session) == 1
        assert [one["id"] for one in people.editor.get("/api/jobs").json["jobs"]] == [running]


class TestPieces:
    """Work as rows: whatever dies, each piece is done, and written once."""

    def job(self, people, count, title="Jobs"):
        with people.store.database.session() as session:
            account = people.editor.account
            items = [{"sample_id": n, "name": f"{n}"} for n in range(count)]
            wanted = {"sample_rate": None, "newest": False}
            made = begin_job(
                session, account, kind="rerender", title=title, wanted=wanted, items=items
            )
            found = select(JobItem.id).where(JobItem.job_id == made.id).order_by(JobItem.position)
            return made.id, list(session.scalars(found))

    def state(self, people, job_id):
        with people.store.database.session() as session:
            return state_of(session, session.get_one(Job, job_id))

    def test_jobs_take_turns(self, people):
        _, long = self.job(people, 5)
        _, short = self.job(people, 2)
        with people.store.database.session() as session:
            order = waiting_items(session, beside=(), count=10)
            assert order == [long[0], short[0], long[1], short[1], *long[2:]]
            assert waiting_items(session, beside={long[0], short[0]}, count=2) == [
                long[1],
                short[1],
            ]
            # One worker after the other has a hand free; the first were begun before there was a
            # second job.
            under_way = long[:3]
            for expected in (short[0], short[1], long[3]):
                (found,) = waiting_items(session, beside=set(under_way), count=1)
                assert found == expected
                under_way.append(found)

    def test_rows_come_in_order_and_each_once(self, people):
        job_id, items = self.job(people, 5)
        url = f"/api/jobs/{job_id}/renders"
        database = people.store.database
        shown = []

        def look():
            after = shown[-1] if shown else -1
            rows = people.editor.get(f"{url}?after={after}").json["rows"]
            shown.extend(row["position"] for row in rows)
            return list(shown)

        from nest_crate.catalogue.work.jobs import fail_piece

        for number, expected in ((1, []), (0, [0, 1]), (4, [0, 1]), (2, [0, 1, 2])):
            fail_piece(database, items[number], "no")
            assert look() == expected
        assert look() == [0, 1, 2]
        fail_piece(database, items[3], "no")
        assert look() == [0, 1, 2, 3, 4]

    def test_the_last_of_many_at_once_ends_the_job(self, people):
        for _ in range(5):
            job_id, items = self.job(people, 8)
            with ThreadPoolExecutor(8) as pool:
                list(
                    pool.map(lambda key: end_piece(people.store.database, key, Outcome({})), items)
                )
            state = self.state(people, job_id)
            assert (state.job.state, state.done, state.of) == ("done", 8, 8)

    def test_a_piece_that_is_done_twice_is_written_once(self, people):
        job_id, (item,) = self.job(people, 1)
        database = people.store.database
        end_piece(database, item, Outcome({"a": 1}, "0" * 64))
        end_piece(database, item, Outcome({"a": 2}, "1" * 64))
        with database.session() as session:
            assert session.get_one(JobItem, item).result == {"a": 1}
            assert piece_of(session, item) is None
        assert self.state(people, job_id).job.state == "done"

    def test_what_is_stopped_is_not_begun(self, people, kick_document):
        _, kept = make_sound(people, kick_document, count=2)
        job = begin(people.editor, kept["ids"], sample_rate=96000)
        settings = people.app.extensions["nest_crate"].settings
        with people.store.database.session() as session:
            first, second = waiting_items(session, beside=(), count=2)
        here = settings.database_url, settings.audio_url, ENGINE_VERSION
        work_on(*here, first)
        assert people.editor.post(f"/api/jobs/{job}/stop").status_code == 204
        work_on(*here, second)
        (row,) = ended(people.editor, job)
        assert row["sample_id"] == kept["ids"][0]
        state = people.editor.get(f"/api/jobs/{job}").json
        assert (state["state"], state["of"]) == ("stopped", 1)
        assert replaced(people.editor, job, kept["ids"])["count"] == 1

    def test_a_worker_of_another_engine_leaves_work_to_others(self, people, kick_document):
        _, kept = make_sound(people, kick_document)
        job = begin(people.editor, kept["ids"])
        settings = people.app.extensions["nest_crate"].settings
        with people.store.database.session() as session:
            (item,) = waiting_items(session, beside=(), count=1)
        with pytest.raises(OtherEngine, match="install the same"):
            work_on(settings.database_url, settings.audio_url, ENGINE_VERSION + 1, item)
        assert people.editor.get(f"/api/jobs/{job}").json["state"] == "running"
        assert work_all(people) == [item]
        assert ended(people.editor, job)[0]["rendered"]["same"]

    def test_a_bug_in_one_piece_is_told_and_holds_up_nothing(self, people, kick_document):
        _, kept = make_sound(people, kick_document)
        job_id, _ = self.job(people, 1)
        with people.store.database.session() as session:
            session.get_one(Job, job_id).wanted = {}
        with people.store.database.session() as session:
            item = session.scalar(select(JobItem).where(JobItem.job_id == job_id))
            item.wanted = {**item.wanted, "sample_id": kept["ids"][0]}
        work_all(people)
        (row,) = ended(people.editor, job_id)
        assert row["words"] == "failed: KeyError"

    def test_too_much_is_refused(self, people):
        for _ in range(20):
            self.job(people, 1)
        with pytest.raises(NotPossible, match="waiting for you"):
            self.job(people, 1)
        assert len(people.editor.get("/api/jobs").json["jobs"]) == 20


class TestWorkers:
    def pids(self, address):
        with Client(address, set_as_default=False) as client:
            return list(client.run(os.getpid).values())

    def test_work_goes_on_when_its_worker_dies(self, working, cluster, kick_document):
        _, kept = make_sound(working, kick_document, count=8)
        job = begin(working.editor, kept["ids"], sample_rate=192000)
        wait_for(lambda: working.editor.get(f"/api/jobs/{job}").json["done"])
        (pid,) = self.pids(cluster.scheduler_address)
        os.kill(pid, signal.SIGKILL)
        rows = ended(working.editor, job)
        assert [row["words"] for row in rows] == [None] * 8
        assert all(row["rendered"]["sample_rate"] == 192000 for row in rows)
        assert pid not in self.pids(cluster.scheduler_address)

    def test_after_a_restart_work_goes_on_and_no_process_is_left(self, people, kick_document):
        """With the process beside the server, as it is where nothing is set."""
        _, kept = make_sound(people, kick_document, count=2)
        job = begin(people.editor, kept["ids"], sample_rate=96000)
        before = set(psutil.Process().children(recursive=True))
        with foreman_of(people) as foreman:
            foreman.wake()
            assert [row["words"] for row in ended(people.editor, job)] == [None, None]
            workers = set(psutil.Process().children(recursive=True)) - before
            assert any(worker.nice() == 10 for worker in workers), "it stands back behind listeners"
        assert not [one for one in workers if one.is_running() and "spawn_main" in one.cmdline()]
        foreman.wake()
        assert not [thread for thread in [foreman._thread] if thread and thread.is_alive()]

    def test_a_piece_of_which_workers_die_is_given_up(self, people):
        job_id, (item,) = TestPieces().job(people, 1)
        foreman = Foreman(Settings(), people.store.database)
        error = KilledWorker("piece", None, 3)
        foreman._ended(item, SimpleNamespace(status="error", exception=lambda: error))
        (row,) = ended(people.editor, job_id)
        assert "ended each time" in row["words"]
