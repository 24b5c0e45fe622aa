"""Samples cared for: names, loudness, silence, duplicates, gaps."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from nest_crate.catalogue.upkeep import batch_changes
from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from tests.web.samples import RATE, bring, heard, hit, names, one, search, wav


class TestCare:
    def test_names_by_template_are_shown_first(self, shelf):
        ids = [s["id"] for s in search(shelf.editor, sort="name", categories=["drum"])["samples"]]
        body = {"ids": ids, "template": "{category}_{name:snake}_{number:02}"}
        plan = shelf.editor.post("/api/samples/rename", json=body).json
        wanted = ["drum_kiln_door_kick_01", "drum_potting_snare_02"]
        assert [n["after"] for n in plan["names"]] == wanted
        assert plan["gesture"] is None
        assert names(shelf.editor, words="kiln") == ["Kiln door kick"]
        shelf.editor.post("/api/samples/rename", json={**body, "apply": True})
        assert sorted(names(shelf.editor, categories=["drum"])) == wanted

    @pytest.mark.parametrize(
        ("template", "words"),
        [
            ("{weight}", "there is no {weight}"),
            ("{name.__class__}", "there is no"),
            ("{name!r}", "there is no"),
            ("{0}", "there is no {0}"),
            ("{name:>9999999}", "a text is written"),
            ("{number:x}", "say its digits"),
            ("{name", "brace"),
            ("{description}", "there is no"),
        ],
    )
    def test_templates_do_nothing_but_name(self, shelf, template, words):
        ids = [search(shelf.editor)["samples"][0]["id"]]
        answer = shelf.editor.post("/api/samples/rename", json={"ids": ids, "template": template})
        assert answer.status_code == 422
        assert answer.json["problems"][0]["path"] == "template"
        assert words in answer.json["detail"]

    def test_loudness_is_matched_as_far_as_the_ceiling_allows(self, people):
        steady = bring(people.editor, people.library_id, "Hum", wav(hit(decay_s=1e9, level=0.2)))
        click = np.zeros((1, RATE))
        click[0, 100] = 0.5
        sharp = bring(people.editor, people.library_id, "Tick", wav(click))
        body = {"ids": [steady["id"], sharp["id"]], "target_lufs": -14.0, "apply": True}
        rows = people.editor.post("/api/samples/loudness", json=body).json["rows"]
        loud = heard(people.editor, steady)
        assert integrated_loudness_lufs(loud, RATE) == pytest.approx(-14.0, abs=0.05)
        assert [r["held_back"] for r in rows] == [False, True]
        assert one(people.editor, sharp)["true_peak_db"] == pytest.approx(-1.0, abs=0.02)
        # The files themselves were not touched.
        assert one(people.editor, steady)["file_digest"] == steady["file_digest"]

    def test_silence_is_trimmed_and_comes_back_by_undo(self, people):
        sound = np.concatenate([np.zeros((1, 4800)), hit(), np.zeros((1, 9600))], axis=1)
        sample = bring(people.editor, people.library_id, "Late", wav(sound))
        body = {"ids": [sample["id"]], "fade_out_s": 0.05, "apply": True}
        done = people.editor.post("/api/samples/trim", json=body).json
        after = one(people.editor, sample)
        assert after["edits"]["start_s"] == pytest.approx(0.099, abs=1e-3)
        assert after["length_s"] == pytest.approx(0.31, abs=0.01)
        trimmed = heard(people.editor, sample)
        assert abs(trimmed[0, -1]) < 1e-4
        start = round(after["edits"]["start_s"] * RATE)
        np.testing.assert_allclose(trimmed[0, :4000], sound[0, start : start + 4000], atol=1e-6)
        people.editor.post("/api/samples/undo", json={"gesture": done["gesture"]})
        back = one(people.editor, sample)
        assert back["length_s"] == pytest.approx(sample["length_s"])
        np.testing.assert_allclose(heard(people.editor, sample), sound, atol=1e-6)

    @pytest.mark.parametrize("edits", [{"start_s": 0.4}, {"start_s": 0.2, "end_s": 0.1}])
    def test_a_part_outside_the_sound_is_refused(self, people, edits):
        sample = bring(people.editor, people.library_id, "Gong")
        body = {"base_version": sample["version"], **edits}
        answer = people.editor.put(f"/api/samples/{sample['id']}/edits", json=body)
        assert answer.status_code == 422
        assert one(people.editor, sample) == sample

    def test_two_people_who_set_what_is_heard_are_told(self, people):
        sample = bring(people.editor, people.library_id, "Gong")
        url, version = f"/api/samples/{sample['id']}/edits", sample["version"]
        first = people.editor.put(url, json={"base_version": version, "gain_db": -3.0}).json
        late = people.owner.put(url, json={"base_version": version, "fade_in_s": 0.01})
        assert (late.status_code, late.json["code"]) == (409, "stale_save")
        shown = late.json["details"]
        assert shown["saved"] == {"edits": {"gain_db": -3.0}}
        assert shown["yours"] == {"edits": {"fade_in_s": 0.01}}
        assert shown["version"] == first["version"] == one(people.editor, sample)["version"]
        again = {"base_version": shown["version"], "fade_in_s": 0.01}
        assert people.owner.put(url, json=again).status_code == 200
        # The same once more, its answer having been lost on the way, is no conflict.
        assert people.owner.put(url, json=again).status_code == 200
        # Words that someone else changes meanwhile are no conflict with what is heard.
        now = one(people.owner, sample)["version"]
        body = {"base_version": now, "changes": {"licence": "house"}}
        people.editor.patch(f"/api/samples/{sample['id']}", json=body)
        apart = people.owner.put(url, json={"base_version": now, "gain_db": -6.0})
        assert apart.status_code == 200

    @pytest.mark.parametrize(
        ("url", "body"),
        [
            ("rename", {"template": "{name} {number}"}),
            ("loudness", {"target_lufs": -30.0}),
            ("trim", {"fade_out_s": 0.05}),
        ],
    )
    def test_a_plan_for_what_was_changed_meanwhile_is_not_carried_out(
        self, people, monkeypatch, url, body
    ):
        sample = bring(people.editor, people.library_id, "Gong")
        plain = batch_changes.change_each

        def later(*given, **options):
            with ThreadPoolExecutor() as pool:
                changed = {"base_version": sample["version"], "changes": {"name": "Other"}}
                path = f"/api/samples/{sample['id']}"
                pool.submit(people.owner.patch, path, json=changed).result()
            return plain(*given, **options)

        monkeypatch.setattr(batch_changes, "change_each", later)
        sent = {"ids": [sample["id"]], "apply": True, **body}
        answer = people.editor.post(f"/api/samples/{url}", json=sent)
        assert (answer.status_code, answer.json["code"]) == (409, "not_possible")
        after = one(people.editor, sample)
        assert (after["name"], after["edits"]) == ("Other", {})

    def test_duplicates_are_found_and_merged(self, shelf):
        add = shelf.editor
        kick = search(add, words="kiln")["samples"][0]
        twin = bring(add, shelf.library_id, "Same kick", wav(hz=55), tags=["twin"])
        late = np.pad(0.4 * hit(hz=55), ((0, 0), (2400, 0)))
        near = bring(add, shelf.library_id, "Kick, later and softer", wav(late))
        bring(add, shelf.library_id, "Kick a semitone up", wav(hz=55 * 2 ** (1 / 12)))
        groups = add.get(f"/api/libraries/{shelf.library_id}/duplicates").json["groups"]
        assert groups[0] == {"exact": True, "ids": [kick["id"], twin["id"]]}
        assert groups[1:] == [{"exact": False, "ids": [kick["id"], near["id"]]}]
        body = {"keep": kick["id"], "ids": [twin["id"]]}
        assert add.post("/api/samples/merge", json=body).status_code == 200
        assert one(add, kick)["tags"] == ["low", "twin"]
        assert names(add, binned=True) == ["Same kick"]

    def test_gaps_are_listed_with_their_samples(self, shelf):
        found = shelf.listener.get(f"/api/libraries/{shelf.library_id}/gaps").json["gaps"]
        by_code = {gap["code"]: gap["ids"] for gap in found}
        assert len(by_code["no_licence"]) == 4
        assert len(by_code["no_tags"]) == 2
        assert "silent" not in by_code
