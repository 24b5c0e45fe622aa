"""Closer looks, playing, and shapes over the web."""

import base64
from typing import ClassVar

import numpy as np
import pytest

from nest_crate.catalogue.people.accounts import create_account
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.phrases import render_phrase
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import dump_sound


@pytest.fixture
def body(kick):
    return {"document": dump_sound(kick)}


def test_hit_and_phrase_are_answered_as_audio(client, kick, body):
    hit = {**body["document"]["hit"], "note": 40}
    answer = client.post("/api/playing/hits", json={**body, "hit": hit})
    samples, _ = decode_wav(answer.data)
    played = kick.hit.model_copy(update={"note": 40})
    np.testing.assert_array_equal(samples, render(kick, played).samples.astype(np.float32))
    offered = client.get("/api/playing/phrases").json["phrases"]
    assert [phrase["label"] for phrase in offered][:3] == ["One shot", "Held", "Tap and hold"]
    answer = client.post("/api/playing/phrases", json={**body, "phrase": "scale"})
    samples, _ = decode_wav(answer.data)
    expected = render_phrase(kick, "scale", RenderSettings()).samples
    np.testing.assert_array_equal(samples, expected.astype(np.float32))
    refused = client.post("/api/playing/phrases", json={**body, "phrase": "solo"})
    assert refused.status_code == 422
    assert refused.json["problems"][0]["path"] == "phrase"


def test_details_probe_repeats_and_recipe(client, body):
    looked = client.post("/api/judging/details", json=body).json
    assert looked["layers"]["body"]["note"] == "G1"
    assert looked["layers"]["knock"]["base_hz"] is None
    assert [hold["name"] for hold in looked["holds"]] == ["tap", "as set", "long"]
    outline = np.frombuffer(base64.b64decode(looked["holds"][0]["outline"]["data"]), np.int8)
    assert outline.size == 400
    walk = client.post("/api/judging/probe", json=body).json["steps"]
    assert walk[0]["where"] == "Body: source"
    assert not any(step["silent"] for step in walk)
    assert client.post("/api/judging/repeats", json=body).json["identical"] is True
    assert "Kiln door kick" in client.post("/api/judging/recipe", json=body).json["text"]


class TestShapes:
    CURVE: ClassVar = {
        "points": [{"time_s": 0, "value": 0}, {"time_s": 0.2, "value": 1, "bend": 2}]
    }

    def keep(self, client, name="Gear swell", **changes):
        body = {"name": name, "curve_name": "level", "curve": self.CURVE, **changes}
        return client.post("/api/shapes", json=body)

    def test_kept_listed_replaced_and_removed(self, client):
        kept = self.keep(client)
        assert kept.status_code == 201
        assert self.keep(client, curve_name="pitch").json["id"] == kept.json["id"]
        (own,) = client.get("/api/shapes").json["own"]
        assert (own["name"], own["curve_name"]) == ("Gear swell", "pitch")
        assert own["curve"]["points"][1]["bend"] == 2
        assert client.delete(f"/api/shapes/{own['id']}").status_code == 204
        assert client.get("/api/shapes").json["own"] == []
        assert client.delete(f"/api/shapes/{own['id']}").status_code == 404

    def test_set_of_partials_is_kept_beside_curves(self, client):
        partials = {"amplitudes": [1, 0, 0.5], "phases_deg": [0, 0, 90]}
        assert self.keep(client, curve_name="partials", curve=partials).status_code == 201
        (own,) = client.get("/api/shapes").json["own"]
        assert own["curve"]["phases_deg"] == [0, 0, 90]
        refused = self.keep(client, curve_name="partials", curve={"amplitudes": [2]})
        assert refused.json["problems"][0]["path"] == "curve.amplitudes.0"

    def test_stock_is_offered(self, client):
        names = [shape["name"] for shape in client.get("/api/shapes").json["stock"]]
        assert {"Pluck", "Double thump", "Duck", "Swell", "Stairs"} <= set(names)

    @pytest.mark.parametrize(
        ("changes", "path"),
        [
            ({"name": "  "}, "name"),
            ({"curve": {"points": []}}, "curve.points"),
            ({"curve": {"points": [{"time_s": -1}]}}, "curve.points.0.time_s"),
        ],
    )
    def test_bad_shape_is_refused_at_its_field(self, client, changes, path):
        refused = self.keep(client, **changes)
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == path
        assert client.get("/api/shapes").json["own"] == []

    def test_anothers_shape_cannot_be_removed(self, client, store):
        from nest_crate.catalogue.sounds.shapes import keep_shape
        from nest_crate.core.sound import Curve, CurvePoint

        with store.database.session() as session:
            other = create_account(session, handle="moth", name="Moth")
            curve = Curve(points=(CurvePoint(),))
            shape = keep_shape(session, other, name="Mine", curve_name="level", curve=curve)
            shape_id = shape.id
        assert client.delete(f"/api/shapes/{shape_id}").status_code == 404
        assert client.get("/api/shapes").json["own"] == []


def test_contributions_name_every_part_and_how_to_take_it_away(client, kick_document):
    answer = client.post("/api/judging/contributions", json={"document": kick_document})
    parts = {part["id"]: part for part in answer.json["parts"]}
    assert {"body", "knock"} <= set(parts)
    assert parts["body"]["change_db"] > 6
    assert parts["body"]["loudness_db"] > 1
    edits = parts["body"]["fix"]["edits"]
    assert edits == [{"path": "layers.0.mute", "value": True}]


def test_two_states_are_compared(client, kick_document):
    quieter = {**kick_document, "main": {**kick_document["main"], "level_db": -6.0}}
    body = {"document": kick_document, "other": quieter}
    answer = client.post("/api/judging/difference", json=body).json
    level_db = kick_document["main"].get("level_db", 0.0)
    assert answer["loudness_db"] == pytest.approx(6.0 + level_db, abs=0.1)
    assert answer["change_db"] == pytest.approx(6.0 + level_db, abs=0.1)
    same = {"document": kick_document, "other": kick_document}
    assert client.post("/api/judging/difference", json=same).json == {
        "change_db": 0.0,
        "loudness_db": 0.0,
    }


def test_details_tell_bands_and_what_a_held_note_comes_to(client, kick_document):
    details = client.post("/api/judging/details", json={"document": kick_document}).json
    body = details["layers"]["body"]
    assert len(body["bands_db"]) == 4
    assert max(body["bands_db"][0]) > max(body["bands_db"][3])
    assert body["held_st"] == pytest.approx(0.0, abs=0.05)
    assert details["held"] == {}
