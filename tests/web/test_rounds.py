"""Rounds of a batch: made by workers, stopped, ended, gone on with; also without a server."""

import json
import os
import signal
import time

import numpy as np
import pytest
from click.testing import CliRunner
from distributed import Client

from nest_crate.catalogue.db.batch_models import BatchRound
from nest_crate.catalogue.db.errors import DatabaseGone
from nest_crate.catalogue.families import running
from nest_crate.catalogue.work.jobs import waiting_items
from nest_crate.cli import main
from nest_crate.core.engine import ENGINE_VERSION, RenderSettings, render
from nest_crate.core.families import overridden
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.jobs.pieces import work_on
from nest_crate.jobs.plan_runs import made_piece
from nest_crate.storage import AudioStore, StorageError
from tests.web.batches import KNOCK, TONE, audio, bench, done_round, made_batch, run, sheet, work
from tests.web.test_jobs import LONGEST_S, cluster, foreman_of

__all__ = ["bench", "cluster"]


def _gone(*_):
    raise DatabaseGone("The database does not answer")


class TestRounds:
    def test_members_are_what_the_engine_makes_of_the_revision(self, bench, kick_document):
        made = done_round(bench)
        assert (made["done"], made["failed"], made["running"]) == (6, 0, False)
        rows = sheet(bench, made)
        assert [one["number"] for one in rows] == [1, 2, 3, 4, 5, 6]
        one = bench.editor.get(f"/api/rounds/{made['id']}/members/3").json
        values = {row["target"]: row["value"] for row in one["values"]}
        assert set(values) == {TONE["target"], KNOCK["target"]}
        expected = render(
            overridden(load_sound(kick_document), values), load_hit(one["hit"]), RenderSettings()
        ).samples
        heard, rate = decode_wav(audio(bench, made, 3))
        # Trimmed at its end and turned down to the ceiling, and else the same.
        frames = heard.shape[1] - round(0.01 * rate)
        gain = np.abs(heard[:, :frames]).max() / np.abs(expected[:, :frames]).max()
        np.testing.assert_allclose(heard[:, :frames], gain * expected[:, :frames], atol=1e-6)

    def test_one_is_heard_before_its_turn_as_it_is_heard_after_it(self, bench):
        batch = made_batch(bench)
        made = run(bench, batch).json
        assert sheet(bench, made) == []
        before = audio(bench, made, 5)
        work(bench)
        assert audio(bench, made, 5) == before

    def test_a_piece_done_twice_is_written_once(self, bench):
        batch = made_batch(bench)
        made = run(bench, batch).json
        held = bench.app.extensions["nest_crate"]
        with held.database.session() as session:
            first = waiting_items(session, beside=[], count=1)[0]
        for _ in range(2):
            # Its worker died after the members were written, and before the piece was.
            with held.database.session() as session:
                session.connection().exec_driver_sql(
                    f"UPDATE job_items SET state = 'waiting' WHERE id = {first}"
                )
            work_on(held.settings.database_url, held.settings.audio_url, ENGINE_VERSION, first)
        assert [one["number"] for one in sheet(bench, made)] == [1]

    def test_stopped_and_gone_on_with(self, bench):
        made = run(bench, made_batch(bench, draws=12)).json
        work(bench, most=2)
        path = f"/api/rounds/{made['id']}"
        stopped = bench.editor.post(f"{path}/stop").json
        assert (stopped["done"], stopped["running"]) == (2, False)
        work(bench)
        assert len(sheet(bench, made)) == 2
        assert bench.editor.post(f"{path}/go-on").json["running"]
        work(bench)
        numbers = [one["number"] for one in sheet(bench, made)]
        assert sorted(numbers) == list(range(1, 13))

    def test_the_mark_gives_each_member_once(self, bench):
        made = run(bench, made_batch(bench)).json
        path = f"/api/rounds/{made['id']}/members"
        work(bench, most=2)
        first = bench.editor.get(path).json
        work(bench)
        second = bench.editor.get(f"{path}?after={first['mark']}").json
        numbers = [one["number"] for one in (*first["rows"], *second["rows"])]
        assert numbers == [1, 2, 3, 4, 5, 6]
        assert bench.editor.get(f"{path}?after={second['mark']}").json["rows"] == []

    def test_a_large_sheet_comes_in_pages(self, bench):
        made = done_round(bench)
        path = f"/api/rounds/{made['id']}/members"
        first = bench.editor.get(f"{path}?count=4").json
        second = bench.editor.get(f"{path}?count=4&after={first['mark']}").json
        assert [one["number"] for one in (*first["rows"], *second["rows"])] == [1, 2, 3, 4, 5, 6]
        assert (first["more"], second["more"]) == (True, False)
        last = bench.editor.get(f"{path}?count=2&after={first['mark']}").json
        assert (len(last["rows"]), last["more"]) == (2, False)

    def test_drawn_anew_is_another_and_only_that(self, bench):
        made = done_round(bench)
        before = [audio(bench, made, number) for number in range(1, 7)]
        answer = bench.editor.post(f"/api/rounds/{made['id']}/redraw", json={"numbers": [2, 4]})
        assert answer.json["done"] == 4
        work(bench)
        after = [audio(bench, made, number) for number in range(1, 7)]
        assert [n for n in range(6) if before[n] != after[n]] == [1, 3]
        assert {row["number"]: row["times"] for row in sheet(bench, made)}[4] == 1

    def test_a_round_bred_from_picked_members_lies_around_them(self, bench):
        batch = made_batch(bench, draws=16)
        first = run(bench, batch).json
        work(bench)
        picked = bench.editor.get(f"/api/rounds/{first['id']}/members/3").json
        second = run(bench, batch, parent=first["id"], picked=[3])
        assert second.status_code == 201, second.text
        assert (second.json["number"], second.json["parent_id"]) == (2, first["id"])
        work(bench)
        centre = {row["target"]: row["value"] for row in picked["values"]}

        def apart(made):
            found = []
            for number in range(1, 17):
                one = bench.editor.get(f"/api/rounds/{made['id']}/members/{number}").json
                values = {row["target"]: row["value"] for row in one["values"]}
                found.append(abs(np.log2(values[TONE["target"]] / centre[TONE["target"]])))
            return np.mean(found)

        assert apart(second.json) < 0.6 * apart(first)
        listed = bench.editor.get(f"/api/batches/{batch['id']}/rounds").json["rounds"]
        assert [(one["number"], one["picked"]) for one in listed] == [(1, []), (2, [3])]
        waiting = run(bench, batch, parent=first["id"], picked=[99])
        assert waiting.status_code == 422

    def test_a_member_that_cannot_be_made_is_listed_and_not_fatal(self, bench):
        # A hold of a minute at 96 kHz in sixteen voices is more than a render may take.
        axes = [{"kind": "hold", "values": [0.1, 60.0]}]
        made = run(bench, made_batch(bench, draws=1, of_sound={"axes": axes, "spreads": []})).json
        work(bench)
        found = bench.editor.get(f"/api/rounds/{made['id']}").json
        assert found["done"] + found["failed"] == 2

    def test_a_full_disk_in_the_middle_is_said_and_gone_on_after(self, bench, monkeypatch):
        made = run(bench, made_batch(bench)).json
        path = f"/api/rounds/{made['id']}"
        work(bench, most=2)
        put = AudioStore.put

        def full(store, data):
            raise StorageError("The disk is full")

        monkeypatch.setattr(AudioStore, "put", full)
        work(bench)
        found = bench.editor.get(path).json
        assert (found["done"], found["running"]) == (2, False)
        assert "disk is full" in found["problem"]
        monkeypatch.setattr(AudioStore, "put", put)
        bench.editor.post(f"{path}/go-on")
        work(bench)
        assert sorted(one["number"] for one in sheet(bench, made)) == [1, 2, 3, 4, 5, 6]
        assert bench.editor.get(path).json["problem"] == ""

    def test_the_database_dies_in_the_middle_and_the_piece_waits_for_it(self, bench, monkeypatch):
        made = run(bench, made_batch(bench)).json
        held = bench.app.extensions["nest_crate"]
        with held.database.session() as session:
            first = waiting_items(session, beside=[], count=1)[0]
        given = (held.settings.database_url, held.settings.audio_url, ENGINE_VERSION, first)
        monkeypatch.setattr(running, "_write", _gone)
        with pytest.raises(DatabaseGone):
            work_on(*given)
        monkeypatch.undo()
        work(bench)
        assert sorted(one["number"] for one in sheet(bench, made)) == [1, 2, 3, 4, 5, 6]

    def test_another_engines_round_says_so(self, bench):
        made = run(bench, made_batch(bench)).json
        with bench.store.database.session() as session:
            session.get(BatchRound, made["id"]).engine_version = ENGINE_VERSION - 1
        work(bench)
        found = bench.editor.get(f"/api/rounds/{made['id']}").json
        assert "run the plan again" in found["problem"]
        assert found["done"] == 0

    def test_two_who_run_the_same_plan_get_a_round_each_with_the_same_bytes(self, bench):
        batch = made_batch(bench, draws=3)
        first = run(bench, batch).json
        second = run(bench, batch, client=bench.owner).json
        work(bench)
        assert [first["number"], second["number"]] == [1, 2]
        for number in (1, 2, 3):
            assert audio(bench, first, number) == audio(bench, second, number)


class TestHeadless:
    def test_the_same_plan_gives_the_same_bytes_without_a_server(self, bench):
        made = done_round(bench, draws=9)
        plan = bench.editor.get(f"/api/rounds/{made['id']}/plan").json
        files = made_piece(plan, {}, ENGINE_VERSION, [2, 9, 1])
        assert [one.data for one in files] == [audio(bench, made, n) for n in (2, 9, 1)]
        with pytest.raises(RuntimeError, match="same version on both"):
            made_piece(plan, {}, ENGINE_VERSION + 1, [1])

    def test_a_plan_without_its_sounds_is_refused_at_its_place(self, tmp_path):
        path = tmp_path / "plan.json"
        path.write_text(json.dumps({"name": "A", "sounds": [{"id": "a", "sound": 3}]}))
        ended = CliRunner().invoke(main, ["batch", f"{path}", "-o", f"{tmp_path / 'out'}"])
        assert ended.exit_code == 1
        assert "export the plan from the program" in ended.output


class TestWorkers:
    def test_killed_in_the_middle_nothing_is_lost_and_nothing_twice(self, bench, cluster):
        with foreman_of(bench, job_scheduler=cluster.scheduler_address):
            made = run(bench, made_batch(bench, draws=40)).json
            path = f"/api/rounds/{made['id']}"
            wait_for(lambda: bench.editor.get(path).json["done"] >= 3)
            with Client(cluster.scheduler_address, set_as_default=False) as client:
                (pid,) = client.run(os.getpid).values()
            os.kill(pid, signal.SIGKILL)
            wait_for(lambda: not bench.editor.get(path).json["running"])
        rows = sheet(bench, made)
        assert sorted(one["number"] for one in rows) == list(range(1, 41))
        assert not any(one["words"] for one in rows)


def wait_for(happened):
    deadline = time.monotonic() + LONGEST_S
    while not happened():
        assert time.monotonic() < deadline
        time.sleep(0.1)
