"""Batches over the API: plans, rounds run by workers, judging, what is kept."""

import io
import json
import os
import signal
import time
import zipfile

import numpy as np
import pytest
from click.testing import CliRunner
from distributed import Client
from sqlalchemy import select

from nest_crate.catalogue.db.batch_models import BatchMember, BatchRound
from nest_crate.catalogue.db.errors import DatabaseGone
from nest_crate.catalogue.db.models import Sample, Take
from nest_crate.catalogue.families import running
from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.catalogue.work.jobs import waiting_items
from nest_crate.cli import main
from nest_crate.core.engine import ENGINE_VERSION, RenderSettings, render
from nest_crate.core.families import overridden
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.jobs.pieces import work_on
from nest_crate.jobs.plan_runs import made_piece
from nest_crate.storage import AudioStore, StorageError
from tests.web.test_jobs import LONGEST_S, cluster, foreman_of

__all__ = ["cluster"]

KNOCK = {"target": "knock.level_db", "low": -18.0, "high": 0.0, "shape": "even"}
TONE = {"target": "tone-down.cutoff_hz", "low": 800.0, "high": 9000.0, "shape": "even"}


@pytest.fixture
def bench(people, kick_document):
    """People with a kick in their library; the editor's client makes batches of it."""
    body = {"library_id": people.library_id, "document": kick_document}
    people.sound = people.editor.post("/api/sounds", json=body).json["id"]
    return people


def plan_of(people, *, draws=6, **more):
    sound = {"id": "a", "sound": people.sound, "spreads": [TONE, KNOCK], "draws": draws}
    return {"name": "Kicks", "sounds": [{**sound, **more.pop("of_sound", {})}], **more}


def made_batch(people, **plan):
    body = {"library_id": people.library_id, "document": plan_of(people, **plan)}
    answer = people.editor.post("/api/batches", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json


def run(people, batch, client=None, **more):
    body = {"base_version": batch["version"], "document": batch["document"], **more}
    return (client or people.editor).post(f"/api/batches/{batch['id']}/rounds", json=body)


def work(people, most=10_000):
    """Be the worker for pieces that wait."""
    held = people.app.extensions["nest_crate"]
    for _ in range(most):
        with held.database.session() as session:
            found = waiting_items(session, beside=[], count=1)
        if not found:
            return
        work_on(held.settings.database_url, held.settings.audio_url, ENGINE_VERSION, found[0])


def done_round(people, **plan):
    batch = made_batch(people, **plan)
    made = run(people, batch)
    assert made.status_code == 201, made.text
    work(people)
    return people.editor.get(f"/api/rounds/{made.json['id']}").json


def sheet(people, made):
    return people.editor.get(f"/api/rounds/{made['id']}/members").json["rows"]


def audio(people, made, number):
    answer = people.editor.get(f"/api/rounds/{made['id']}/members/{number}/audio")
    assert answer.status_code == 200, answer.text
    return answer.data


def _gone(*_):
    raise DatabaseGone("The database does not answer")


class TestPlans:
    def test_two_who_save_are_told_and_nothing_is_lost(self, bench):
        batch = made_batch(bench)
        path = f"/api/batches/{batch['id']}/draft"
        first = {"base_version": 1, "document": {**batch["document"], "seed": 5}}
        assert bench.editor.put(path, json=first).json["version"] == 2
        second = {"base_version": 1, "document": {**batch["document"], "seed": 6}}
        stale = bench.owner.put(path, json=second)
        assert stale.status_code == 409
        assert stale.json["details"]["saved"]["document"]["seed"] == 5
        assert stale.json["details"]["yours"]["document"]["seed"] == 6

    def test_a_plan_is_counted_and_says_what_is_wrong_where(self, bench):
        plan = plan_of(bench, of_sound={"axes": [{"kind": "note", "first": 21, "last": 108}]})
        found = bench.editor.post("/api/batches/figures", json={"document": plan}).json
        assert found["count"] == 88 * 6
        assert found["problems"] == []
        assert [one["target"] for one in found["sounds"][0]["spreads"]] == [
            TONE["target"],
            KNOCK["target"],
        ]
        wide = {**TONE, "low": 1.0, "high": 1e6}
        plan = plan_of(bench, of_sound={"spreads": [wide]})
        found = bench.editor.post("/api/batches/figures", json={"document": plan}).json
        assert found["sounds"][0]["spreads"][0]["clipped"]
        plan = plan_of(
            bench, draws=20000, of_sound={"axes": [{"kind": "hit", "first": 1, "last": 500}]}
        )
        found = bench.editor.post("/api/batches/figures", json={"document": plan}).json
        assert found["count"] == 10_000_000
        assert "10,000,000 members, at most 20,000" in found["problems"][0]["message"]
        batch = made_batch(bench)
        refused = run(bench, {**batch, "document": plan})
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == "sounds.0.draws"

    def test_a_probe_measures_and_suggestions_are_spreads(self, bench):
        plan = plan_of(bench, draws=40)
        found = bench.editor.post("/api/batches/probe", json={"document": plan}).json
        assert found["count"] == 40
        assert found["probed"] == 12
        assert found["median_distance"] > 0.1
        same = {**plan, "difference": 0.0}
        none = bench.editor.post("/api/batches/probe", json={"document": same}).json
        assert none["median_distance"] == pytest.approx(0.0, abs=1e-4)
        # Of a small sound: each of its numbers is rendered.
        level = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.1, "value": 0}]}
        low_pass = {"kind": "filter", "id": "cut", "response": "low_pass", "cutoff_hz": 400.0}
        layer = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": level}
        small = {"name": "Small", "layers": [{**layer, "chain": [low_pass]}]}
        plan = {"name": "Smalls", "sounds": [{"id": "a", "document": small}]}
        body = {"document": plan, "sound": "a", "aim": "timbre"}
        answer = bench.editor.post("/api/batches/suggestions", json=body)
        spreads = answer.json["spreads"]
        assert "cut.cutoff_hz" in [one["target"] for one in spreads]
        again = {"document": {**plan, "sounds": [{**plan["sounds"][0], "spreads": spreads}]}}
        assert bench.editor.post("/api/batches/figures", json=again).json["problems"] == []

    def test_a_sound_that_is_gone_is_said_at_its_place(self, bench):
        batch = made_batch(bench)
        bench.editor.put(f"/api/sounds/{bench.sound}/bin", json={"binned": True})
        body = {"document": batch["document"]}
        found = bench.editor.post("/api/batches/figures", json=body).json
        assert found["problems"][0]["path"] == "sounds.0"
        assert run(bench, batch).status_code == 422


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


class TestJudging:
    def test_verdicts_stay_and_wrong_ones_are_refused(self, bench):
        made = done_round(bench)
        path = f"/api/rounds/{made['id']}/verdicts"
        changes = [
            {"number": 1, "verdict": "kept"},
            {"number": 2, "verdict": "rejected", "starred": True},
            {"number": 3, "verdict": "kept"},
        ]
        assert bench.editor.put(path, json={"changes": changes}).status_code == 204
        rows = {one["number"]: one for one in sheet(bench, made)}
        assert (rows[1]["verdict"], rows[2]["verdict"], rows[2]["starred"]) == (
            "kept",
            "rejected",
            True,
        )
        refused = bench.editor.put(path, json={"changes": [{"number": 77, "verdict": "kept"}]})
        assert refused.status_code == 422
        counted = bench.editor.get(f"/api/rounds/{made['id']}").json
        assert (counted["kept"], counted["rejected"]) == (2, 1)

    def test_twins_are_marked_and_thinning_leaves_rejected_ones_out(self, bench):
        axes = [{"kind": "velocity", "values": [60, 100]}]
        made = done_round(bench, draws=8, of_sound={"axes": axes})
        found = bench.editor.get(f"/api/rounds/{made['id']}/judged").json
        assert found["numbers"] == list(range(1, 17))
        assert sorted(found["by_likeness"]) == found["numbers"]
        assert all(one is not None and one >= 0 for one in found["original_distance"])
        vectors = {}
        with bench.store.database.session() as session:
            for row in session.scalars(select(BatchMember)):
                vectors[row.number] = np.frombuffer(row.vector, np.float32)
        gap = np.linalg.norm(vectors[1].astype(float) - vectors[found["nearest"][0]])
        assert found["nearest_distance"][0] == pytest.approx(gap, abs=1e-3)
        bench.editor.put(
            f"/api/rounds/{made['id']}/verdicts",
            json={"changes": [{"number": n, "verdict": "rejected"} for n in (1, 2, 3)]},
        )
        thin = f"/api/rounds/{made['id']}/thin"
        chosen = bench.editor.post(thin, json={"count": 5}).json["numbers"]
        assert len(chosen) == 5
        assert not set(chosen) & {1, 2, 3}
        ladder = bench.editor.post(thin, json={"count": 4, "by": "loudness_lufs"}).json["numbers"]
        figures = {one["number"]: one["figures"]["loudness_lufs"] for one in sheet(bench, made)}
        assert [figures[n] for n in ladder] == sorted(figures[n] for n in ladder)
        wrong = bench.editor.post(thin, json={"count": 4, "by": "luck"})
        assert wrong.json["problems"][0]["path"] == "by"


class TestKeeping:
    def test_members_become_a_group_with_lineage_that_renders_again(self, bench, kick_document):
        axes = [{"kind": "velocity", "values": [50, 110]}]
        rules = {"loudness_lufs": -20.0, "category": "drum", "tags": ["low"]}
        rules["name"] = "Kick {velocity} {number:02}"
        made = done_round(bench, draws=2, of_sound={"axes": axes}, members=rules)
        body = {"numbers": [1, 3, 4], "library_id": bench.library_id}
        kept = bench.editor.post(f"/api/rounds/{made['id']}/keep", json=body)
        assert kept.status_code == 201, kept.text
        with bench.store.database.session() as session:
            rows = [session.get(Sample, one) for one in kept.json["sample_ids"]]
            assert [one.name for one in rows] == ["Kick 50 01", "Kick 110 02", "Kick 110 03"]
            assert {one.variation_group for one in rows} == {"Kicks"}
            assert [one.variation for one in rows] == [1, 2, 3]
            assert all(one.category == "drum" and one.tags == ["low"] for one in rows)
            take = rows[1].take
            sound = overridden(load_sound(take.revision.document), take.overrides)
            again = render(sound, load_hit(take.hit), RenderSettings()).samples
            stored, _ = decode_wav(bench.store.files.get(take.file_digest))
            np.testing.assert_array_equal(stored, again.astype(np.float32))
            assert take.hit["velocity"] == 110
            # What is measured is what is heard with the member's edits.
            assert rows[0].loudness_lufs == pytest.approx(-20.0, abs=0.2) or rows[
                0
            ].true_peak_db == pytest.approx(-1.0, abs=0.1)
        again = bench.editor.post(f"/api/rounds/{made['id']}/keep", json=body)
        assert again.status_code == 409
        more = {"numbers": [1, 2], "library_id": bench.library_id}
        more = bench.editor.post(f"/api/rounds/{made['id']}/keep", json=more).json["sample_ids"]
        with bench.store.database.session() as session:
            assert [session.get(Sample, one).variation for one in more] == [4]
        assert sweep_orphans(bench.store.database, bench.store.files, older_than_s=0.0) >= 0
        assert len(audio(bench, made, 2)) > 1000

    def test_rendered_again_of_a_new_revision_keeps_what_it_overrides(self, bench, kick_document):
        made = done_round(bench, draws=2)
        body = {"numbers": [1, 2], "library_id": bench.library_id}
        kept = bench.editor.post(f"/api/rounds/{made['id']}/keep", json=body).json["sample_ids"]
        main = {**kick_document["main"], "level_db": -12.0}
        changed = {"base_version": 1, "document": {**kick_document, "main": main}}
        revised = bench.editor.post(f"/api/sounds/{bench.sound}/revisions", json=changed)
        assert revised.status_code == 201, revised.text
        job = bench.editor.post("/api/samples/rerender", json={"ids": kept, "newest": True}).json
        work(bench)
        rows = bench.editor.get(f"/api/jobs/{job['id']}/renders").json["rows"]
        assert all(not one["rendered"]["same"] for one in rows)
        wanted = {"sample_ids": kept}
        assert bench.editor.post(f"/api/jobs/{job['id']}/replace", json=wanted).json["count"] == 2
        with bench.store.database.session() as session:
            sample = session.get(Sample, kept[0])
            take = session.get(Take, sample.take_id)
            assert set(take.overrides) == {TONE["target"], KNOCK["target"]}
            sound = overridden(load_sound(changed["document"]), take.overrides)
            again = render(sound, load_hit(take.hit), RenderSettings()).samples
            stored, _ = decode_wav(bench.store.files.get(take.file_digest))
            np.testing.assert_array_equal(stored, again.astype(np.float32))

    def test_a_member_opens_as_a_sound_that_sounds_the_same(self, bench):
        made = done_round(bench)
        path = f"/api/rounds/{made['id']}/members/4"
        values = {row["target"]: row["value"] for row in bench.editor.get(path).json["values"]}
        opened = bench.editor.post(f"{path}/sound")
        assert opened.status_code == 201, opened.text
        document = bench.editor.get(f"/api/sounds/{opened.json['sound_id']}").json["document"]
        assert document["name"].endswith("member 4")
        filters = [
            one
            for one in document["main"]["chain"]
            + [part for layer in document["layers"] for part in layer["chain"]]
            if one["id"] == "tone-down"
        ]
        assert filters[0]["cutoff_hz"] == pytest.approx(values[TONE["target"]])

    def test_a_whole_instrument_as_sfz(self, bench):
        axes = [
            {"kind": "note", "values": [36, 48]},
            {"kind": "velocity", "values": [40, 120]},
            {"kind": "hit", "first": 1, "last": 2},
        ]
        made = done_round(bench, draws=1, of_sound={"axes": axes, "spreads": []})
        assert made["count"] == 8
        body = {"numbers": list(range(1, 9)), "library_id": bench.library_id}
        kept = bench.editor.post(f"/api/rounds/{made['id']}/keep", json=body).json["sample_ids"]
        wanted = {"sample_ids": kept, "sfz": True, "template": "{name}"}
        answer = bench.editor.post("/api/exports", json=wanted)
        assert answer.status_code in (200, 201), answer.text
        data = bench.editor.get(answer.json["path"]).data if answer.is_json else answer.data
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            (name,) = [one for one in archive.namelist() if one.endswith(".sfz")]
            text = archive.read(name).decode()
        assert text.count("<region>") == 8
        assert "lokey=0 hikey=42 pitch_keycenter=36" in text
        assert "lovel=1 hivel=80 seq_length=2" in text


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
