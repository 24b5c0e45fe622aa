import base64
import hashlib
import json
import math
import re

import numpy as np
import pytest

from nest_crate.catalogue.db.models import Sound
from nest_crate.catalogue.people.accounts import create_account
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.formats.wav import decode_wav
from nest_crate.jobs.rendering.client import Renderers
from nest_crate.web.bodies import AuditionBody
from tests.core.test_document import document
from tests.web.samples import audition_parts


@pytest.fixture
def sound(client, store, kick_document):
    body = {"library_id": store.library_id, "document": kick_document}
    return client.post("/api/sounds", json=body).json


def keep(client, sound, name="A take", **changes):
    body = {
        "base_version": sound["version"],
        "document": sound["document"],
        "hit": sound["document"]["hit"],
        "library_id": sound["library_id"],
        "name": name,
        **changes,
    }
    return client.post(f"/api/sounds/{sound['id']}/takes", json=body)


class TestAudition:
    def test_answers_with_audio_measures_and_drawing(self, client, kick, kick_document):
        parts = audition_parts(client, {"document": kick_document, "details": True})
        assert list(parts) == ["audio", "digest", "figures", "pictures", "details"]
        answer = {**parts["figures"], **parts["pictures"]}
        assert hashlib.sha256(parts["audio"]).hexdigest() == answer["digest"] == parts["digest"]
        samples, rate = decode_wav(parts["audio"])
        expected = render(kick).samples
        assert (rate, answer["frames"]) == (48000, expected.shape[1])
        np.testing.assert_array_equal(samples, expected.astype(np.float32))
        assert answer["measures"]["note"] == "G1"
        assert set(answer["layers"]) == {"body", "knock"}
        assert set(answer["levels_db"]) == {"body", "knock", "tone-down", "warm", "main"}
        extremes = np.frombuffer(base64.b64decode(answer["outline"]["data"]), np.int8)
        assert np.abs(extremes).max() == 127
        drawing = answer["spectrogram"]
        size = len(base64.b64decode(drawing["data"]))
        assert size == drawing["rows"] * drawing["columns"]
        assert answer["took"]["total_ms"] > 0

    def test_only_what_comes_after_a_change_is_made_anew(self, client, kick_document):
        client.post("/api/auditions", json={"document": kick_document})
        main = {**kick_document["main"], "level_db": -3.0}
        changed = {**kick_document, "main": main}
        took = client.post("/api/auditions", json={"document": changed}).json["took"]
        assert took["stages"] - took["remembered"] == 1
        assert took["remembered"] >= 3

    def test_a_step_of_the_path_is_listened_at(self, client, kick, kick_document):
        body = {"document": kick_document, "listen_at": "knock"}
        parts = audition_parts(client, body)
        samples, _ = decode_wav(parts["audio"])
        expected = render(kick, listen_at="knock").samples
        np.testing.assert_array_equal(samples, expected.astype(np.float32))
        assert parts["figures"]["remarks"] == []
        refused = client.post("/api/auditions", json={**body, "listen_at": "gone"})
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == "listen_at"

    @pytest.mark.parametrize(
        ("parts", "words"),
        [
            ({"buses": [{"id": "b", "name": "B", "to": "b"}]}, "routes go round: b goes to b"),
            (
                {"links": [{"mover": "gone", "target": "body.pan", "amount": 1}]},
                "links.0: there is no mover 'gone'",
            ),
            (
                {
                    "movers": [{"id": "m", "name": "M", "kind": "macro"}],
                    "links": [{"mover": "m", "target": "gone.pan", "amount": 1}],
                },
                "links.0: there is no parameter 'gone.pan'",
            ),
        ],
    )
    def test_what_leads_nowhere_is_refused_with_the_reason(
        self, client, kick_document, parts, words
    ):
        refused = client.post("/api/auditions", json={"document": {**kick_document, **parts}})
        assert refused.status_code == 422
        assert words in refused.json["problems"][0]["message"]

    def test_draft_rate_and_hit_are_followed(self, client, kick, kick_document):
        hit = {**kick_document["hit"], "note": 43}
        body = {"document": kick_document, "hit": hit, "quality": "draft", "sample_rate": 44100}
        answer = client.post("/api/auditions", json=body).json
        settings = RenderSettings(sample_rate=44100, quality="draft")
        other = render(kick, kick.hit.model_copy(update={"note": 43}), settings)
        assert answer["frames"] == other.samples.shape[1]
        assert answer["measures"]["note"] == "G2"

    def test_all_renders_of_a_sound_go_to_one_worker_where_its_stages_are(
        self, client, kick_document, monkeypatch
    ):
        asked, ask = [], Renderers.ask

        def noted(self, request, left):
            asked.append(request)
            return ask(self, request, left)

        monkeypatch.setattr(Renderers, "ask", noted)
        for stream in ("", "a tab", "another tab"):
            client.post("/api/auditions", json={"document": kick_document, "stream": stream})
        client.post("/api/playing/hits", json={"document": kick_document})
        client.post("/api/judging/details", json={"document": kick_document, "holds": False})
        assert len(asked) == 5
        assert len({request.sound for request in asked}) == 1
        assert [request.stream for request in asked] == ["", "a tab", "another tab", "", ""]

    def test_as_json_it_is_the_same_without_the_audio(self, client, kick_document):
        parts = audition_parts(client, {"document": kick_document})
        answer = client.post("/api/auditions", json={"document": kick_document})
        assert answer.mimetype == "application/json"
        apart = {**parts["figures"], **parts["pictures"], "took": answer.json["took"]}
        assert answer.json == apart
        AuditionBody.model_validate(answer.json)


class TestBadInput:
    @pytest.mark.parametrize(
        ("change", "path"),
        [
            ({"layers__0__source": {"kind": "gong"}}, "layers.0.source.kind"),
            ({"layers__0__level_db": 99}, "layers.0.level_db"),
            ({"layers__0__level_db": math.nan}, "layers.0.level_db"),
            ({"main__chain__0__cutoff_hz": math.inf}, "main.chain.0.cutoff_hz"),
        ],
    )
    def test_bad_document_is_refused_with_its_path_and_the_saved_one_stays(
        self, client, sound, change, path
    ):
        bad = document(**change)
        for method, url, body in (
            ("POST", "/api/auditions", {"document": bad}),
            ("PUT", f"/api/sounds/{sound['id']}/draft", {"base_version": 1, "document": bad}),
        ):
            # Written by hand, for a client may send what JSON does not know.
            response = client.open(
                url, method=method, data=json.dumps(body), content_type="application/json"
            )
            assert response.status_code == 422
            assert response.content_type == "application/problem+json"
            assert path in [problem["path"] for problem in response.json["problems"]]
        assert client.get(f"/api/sounds/{sound['id']}").json == sound

    def test_document_over_a_megabyte_is_refused(self, client, sound):
        big = document(name="x" * 1_100_000)
        body = {"base_version": 1, "document": big}
        response = client.put(f"/api/sounds/{sound['id']}/draft", json=body)
        assert (response.status_code, response.json["code"]) == (413, "document_too_large")
        huge = client.post("/api/auditions", data=b"x" * 2_100_000, content_type="application/json")
        assert huge.status_code == 413

    @pytest.mark.parametrize(
        "data",
        [
            b"",
            b"{",
            b"[]",
            b'{"document": 5}',
            b"\xff\xfe",
            b"[" * 3000,
            b"[" * 100_000 + b"]" * 100_000,
            b'{"document":' * 900 + b"1" + b"}" * 900,
            b'{"document":' * 70 + b"1" + b"}" * 70,
        ],
    )
    def test_body_that_is_no_request_is_a_problem(self, client, data):
        response = client.post("/api/auditions", data=data, content_type="application/json")
        assert response.status_code in (400, 422)
        assert response.json["detail"]

    @pytest.mark.parametrize(
        "url",
        ["/api/sounds/99999", "/api/libraries/99999/map", "/api/samples/9/file", "/api/no"],
    )
    def test_unknown_things_are_not_found(self, client, url):
        response = client.get(url)
        assert (response.status_code, response.json["status"]) == (404, 404)

    def test_unknown_rate_is_refused(self, client, kick_document):
        body = {"document": kick_document, "sample_rate": 12345}
        response = client.post("/api/auditions", json=body)
        assert response.json["problems"][0]["path"] == "sample_rate"

    def test_stale_save_is_answered_with_both_versions(self, client, sound):
        url = f"/api/sounds/{sound['id']}/draft"
        for name, status in (("Theirs", 200), ("Mine", 409)):
            body = {"base_version": 1, "document": {**sound["document"], "name": name}}
            response = client.put(url, json=body)
            assert response.status_code == status
        details = response.json["details"]
        assert details["saved"]["document"]["name"] == "Theirs"
        assert details["yours"]["document"]["name"] == "Mine"

    @pytest.mark.parametrize("name", ["", "   ", "x" * 121])
    def test_take_needs_a_name(self, client, sound, name):
        response = keep(client, sound, name)
        assert (response.status_code, response.json["problems"][0]["path"]) == (422, "name")

    def test_full_disk_is_told_and_nothing_is_kept(self, client, sound, monkeypatch):
        def full(_):
            raise OSError(28, "No space left on device")

        monkeypatch.setattr("nest_crate.storage.files.os.fsync", full)
        response = keep(client, sound)
        assert (response.status_code, response.json["code"]) == (507, "storage_failed")
        assert client.post("/api/samples/search", json={}).json["samples"] == []

    def test_library_of_others_takes_no_takes(self, client, store, sound):
        from nest_crate.catalogue.people.libraries import create_library

        with store.database.session() as session:
            other = create_account(session, handle="moth", name="Ash Moth")
            library_id = create_library(session, other, name="Elsewhere").id
        response = keep(client, sound, library_id=library_id)
        assert response.status_code == 404


class TestTakes:
    def test_take_is_listed_and_downloaded(self, client, sound, kick):
        kept = keep(client, sound, "Door, closed").json["sample"]
        assert client.post("/api/samples/search", json={}).json["samples"] == [kept]
        assert (kept["sound_id"], kept["sound_revision"]) == (sound["id"], 1)
        query = {"sample_rate": 44100, "sample_format": "pcm24", "download": "true"}
        response = client.get(f"/api/samples/{kept['id']}/file", query_string=query)
        assert response.headers["Content-Disposition"] == 'attachment; filename="Door closed.wav"'
        samples, rate = decode_wav(response.data)
        assert rate == 44100
        assert samples.shape[1] / rate == pytest.approx(kept["length_s"], abs=1e-3)

    def test_take_saves_the_draft_it_was_made_from(self, client, sound):
        changed = {**sound["document"], "name": "Louder"}
        assert keep(client, sound, document=changed).json["version"] == 2
        assert client.get(f"/api/sounds/{sound['id']}").json["document"]["name"] == "Louder"


def test_revisions_are_kept_with_notes_and_listed_newest_first(client, sound):
    url = f"/api/sounds/{sound['id']}/revisions"
    assert client.get(url).json["revisions"] == []
    version = 1
    for name, note in (("First", "as made"), ("Second", "shorter"), ("Second", "again")):
        document = {**sound["document"], "name": name}
        body = {"base_version": version, "document": document, "note": note}
        version = client.post(url, json=body).json["version"]
    listed = client.get(url).json["revisions"]
    assert [(r["number"], r["note"], r["document"]["name"]) for r in listed] == [
        (2, "shorter", "Second"),
        (1, "as made", "First"),
    ]
    stale = {"base_version": 1, "document": sound["document"], "note": "late"}
    assert client.post(url, json=stale).status_code == 409
    assert len(client.get(url).json["revisions"]) == 2


def test_draft_stored_before_a_field_existed_is_answered_with_it(client, store, sound):
    with store.database.session() as session:
        row = session.get(Sound, sound["id"])
        old = json.loads(json.dumps(row.draft))
        for layer in old["layers"]:
            layer["source"] = {"kind": layer["source"]["kind"]}
        row.draft = old
    document = client.get(f"/api/sounds/{sound['id']}").json["document"]
    assert document["layers"][0]["source"]["unison"]["voices"] == 1


class TestService:
    def test_account_is_signed_in(self, client):
        assert client.get("/api/session").json["account"]["handle"] == "demo"

    def test_without_automatic_sign_in_nobody_gets_in(self, store):
        from nest_crate.settings import Settings
        from nest_crate.web import create_app

        settings = Settings(database_url=store.url, audio_url="memory://x", auto_sign_in="")
        app = create_app(settings)
        client = app.test_client()
        assert client.get("/api/session").json["account"] is None
        assert client.get("/api/libraries").status_code == 401
        app.extensions["nest_crate"].database.engine.dispose()

    def test_openapi_describes_every_api_path(self, app, client):
        described = set(client.get("/openapi/openapi.json").json["paths"])
        routes = {
            re.sub(r"<\w+:(\w+)>", r"{\1}", str(rule))
            for rule in app.url_map.iter_rules()
            if str(rule).startswith("/api/")
        }
        assert routes <= described

    def test_declarations_and_schema_are_served(self, client):
        assert "drive" in client.get("/api/declarations").json["processors"]
        assert client.get("/api/sound.schema.json").json["$id"] == "urn:nest-crate:sound:2"

    @pytest.mark.parametrize("path", ["/", "/bench/1", "/libraries"])
    def test_front_end_answers_its_own_addresses(self, client, path):
        with client.get(path) as response:
            assert b"Nest Crate" in response.data
            assert "default-src 'self'" in response.headers["Content-Security-Policy"]

    def test_assets_are_cached_for_good_and_nothing_outside_is_served(self, client):
        with client.get("/assets/a.js") as asset:
            assert "immutable" in asset.headers["Cache-Control"]
        with client.get("/../../etc/passwd") as outside:
            assert b"<title>" in outside.data

    def test_mistake_of_ours_is_told_without_its_inside(self, client, monkeypatch):
        def broken(*_args):
            raise ZeroDivisionError("secret")

        monkeypatch.setattr("nest_crate.web.sounds.sounds.sounds_of", broken)
        response = client.get("/api/sounds")
        assert response.status_code == 500
        assert "secret" not in response.text
