"""Samples found, changed, cared for, and given away: over the web, as a screen does it."""

import io

import numpy as np
import pytest

from nest_crate.core.dsp.loudness import integrated_loudness_lufs
from nest_crate.core.formats.wav import decode_wav
from tests.web.samples import RATE, bring, hit, names, search, wav


def heard(client, sample):
    data = client.get(f"/api/samples/{sample['id']}/file?sample_format=float32").data
    return decode_wav(data)[0]


def one(client, sample):
    return client.get(f"/api/samples/{sample['id']}").json


@pytest.fixture
def shelf(people):
    """Four samples of three kinds."""
    add = people.editor
    bring(add, people.library_id, "Kiln door kick", wav(hz=55), category="drum", tags=["low"])
    bring(add, people.library_id, "Potting snare", wav(seed=1), category="drum", tags=["dry"])
    bring(
        add,
        people.library_id,
        "Pollen bell",
        wav(hz=1760, seconds=2, decay_s=0.5),
        category="tonal",
        description="for the greenhouse door",
    )
    bring(add, people.library_id, "Steam hiss", wav(seed=2, seconds=1, decay_s=9))
    return people


class TestFinding:
    @pytest.mark.parametrize(
        ("words", "found"),
        [
            ("kiln", ["Kiln door kick"]),
            ("door", ["Kiln door kick", "Pollen bell"]),
            ("kick door", ["Kiln door kick"]),
            ("drum", ["Kiln door kick", "Potting snare"]),
            ("pott", ["Potting snare"]),
            ("poling", []),
            ("polen bell", ["Pollen bell"]),
            ("snrae", ["Potting snare"]),
            ("greenhuose", ["Pollen bell"]),
            ("kcik", ["Kiln door kick"]),
            ("zzz", []),
        ],
    )
    def test_words_find_also_with_typos(self, shelf, words, found):
        assert sorted(names(shelf.listener, words=words)) == found

    def test_the_name_counts_more_than_the_description(self, shelf):
        assert names(shelf.listener, words="door")[0] == "Kiln door kick"

    def test_how_a_typo_was_read_is_told(self, shelf):
        assert search(shelf.listener, words="snrae")["read_as"] == {"snrae": ["snare"]}
        assert search(shelf.listener, words="snare")["read_as"] == {}

    def test_facets_count_what_is_found_without_their_own_choice(self, shelf):
        found = search(shelf.listener, categories=["drum"])
        assert found["total"] == 2
        assert (
            found["choices"]["category"]
            == {"drum": 2, "tonal": 1, "nature": 0}
            | {
                key: value
                for key, value in found["choices"]["category"].items()
                if key not in ("nature",)
            }
            or found["choices"]["category"]["tonal"] == 1
        )
        assert found["choices"]["tag"] == {"low": 1, "dry": 1}
        assert found["names"]["library"][str(shelf.library_id)] == "Glasshouse Clockworks"
        assert search(shelf.listener, categories=["drum"], tags=["low"])["total"] == 1

    def test_ranges_are_those_of_the_measures(self, shelf):
        long = search(shelf.listener, ranges={"length_s": [0.9, None]})
        assert sorted(s["name"] for s in long["samples"]) == ["Pollen bell", "Steam hiss"]
        high = names(shelf.listener, ranges={"root_hz": [1000, 2000]})
        assert high == ["Pollen bell"]
        facet = search(shelf.listener)["ranges"]["length_s"]
        assert (facet["low"], facet["high"]) == (pytest.approx(0.3), pytest.approx(2.0))
        assert sum(facet["counts"]) == 4

    @pytest.mark.parametrize(
        "query",
        [
            {"ranges": {"weight": [1, 2]}},
            {"ranges": {"length_s": [2, 1]}},
            {"words": "x" * 201},
            {"sort": "colour"},
            {"unknown": 1},
        ],
    )
    def test_what_cannot_be_asked_is_refused(self, shelf, query):
        answer = shelf.listener.post("/api/samples/search", json={"query": query})
        assert answer.status_code == 422

    def test_order_and_pages(self, shelf):
        by_name = ["Kiln door kick", "Pollen bell", "Potting snare", "Steam hiss"]
        assert names(shelf.listener, sort="name") == by_name
        assert names(shelf.listener, sort="name", descending=True) == by_name[::-1]
        body = {"query": {"sort": "name"}, "offset": 1, "limit": 2}
        page = shelf.listener.post("/api/samples/search", json=body).json
        assert [s["name"] for s in page["samples"]] == by_name[1:3]
        assert page["total"] == 4
        assert names(shelf.listener, sort="length_s", descending=True)[0] == "Pollen bell"

    def test_more_like_this_puts_the_nearest_first(self, shelf):
        lower = bring(shelf.editor, shelf.library_id, "Wilt thud", wav(hz=52))
        near = names(shelf.listener, like=lower["id"])
        assert near[:2] == ["Wilt thud", "Kiln door kick"]

    def test_changes_by_others_are_found_at_once(self, shelf):
        bell = search(shelf.owner, words="pollen")["samples"][0]
        body = {"base_version": bell["version"], "changes": {"name": "Dew chime"}}
        shelf.owner.patch(f"/api/samples/{bell['id']}", json=body)
        assert names(shelf.listener, words="chime") == ["Dew chime"]
        assert names(shelf.listener, words="pollen") == []

    def test_searches_are_kept_under_a_name(self, shelf):
        query = {"words": "door", "categories": ["drum"]}
        body = {"name": "Doors", "query": query}
        kept = shelf.listener.post("/api/searches", json=body).json
        shelf.listener.post("/api/searches", json=body)
        listed = shelf.listener.get("/api/searches").json["searches"]
        assert [s["name"] for s in listed] == ["Doors"]
        assert names(shelf.listener, **listed[0]["query"]) == ["Kiln door kick"]
        assert shelf.editor.get("/api/searches").json["searches"] == []
        assert shelf.editor.delete(f"/api/searches/{kept['id']}").status_code == 404
        assert shelf.listener.delete(f"/api/searches/{kept['id']}").status_code == 204

    def test_the_map_has_a_place_for_each(self, shelf):
        found = shelf.listener.get(f"/api/libraries/{shelf.library_id}/map").json
        assert len(found["ids"]) == len(found["x"]) == len(found["y"]) == 4
        assert all(0 <= value <= 1 for value in (*found["x"], *found["y"]))


class TestChanging:
    def patch(self, client, sample, version=None, **changes):
        body = {"base_version": version or sample["version"], "changes": changes}
        return client.patch(f"/api/samples/{sample['id']}", json=body)

    def test_two_people_change_different_fields_and_both_stay(self, people):
        sample = bring(people.editor, people.library_id, "Gong")
        assert self.patch(people.editor, sample, name="Large gong").status_code == 200
        both = self.patch(people.owner, sample, description="from the hall")
        assert both.json["name"] == "Large gong"
        assert both.json["description"] == "from the hall"

    def test_the_same_field_is_a_conflict_that_tells_both_values(self, people):
        sample = bring(people.editor, people.library_id, "Gong")
        self.patch(people.editor, sample, name="Large gong", tags=["brass"])
        late = self.patch(people.owner, sample, name="Small gong", tags=["brass"])
        assert (late.status_code, late.json["code"]) == (409, "stale_save")
        told = late.json["details"]
        assert told["saved"] == {"name": "Large gong"}
        assert told["yours"] == {"name": "Small gong"}
        chosen = self.patch(people.owner, sample, version=told["version"], name="Small gong")
        assert chosen.json["name"] == "Small gong"

    @pytest.mark.parametrize(
        ("changes", "path"),
        [
            ({"name": "  "}, "name"),
            ({"category": "vehicle"}, "category"),
            ({"subcategory": "kick"}, "subcategory"),
            ({"tags": ["a/b"]}, "tags"),
            ({"rating": 6}, "rating"),
            ({"tempo_bpm": 5}, "tempo_bpm"),
            ({"file_digest": "0" * 64}, "file_digest"),
            ({"status": "approved"}, "status"),
        ],
    )
    def test_bad_values_are_told_at_their_field(self, people, changes, path):
        sample = bring(people.editor, people.library_id, "Gong")
        answer = self.patch(people.editor, sample, **changes)
        assert answer.status_code == 422
        assert path in answer.json["problems"][0]["path"]
        assert one(people.editor, sample)["version"] == sample["version"]

    def test_many_at_once_are_undone_at_once_and_later_changes_stay(self, shelf):
        ids = [s["id"] for s in search(shelf.editor, sort="name")["samples"]]
        body = {"ids": ids, "changes": {"licence": "CC0"}, "add_tags": ["Set One"]}
        done = shelf.editor.post("/api/samples/change", json=body).json
        assert done["changed"] == 4
        first = one(shelf.editor, {"id": ids[0]})
        assert first["tags"] == ["low", "set one"]
        self.patch(shelf.owner, first, licence="ours alone")
        undone = shelf.editor.post("/api/samples/undo", json={"gesture": done["gesture"]})
        assert sorted(undone.json["ids"]) == sorted(ids)
        after = [one(shelf.editor, {"id": i}) for i in ids]
        assert [s["licence"] for s in after] == ["ours alone", "", "", ""]
        assert all("set one" not in s["tags"] for s in after)
        again = shelf.editor.post("/api/samples/undo", json={"gesture": done["gesture"]})
        assert again.status_code == 404
        history = shelf.listener.get(f"/api/samples/{ids[0]}/history").json["edits"]
        assert [e["by"] for e in history[:2]] == ["Isolde Marrow", "Wren Halloway"]

    def test_one_that_is_not_allowed_stops_all(self, people):
        own = people.stranger.post("/api/libraries", json={"name": "Moth's"}).json["id"]
        hidden = bring(people.stranger, own, "Secret")["id"]
        mine = bring(people.editor, people.library_id, "Gong")["id"]
        body = {"ids": [mine, hidden], "changes": {"licence": "CC0"}}
        assert people.editor.post("/api/samples/change", json=body).status_code == 404
        assert one(people.editor, {"id": mine})["licence"] == ""

    def test_the_bin_gives_back(self, shelf):
        ids = [search(shelf.editor, words="kiln")["samples"][0]["id"]]
        assert shelf.editor.post("/api/samples/bin", json={"ids": ids}).status_code == 200
        assert "Kiln door kick" not in names(shelf.editor)
        assert names(shelf.editor, binned=True) == ["Kiln door kick"]
        assert shelf.editor.post("/api/samples/bin", json={"ids": ids}).status_code == 404
        shelf.editor.post("/api/samples/restore", json={"ids": ids})
        assert "Kiln door kick" in names(shelf.editor)

    @pytest.mark.parametrize(
        ("way", "status"),
        [
            (["approved"], 409),
            (["in_review", "retired"], 409),
            (["in_review", "approved", "in_review"], 409),
            (["in_review", "approved", "retired", "draft"], 200),
            (["in_review", "draft"], 200),
        ],
    )
    def test_a_status_goes_only_the_declared_ways(self, people, way, status):
        sample = bring(people.owner, people.library_id, "Gong")
        codes = [
            people.owner.post(
                "/api/samples/move", json={"ids": [sample["id"]], "status": step}
            ).status_code
            for step in way
        ]
        assert codes == [200] * (len(way) - 1) + [status]

    def test_what_is_approved_and_then_heard_otherwise_is_a_draft_again(self, people):
        sample = bring(people.owner, people.library_id, "Gong")
        for status in ("in_review", "approved"):
            body = {"ids": [sample["id"]], "status": status}
            people.owner.post("/api/samples/move", json=body)
        people.owner.put(f"/api/samples/{sample['id']}/edits", json={"gain_db": -3.0})
        assert one(people.owner, sample)["status"] == "draft"

    def test_comments_lie_at_a_time_and_are_taken_back(self, people):
        sample = bring(people.editor, people.library_id, "Gong")
        url = f"/api/samples/{sample['id']}/comments"
        people.reviewer.post(url, json={"text": "a click here", "at_s": 0.12})
        people.editor.post(url, json={"text": "thanks"})
        listed = people.listener.get(url).json["comments"]
        assert [(c["text"], c["at_s"]) for c in listed] == [
            ("thanks", None),
            ("a click here", 0.12),
        ]
        late = people.reviewer.post(url, json={"text": "x", "at_s": 0.31})
        assert late.json["problems"][0]["path"] == "at_s"
        click = listed[1]["id"]
        assert people.editor.delete(f"/api/comments/{click}").status_code == 403
        assert people.reviewer.delete(f"/api/comments/{click}").status_code == 204


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
        answer = people.editor.put(f"/api/samples/{sample['id']}/edits", json=edits)
        assert answer.status_code == 422

    def test_duplicates_are_found_and_merged(self, shelf):
        add = shelf.editor
        kick = search(add, words="kiln")["samples"][0]
        twin = bring(add, shelf.library_id, "Same kick", wav(hz=55), tags=["twin"])
        near = bring(add, shelf.library_id, "Near kick", wav(hz=55.2))
        groups = add.get(f"/api/libraries/{shelf.library_id}/duplicates").json["groups"]
        assert groups[0] == {"exact": True, "ids": [kick["id"], twin["id"]]}
        assert groups[1] == {"exact": False, "ids": [kick["id"], near["id"]]}
        body = {"keep": kick["id"], "ids": [twin["id"]]}
        assert add.post("/api/samples/merge", json=body).status_code == 204
        assert one(add, kick)["tags"] == ["low", "twin"]
        assert names(add, binned=True) == ["Same kick"]

    def test_gaps_are_listed_with_their_samples(self, shelf):
        found = shelf.listener.get(f"/api/libraries/{shelf.library_id}/gaps").json["gaps"]
        by_code = {gap["code"]: gap["ids"] for gap in found}
        assert len(by_code["no_licence"]) == 4
        assert len(by_code["no_tags"]) == 2
        assert "silent" not in by_code


class TestSoundsAndLineage:
    def make(self, people, document, **take):
        body = {"library_id": people.library_id, "document": document}
        sound = people.editor.post("/api/sounds", json=body).json
        kept = people.editor.post(
            f"/api/sounds/{sound['id']}/takes",
            json={
                "base_version": 1,
                "document": document,
                "hit": document["hit"],
                "library_id": people.library_id,
                "name": "Kick",
                **take,
            },
        )
        assert kept.status_code == 201, kept.json
        return sound, kept.json

    def test_eight_takes_are_a_numbered_group(self, people, kick_document):
        _, kept = self.make(people, kick_document, count=8)
        found = search(people.listener, group="Kick", sort="name")["samples"]
        assert [s["name"] for s in found] == [f"Kick {n:02}" for n in range(1, 9)]
        assert [s["variation"] for s in found] == list(range(1, 9))
        assert [s["hit"]["number"] for s in found] == list(range(1, 9))
        assert sorted(kept["ids"]) == sorted(s["id"] for s in found)

    def test_what_was_made_from_a_sound(self, people, kick_document):
        sound, _ = self.make(people, kick_document)
        bring(people.editor, people.library_id, "Other")
        assert names(people.listener, sound_id=sound["id"]) == ["Kick"]
        listed = people.listener.get("/api/sounds").json["sounds"]
        assert listed[0]["takes"] == 1
        text = people.listener.get(
            f"/api/samples/{search(people.listener, words='kick')['samples'][0]['id']}/recipe"
        ).json["text"]
        assert "Hz" in text
        assert kick_document["name"] in text

    def test_rendering_again_is_bit_for_bit_the_same(self, people, kick_document):
        _, kept = self.make(people, kick_document)
        url = f"/api/samples/{kept['sample']['id']}/rerender"
        looked = people.editor.post(f"{url}/preview", json={}).json
        assert looked["same"]
        assert looked["likeness"] < 1e-5
        assert people.editor.post(url, json={}).json["changed"] is False

    def test_rendering_at_96_khz_and_back(self, people, kick_document):
        _, kept = self.make(people, kick_document)
        url = f"/api/samples/{kept['sample']['id']}/rerender"
        looked = people.editor.post(f"{url}/preview", json={"sample_rate": 96000}).json
        audio = people.editor.get(f"/api/auditions/{looked['digest']}.wav").data
        assert decode_wav(audio)[1] == 96000
        assert looked["likeness"] < 0.3
        done = people.editor.post(url, json={"sample_rate": 96000}).json
        after = one(people.editor, kept["sample"])
        assert after["sample_rate"] == 96000
        assert after["length_s"] == pytest.approx(kept["sample"]["length_s"], abs=2e-3)
        people.editor.post("/api/samples/undo", json={"gesture": done["gesture"]})
        back = one(people.editor, kept["sample"])
        assert back["sample_rate"] == 48000
        assert back["file_digest"] == kept["sample"]["file_digest"]

    def test_a_newer_revision_is_told_and_taken_up(self, people, kick_document):
        sound, kept = self.make(people, kick_document)
        outdated = f"/api/libraries/{people.library_id}/outdated"
        assert people.listener.get(outdated).json["ids"] == []
        main = {**kick_document["main"], "level_db": -12.0}
        changed = {"base_version": kept["version"], "document": {**kick_document, "main": main}}
        people.editor.post(f"/api/sounds/{sound['id']}/revisions", json=changed)
        assert people.listener.get(outdated).json["ids"] == [kept["sample"]["id"]]
        url = f"/api/samples/{kept['sample']['id']}/rerender"
        looked = people.editor.post(f"{url}/preview", json={"newest": True}).json
        assert looked["revision"] == 2
        assert looked["after"]["peak_db"] < looked["before"]["peak_db"] - 6.0
        people.editor.post(url, json={"newest": True})
        assert people.listener.get(outdated).json["ids"] == []
        assert one(people.editor, kept["sample"])["sound_revision"] == 2

    def test_what_was_brought_in_cannot_be_rendered(self, people):
        sample = bring(people.editor, people.library_id, "Gong")
        answer = people.editor.post(f"/api/samples/{sample['id']}/rerender", json={})
        assert (answer.status_code, answer.json["code"]) == (409, "not_possible")

    @pytest.mark.parametrize("kind", ["json", "zip"])
    def test_a_sound_goes_out_and_comes_in_as_the_same_bytes(self, people, kick_document, kind):
        sound, _ = self.make(people, kick_document)
        url = f"/api/sounds/{sound['id']}/file?kind={kind}"
        data = people.listener.get(url).data
        assert data == people.listener.get(url).data
        own = people.stranger.post("/api/libraries", json={"name": "Moth's"}).json["id"]
        brought = people.stranger.post(
            f"/api/libraries/{own}/sounds", data={"file": (io.BytesIO(data), f"a.{kind}")}
        )
        again = people.stranger.get(f"/api/sounds/{brought.json['sound_id']}/file?kind={kind}")
        assert again.data == data

    def test_a_sound_takes_its_recordings_along(self, people, kick_document):
        made = people.editor.post("/api/recordings", data={"file": (io.BytesIO(wav()), "a.wav")})
        digest = made.json["digest"]
        layer = {"id": "s", "name": "S", "source": {"kind": "sample", "recording": digest}}
        document = {"name": "From a file", "layers": [layer]}
        body = {"library_id": people.library_id, "document": document}
        sound = people.editor.post("/api/sounds", json=body).json
        data = people.editor.get(f"/api/sounds/{sound['id']}/file").data
        own = people.stranger.post("/api/libraries", json={"name": "Moth's"}).json["id"]
        url = f"/api/libraries/{own}/sounds"
        people.stranger.post(url, data={"file": (io.BytesIO(data), "a.zip")})
        listed = people.stranger.get("/api/recordings").json["recordings"]
        assert [one["digest"] for one in listed] == [digest]

    @pytest.mark.parametrize(
        "data", [b"PK nonsense", b"{", b"", b"\x00" * 100, b'{"name": 1}'], ids=range(5)
    )
    def test_a_broken_sound_file_leaves_nothing(self, people, data):
        url = f"/api/libraries/{people.library_id}/sounds"
        answer = people.editor.post(url, data={"file": (io.BytesIO(data), "a.zip")})
        assert answer.status_code == 422
        assert people.editor.get("/api/sounds").json["sounds"] == []

    def test_sounds_are_described_copied_and_binned(self, people, kick_document):
        sound, _ = self.make(people, kick_document)
        url = f"/api/sounds/{sound['id']}"
        said = {"category": "drum", "tags": ["Low"], "description": "of the kiln"}
        assert people.editor.patch(url, json=said).status_code == 204
        copy = people.editor.post(f"{url}/copies").json
        assert (copy["category"], copy["tags"]) == ("drum", ["low"])
        assert copy["name"] == f"{sound['name']} copy"
        people.editor.put(f"{url}/bin", json={"binned": True})
        assert [s["id"] for s in people.editor.get("/api/sounds").json["sounds"]] == [copy["id"]]
        assert people.editor.get(url).status_code == 404
        binned = people.editor.get("/api/sounds?binned=true").json["sounds"]
        assert [s["id"] for s in binned] == [sound["id"]]
        people.editor.put(f"{url}/bin", json={"binned": False})
        assert people.editor.get(url).status_code == 200


def test_wishes_are_made_answered_and_closed(people):
    url = f"/api/libraries/{people.library_id}/wishes"
    file = {"file": (io.BytesIO(wav()), "like this.wav")}
    shown = people.editor.post("/api/recordings", data=file).json
    body = {"title": "A gong", "text": "large", "recording_id": shown["id"]}
    wish = people.editor.post(url, json=body).json
    assert wish["reference"] == shown["digest"]
    stolen = people.listener.post(url, json={"title": "x", "recording_id": shown["id"]})
    assert stolen.json["problems"][0]["path"] == "recording_id"
    sample = bring(people.editor, people.library_id, "Gong")
    answer = people.editor.post(
        f"/api/wishes/{wish['id']}/answer", json={"sample_id": sample["id"]}
    )
    assert (answer.json["state"], answer.json["sample_id"]) == ("answered", sample["id"])
    other = people.stranger.post("/api/libraries", json={"name": "Moth's"}).json["id"]
    hidden = bring(people.stranger, other, "Secret")["id"]
    refused = people.editor.post(f"/api/wishes/{wish['id']}/answer", json={"sample_id": hidden})
    assert refused.status_code == 404
    closed = people.listener.put(f"/api/wishes/{wish['id']}", json={"state": "closed"})
    assert closed.status_code == 403
    assert (
        people.editor.put(f"/api/wishes/{wish['id']}", json={"state": "closed"}).status_code == 200
    )
