"""Sides beside each other through the API: kinds of sides, what they hear, blind tests."""

import base64
import math

import numpy as np
import pytest

from nest_crate.core.formats.wav import decode_wav
from tests.web.samples import RATE, bring, hit, make_sound, wav


@pytest.fixture
def pair(people):
    """Two samples: the second later by 20 ms, 6 dB softer."""
    late = np.concatenate([np.zeros((1, 960)), 0.5 * hit()], axis=1)
    return [
        bring(people.editor, people.library_id, "Gong")["id"],
        bring(people.editor, people.library_id, "Gong late", wav(late))["id"],
    ]


def samples(*ids):
    return {"sides": [{"kind": "sample", "id": one} for one in ids]}


def compared(client, body):
    answer = client.post("/api/comparisons", json=body)
    assert answer.status_code == 200, answer.json
    return answer.json


def test_samples_are_aligned_and_matched(people, pair):
    found = compared(people.listener, samples(*pair))
    assert [one["starts_s"] for one in found["sides"]] == pytest.approx([0.02, 0.0])
    assert [one["gain_db"] for one in found["sides"]] == pytest.approx([0.0, 6.02], abs=0.01)
    (beside,) = found["pairs"]
    assert beside["differences"] == []
    assert beside["null_db"] < -80.0
    levels = found["sides"][0]["levels"]
    assert len(base64.b64decode(levels["data"])) == levels["bands"] * levels["steps"]
    assert levels["bands"] == len(found["edges_hz"]) - 1


def test_levels_shifts_and_stretches_are_as_asked(people, pair):
    asked = {**samples(*pair), "match": "off", "shifts_s": [None, 0.0]}
    found = compared(people.listener, asked)
    assert [one["gain_db"] for one in found["sides"]] == [0.0, 0.0]
    assert found["sides"][1]["starts_s"] == 0.0
    assert found["pairs"][0]["differences"]
    without = {**asked, "left_out": [{"from_s": 0.0, "to_s": 9.0}]}
    assert compared(people.listener, without)["pairs"][0]["differences"] == []


def test_drafts_revisions_and_sounds_stand_beside_each_other(people, kick_document):
    sound, kept = make_sound(people, kick_document)
    first, *others = kick_document["layers"]
    lower = {**first, "source": {**first["source"], "transpose_st": -7.0}}
    lower = {**kick_document, "name": "Lower", "layers": [lower, *others]}
    sides = [
        {"kind": "sound", "id": sound},
        {"kind": "sound", "id": sound, "revision": 1},
        {"kind": "sample", "id": kept["sample"]["id"]},
        {"kind": "draft", "document": lower},
    ]
    found = compared(people.editor, {"sides": sides})
    assert [one["differences"] for one in found["pairs"][:2]] == [[], []]
    assert found["pairs"][2]["differences"]
    names = people.editor.post("/api/comparisons/names", json={"sides": sides}).json["sides"]
    assert [one["detail"] for one in names] == ["as it is now", "revision 1", "sample", "draft"]
    assert [one["in_library"] for one in names] == [True, True, True, False]


def test_a_sound_stands_beside_itself_without_its_effects(people, kick_document):
    chain = [{"id": "f", "kind": "filter", "cutoff_hz": 200.0, "slope_db": 24}]
    document = {**kick_document, "main": {**kick_document["main"], "chain": chain}}
    sound, _ = make_sound(people, document)
    plain = {**kick_document, "main": {**kick_document["main"], "chain": []}}
    layers = [{**one, "chain": []} for one in plain["layers"]]
    sides = [
        {"kind": "draft", "document": {**plain, "layers": layers}},
        {"kind": "sound", "id": sound, "effects": False},
        {"kind": "sound", "id": sound},
    ]
    found = compared(people.editor, {"sides": sides, "match": "off"})
    assert found["pairs"][0]["null_db"] < -100.0
    assert found["pairs"][1]["differences"]
    names = people.editor.post("/api/comparisons/names", json={"sides": sides}).json["sides"]
    assert names[1]["detail"] == "as it is now, effects off"


def test_a_side_is_heard_as_it_is(people, pair):
    heard = people.listener.post("/api/comparisons/audio", json={"kind": "sample", "id": pair[1]})
    found, rate = decode_wav(heard.data)
    assert rate == RATE
    np.testing.assert_allclose(found[:, 960:], 0.5 * hit(), atol=1e-6)


def test_what_is_typical_of_the_kind_in_the_library(people):
    hz = (40.0, 50.0, 60.0, 70.0, 400.0)
    ids = [
        bring(
            people.editor,
            people.library_id,
            f"Kick {n}",
            wav(hz=one, seconds=0.2 + 0.1 * n),
            category="drum",
            subcategory="kick",
        )["id"]
        for n, one in enumerate(hz)
    ]
    bring(people.editor, people.library_id, "Snare", wav(seed=1), category="drum")
    found = people.listener.post("/api/comparisons/typical", json=samples(*ids[:2])).json
    assert (found["kind"], found["count"]) == ("drum / kick", 5)
    figures = {one["name"]: one for one in found["figures"]}
    length = figures["length_s"]
    assert (length["low"], length["middle"], length["high"]) == pytest.approx((0.3, 0.4, 0.5))
    assert figures["brightness_hz"]["middle"] == pytest.approx(60.0, rel=0.25)
    sides = compared(people.listener, samples(ids[0], ids[4]))["sides"]
    assert sides[1]["brightness_hz"] > 3 * figures["brightness_hz"]["high"]
    # A kind of which there is too little has the whole category's; without one there is nothing.
    rim = bring(
        people.editor, people.library_id, "Clap", wav(seed=2), category="drum", subcategory="clap"
    )
    body = {"sides": [{"kind": "sample", "id": rim["id"]}]}
    found = people.listener.post("/api/comparisons/typical", json=body).json
    assert (found["kind"], found["count"]) == ("drum", 7)
    plain = bring(people.editor, people.library_id, "Plain")["id"]
    body = {"sides": [{"kind": "sample", "id": plain}]}
    nothing = people.listener.post("/api/comparisons/typical", json=body).json
    assert nothing == {"kind": "", "count": 0, "figures": []}


@pytest.mark.parametrize(
    ("side", "status"),
    [
        ({"kind": "sample"}, 422),
        ({"kind": "sample", "id": 999_999}, 404),
        ({"kind": "sound", "id": 999_999}, 404),
        ({"kind": "draft"}, 422),
        ({"kind": "draft", "document": {"name": "x", "layers": "none"}}, 422),
        ({"kind": "recording", "digest": "0" * 64}, 404),
        ({"kind": "chain", "id": 1}, 422),
    ],
)
def test_a_side_that_is_none_is_refused(people, pair, side, status):
    body = {"sides": [{"kind": "sample", "id": pair[0]}, side]}
    assert people.editor.post("/api/comparisons", json=body).status_code == status


def test_one_side_or_five_are_refused(people, pair):
    for ids in (pair[:1], [*pair, *pair, pair[0]]):
        assert people.editor.post("/api/comparisons", json=samples(*ids)).status_code == 422


def test_strangers_compare_nothing_of_the_library(people, pair):
    assert people.stranger.post("/api/comparisons", json=samples(*pair)).status_code == 404


class TestBlindTests:
    def answers(self, right, wrong):
        return [{"was": 1, "said": 1}] * right + [{"was": 1, "said": 0}] * wrong

    def test_members_vote_and_see_each_others_results(self, people, pair):
        for who, right in ((people.listener, 14), (people.reviewer, 9)):
            body = {**samples(*pair), "answers": self.answers(right, 16 - right)}
            kept = who.post("/api/blind-tests", json=body)
            assert kept.status_code == 201
            tail = sum(math.comb(16, n) for n in range(right, 17)) / 2**16
            assert kept.json["chance"] == pytest.approx(tail)
        tests = people.editor.post("/api/blind-tests/of-sides", json=samples(*pair)).json["tests"]
        assert [(one["by"], one["correct"], one["trials"]) for one in tests] == [
            ("Tam Okerby", 9, 16),
            ("Juniper Vale", 14, 16),
        ]
        # Of other sides, and of these the other way round, nothing was heard.
        other = people.editor.post("/api/blind-tests/of-sides", json=samples(*reversed(pair)))
        assert other.json["tests"] == []

    def test_a_ranking_is_kept(self, people, pair):
        body = {**samples(*pair), "ranking": [1, 0]}
        assert people.listener.post("/api/blind-tests", json=body).json["ranking"] == [1, 0]
        for wrong in ([0], [0, 0], [1, 2]):
            refused = people.listener.post("/api/blind-tests", json={**body, "ranking": wrong})
            assert refused.status_code == 422

    def test_results_of_an_edited_sample_are_others(self, people, pair):
        body = {**samples(*pair), "answers": self.answers(3, 1)}
        people.listener.post("/api/blind-tests", json=body)
        edits = {"base_version": 1, "end_s": 0.2}
        assert people.editor.put(f"/api/samples/{pair[0]}/edits", json=edits).status_code == 200
        found = people.listener.post("/api/blind-tests/of-sides", json=samples(*pair)).json
        assert found["tests"] == []

    def test_no_trial_more_than_two_sides_and_no_library(self, people, pair, kick_document):
        refused = people.listener.post("/api/blind-tests", json=samples(*pair))
        assert refused.status_code == 422
        three = {**samples(*pair, pair[0]), "answers": self.answers(1, 0)}
        assert people.listener.post("/api/blind-tests", json=three).status_code == 409
        drafts = [{"kind": "draft", "document": kick_document}] * 2
        body = {"sides": drafts, "answers": self.answers(1, 0)}
        assert people.listener.post("/api/blind-tests", json=body).status_code == 409
        found = people.listener.post("/api/blind-tests/of-sides", json={"sides": drafts})
        assert found.json["tests"] == []
