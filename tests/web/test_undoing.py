"""Taking back: by whom, of what, and what it may not bring about."""

import pytest

from tests.web.samples import bring, names, one, search, wav


def move(client, sample, status):
    answer = client.post("/api/samples/move", json={"ids": [sample["id"]], "status": status})
    return answer.json["gesture"] if answer.status_code == 200 else answer.status_code


def edits(client, sample, **given):
    body = {"base_version": one(client, sample)["version"], **given}
    answer = client.put(f"/api/samples/{sample['id']}/edits", json=body)
    assert answer.status_code == 200, answer.json
    return answer.json["gesture"]


def undo(client, gesture):
    return client.post("/api/samples/undo", json={"gesture": gesture}).status_code


def history(client, sample):
    return client.get(f"/api/samples/{sample['id']}/history").json["edits"]


@pytest.fixture
def gong(people):
    return bring(people.editor, people.library_id, "Gong")


@pytest.fixture
def approved_gong(people, gong):
    move(people.editor, gong, "in_review")
    move(people.reviewer, gong, "approved")
    return gong


class TestStatus:
    def test_a_reviewer_takes_an_approval_back(self, people, gong):
        move(people.editor, gong, "in_review")
        gesture = move(people.reviewer, gong, "approved")
        assert undo(people.editor, gesture) == 403
        assert undo(people.listener, gesture) == 403
        assert undo(people.reviewer, gesture) == 200
        assert one(people.listener, gong)["status"] == "in_review"

    def test_undoing_an_undo_needs_what_the_move_itself_needs(self, people, gong):
        move(people.editor, gong, "in_review")
        gesture = move(people.reviewer, gong, "approved")
        undo(people.reviewer, gesture)
        again = history(people.listener, gong)[0]
        assert again["label"] == "Undid: Moved to approved"
        assert undo(people.editor, again["gesture"]) == 403
        assert undo(people.reviewer, again["gesture"]) == 200
        assert one(people.listener, gong)["status"] == "approved"

    def test_what_was_approved_is_so_again_where_it_sounds_the_same(self, people, approved_gong):
        gesture = move(people.editor, approved_gong, "draft")
        body = {"ids": [approved_gong["id"]], "changes": {"licence": "CC0"}}
        people.editor.post("/api/samples/change", json=body)
        assert undo(people.editor, gesture) == 200
        assert one(people.listener, approved_gong)["status"] == "approved"

    def test_nothing_becomes_approved_that_nobody_has_heard(self, people, approved_gong):
        gesture = move(people.editor, approved_gong, "draft")
        edits(people.editor, approved_gong, gain_db=-12.0)
        assert undo(people.editor, gesture) == 200
        after = one(people.listener, approved_gong)
        assert (after["status"], after["edits"]) == ("draft", {"gain_db": -12.0})

    def test_of_two_changes_of_what_is_heard_the_first_brings_no_approval(
        self, people, approved_gong
    ):
        first = edits(people.editor, approved_gong, gain_db=-3.0)
        edits(people.editor, approved_gong, gain_db=-6.0)
        assert one(people.listener, approved_gong)["status"] == "draft"
        assert undo(people.editor, first) == 200
        after = one(people.listener, approved_gong)
        assert (after["status"], after["edits"]) == ("draft", {"gain_db": -6.0})

    def test_a_change_of_what_is_heard_taken_back_is_approved_as_before(
        self, people, approved_gong
    ):
        gesture = edits(people.editor, approved_gong, gain_db=-3.0, fade_in_s=0.1)
        assert undo(people.editor, gesture) == 200
        after = one(people.listener, approved_gong)
        assert (after["status"], after["edits"]) == ("approved", {})
        assert after["loudness_lufs"] == pytest.approx(approved_gong["loudness_lufs"])

    def test_a_rating_can_be_undone_with_the_right_to_rate(self, people, gong):
        body = {"base_version": gong["version"], "changes": {"rating": 4}}
        people.reviewer.patch(f"/api/samples/{gong['id']}", json=body)
        gesture = history(people.reviewer, gong)[0]["gesture"]
        assert undo(people.listener, gesture) == 403
        assert undo(people.reviewer, gesture) == 200
        assert one(people.listener, gong)["rating"] == 0

    @pytest.mark.parametrize("gesture", ["merge", "0" * 16, "x", "%"])
    def test_what_nobody_did_cannot_be_taken_back(self, people, gong, gesture):
        assert undo(people.owner, gesture) == 404


class TestBin:
    def test_it_is_told_in_the_history_and_taken_back(self, people, gong):
        answer = people.editor.post("/api/samples/bin", json={"ids": [gong["id"]]}).json
        assert (answer["changed"], names(people.editor)) == (1, [])
        shown = history(people.listener, gong)[0]
        assert shown["label"] == "Moved to bin"
        assert shown["changes"] == {"in the bin": [False, True]}
        assert undo(people.reviewer, answer["gesture"]) == 403
        assert undo(people.editor, answer["gesture"]) == 200
        assert names(people.editor) == ["Gong"]

    def test_two_people_bin_and_describe_without_a_conflict(self, people, gong):
        people.editor.post("/api/samples/bin", json={"ids": [gong["id"]]})
        people.editor.post("/api/samples/restore", json={"ids": [gong["id"]]})
        body = {"base_version": gong["version"], "changes": {"description": "large"}}
        late = people.owner.patch(f"/api/samples/{gong['id']}", json=body)
        assert (late.status_code, late.json["description"]) == (200, "large")

    def test_to_restore_what_is_not_there_changes_nothing(self, people, gong):
        people.editor.post("/api/samples/restore", json={"ids": [gong["id"]]})
        assert one(people.editor, gong)["version"] == gong["version"]


class TestMerge:
    @pytest.fixture
    def merged(self, people):
        """One sample with two others merged into it: all three, and the gesture."""
        add, library = people.editor, people.library_id
        kept = bring(add, library, "Latch", wav(hz=300), tags=["wood"])
        twin = bring(add, library, "Latch too", wav(hz=300), tags=["dry"], category="impact")
        third = bring(add, library, "Latch three", wav(hz=300), licence="CC0", tags=["wood"])
        comments = f"/api/samples/{twin['id']}/comments"
        people.reviewer.post(comments, json={"text": "late", "at_s": 0.1})
        people.reviewer.post(comments, json={"text": "good"})
        body = {"keep": kept["id"], "ids": [twin["id"], third["id"]]}
        return kept, twin, third, add.post("/api/samples/merge", json=body).json["gesture"]

    def test_the_one_kept_has_what_the_others_had(self, people, merged):
        kept, twin, *_ = merged
        after = one(people.listener, kept)
        assert after["tags"] == ["wood", "dry"]
        assert (after["category"], after["licence"]) == ("impact", "CC0")
        comments = people.listener.get(f"/api/samples/{kept['id']}/comments").json["comments"]
        assert [one["text"] for one in comments] == ["good", "late"]
        assert sorted(names(people.listener, binned=True)) == ["Latch three", "Latch too"]
        shown = history(people.listener, twin)[0]
        assert shown["label"] == "Merged into Latch"
        assert shown["changes"] == {"in the bin": [False, True], "comments": [2, 0]}

    def test_all_of_it_is_taken_back_at_once(self, people, merged):
        kept, twin, third, gesture = merged
        assert undo(people.reviewer, gesture) == 403
        assert undo(people.editor, gesture) == 200
        after = one(people.listener, kept)
        assert (after["tags"], after["category"], after["licence"]) == (["wood"], "", "")
        assert search(people.listener, binned=True)["total"] == 0
        for sample, count in ((kept, 0), (twin, 2), (third, 0)):
            url = f"/api/samples/{sample['id']}/comments"
            assert len(people.listener.get(url).json["comments"]) == count

    def test_no_more_tags_come_together_than_a_sample_may_have(self, people):
        add, library = people.editor, people.library_id
        kept, other = (
            bring(add, library, name, wav(hz=900), tags=[f"{word}{n}" for n in range(30)])
            for name, word in (("Bell", "a"), ("Bell too", "b"))
        )
        add.post("/api/samples/merge", json={"keep": kept["id"], "ids": [other["id"]]})
        assert len(one(add, kept)["tags"]) == 40
        body = {"ids": [kept["id"]], "add_tags": ["one more"]}
        refused = add.post("/api/samples/change", json=body)
        assert refused.json["problems"][0]["path"] == "add_tags"

    def test_taking_one_merge_back_leaves_another(self, people, merged):
        *_, gesture = merged
        add, library = people.editor, people.library_id
        bell, twin = (bring(add, library, name, wav(hz=900)) for name in ("Bell", "Bell too"))
        body = {"keep": bell["id"], "ids": [twin["id"]]}
        assert add.post("/api/samples/merge", json=body).status_code == 200
        undo(add, gesture)
        assert names(add, binned=True) == ["Bell too"]

    @pytest.mark.parametrize("ids", ["itself", "elsewhere"])
    def test_only_others_of_one_library_are_merged(self, people, gong, ids):
        other = people.editor.post("/api/libraries", json={"name": "Shed"}).json["id"]
        far = bring(people.editor, other, "Gong far")["id"]
        wanted = [gong["id"]] if ids == "itself" else [far]
        body = {"keep": gong["id"], "ids": wanted}
        assert people.editor.post("/api/samples/merge", json=body).status_code == 409
        assert one(people.editor, gong)["version"] == gong["version"]
