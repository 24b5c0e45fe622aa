"""Samples found, changed, cared for, and given away: over the web, as a screen does it."""

import io

import pytest

from tests.web.samples import bring, names, one, search, wav


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
        noted = late.json["details"]
        assert noted["saved"] == {"name": "Large gong"}
        assert noted["yours"] == {"name": "Small gong"}
        chosen = self.patch(people.owner, sample, version=noted["version"], name="Small gong")
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
        version = one(people.owner, sample)["version"]
        body = {"base_version": version, "gain_db": -3.0}
        people.owner.put(f"/api/samples/{sample['id']}/edits", json=body)
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
