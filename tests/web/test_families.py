"""Batches over the API: plans, judging, what is kept."""

import io
import zipfile

import numpy as np
import pytest
from sqlalchemy import select

from nest_crate.catalogue.db.batch_models import BatchMember
from nest_crate.catalogue.db.models import Sample, Take
from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.families import overridden
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import load_hit, load_sound
from tests.web.batches import (
    KNOCK,
    TONE,
    audio,
    bench,
    done_round,
    made_batch,
    plan_of,
    run,
    sheet,
    work,
)

__all__ = ["bench"]


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
