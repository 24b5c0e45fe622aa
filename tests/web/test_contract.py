"""The OpenAPI document by independent means: a validator, a generator of clients, real requests."""

import importlib
import json
import os
import re
import subprocess
import sys
import threading
from collections import Counter
from pathlib import Path

import httpx
import pytest
from jsonschema import Draft202012Validator
from openapi_spec_validator import validate
from werkzeug.serving import make_server

from nest_crate.core.formats.wav import decode_wav
from nest_crate.web.contract.examples import REQUESTS, answers
from tests.web.samples import bring, wav

ERRORS = {"400", "401", "403", "404", "409", "413", "422", "429", "503", "507"}


@pytest.fixture(scope="module")
def document(one_app):
    # As it is written, with all that JSON makes of it.
    return json.loads(json.dumps(one_app.api_doc))


@pytest.fixture(scope="module")
def operations(document):
    return [
        (path, method, operation)
        for path, methods in document["paths"].items()
        for method, operation in methods.items()
    ]


class TestDocument:
    def test_it_is_valid(self, document):
        validate(document)

    def test_every_operation_says_what_it_answers(self, operations):
        silent = [
            one["operationId"]
            for _, _, one in operations
            if not any(status.startswith("2") for status in one["responses"])
        ]
        assert not silent

    def test_every_error_is_a_problem(self, document, operations):
        for _, _, one in operations:
            for status in ERRORS & set(one["responses"]):
                name = one["responses"][status]["$ref"].rpartition("/")[2]
                shared = document["components"]["responses"][name]
                assert list(shared["content"]) == ["application/problem+json"]

    def test_names_are_short_and_each_its_own(self, operations):
        names = Counter(one["operationId"] for _, _, one in operations)
        assert max(names.values()) == 1
        assert all(re.fullmatch(r"[a-z][a-z_]{3,39}", name) for name in names), names

    def test_everything_is_described(self, document, operations):
        for path, _, one in operations:
            assert one.get("summary"), one["operationId"]
            for parameter in one.get("parameters", ()):
                assert parameter["description"], (path, parameter["name"])
        assert all(group["description"] for group in document["tags"])

    def test_who_may_ask_is_as_described(self, people, operations):
        for path, method, one in operations:
            address = re.sub(r"\{digest\}", "0" * 64, path)
            address = re.sub(r"\{\w+\}", "1", address)
            # What is no valid request may be refused before it is asked who sends it.
            refused = people.nobody.open(address, method=method, json={}).status_code
            if one.get("security") == []:
                assert refused != 401 or one["operationId"] == "session_enter"
            else:
                assert refused in (401, 415, 422), (one["operationId"], refused)
                assert refused == 401 or "requestBody" in one or "parameters" in one

    @pytest.mark.parametrize("name", sorted(REQUESTS))
    def test_examples_fit_their_schema(self, document, operations, name):
        (body,) = [one["requestBody"] for _, _, one in operations if one["operationId"] == name]
        content = body["content"]["application/json"]
        schema = {**document, **content["schema"]}
        assert content["example"] == REQUESTS[name]
        Draft202012Validator(schema).validate(content["example"])

    @pytest.mark.parametrize("name", sorted(answers()))
    def test_recorded_answers_fit_their_schema(self, document, operations, name):
        (given,) = [one["responses"] for _, _, one in operations if one["operationId"] == name]
        content = given["200"]["content"]["application/json"]
        assert content["example"] == answers()[name]
        Draft202012Validator({**document, **content["schema"]}).validate(content["example"])

    def test_what_a_build_asks_for_has_an_example(self):
        asked = {
            "libraries_list_libraries",
            "releases_list_releases",
            "releases_manifest",
            "samples_one_sample",
            "samples_search",
            "session_who",
        }
        assert asked <= set(answers())


@pytest.fixture(scope="module")
def generated(document, tmp_path_factory):
    """A client as a well-known generator makes it of the document."""
    folder = tmp_path_factory.mktemp("client")
    (folder / "openapi.json").write_text(json.dumps(document))
    beside = Path(sys.executable).parent
    made = subprocess.run(
        [
            *(beside / "openapi-python-client", "generate", "--path", "openapi.json"),
            *("--meta", "none", "--output-path", "generated_client"),
        ],
        cwd=folder,
        env={**os.environ, "PATH": f"{beside}:{os.environ['PATH']}"},
        capture_output=True,
        text=True,
        timeout=240,
    )
    assert made.returncode == 0, made.stdout + made.stderr
    # Whatever a generator cannot make something of, it leaves out and says so.
    assert "warning" not in made.stdout.lower(), made.stdout
    sys.path.insert(0, str(folder))
    yield importlib.import_module("generated_client")
    sys.path.remove(str(folder))


def part(generated, name):
    return importlib.import_module(f"{generated.__name__}.{name}")


class TestGeneratedClient:
    @pytest.fixture
    def client(self, generated, people):
        """Signed in by a token alone, as a build machine is."""
        made = people.owner.post("/api/session/tokens", json={"name": "Build", "scope": "write"})
        return part(generated, "client").AuthenticatedClient(
            base_url="http://localhost",
            token=made.json["secret"],
            httpx_args={"transport": httpx.WSGITransport(app=people.app)},
        )

    @pytest.fixture
    def sample(self, people):
        return bring(people.editor, people.library_id, "Kiln kick", wav(hz=55), category="drum")

    def test_it_searches(self, generated, client, people, sample):
        models = part(generated, "models")
        search = part(generated, "api.libraries.samples_search")
        asked = models.SearchRequest(query=models.SampleQuery(words="kiln"))
        found = search.sync(client=client, body=asked)
        assert [one.name for one in found.samples] == ["Kiln kick"]
        assert (found.total, found.samples[0].category) == (1, "drum")

    def test_it_fetches_a_file(self, generated, client, sample):
        fetch = part(generated, "api.libraries.samples_file")
        file = fetch.sync(sample["id"], client=client)
        samples, rate = decode_wav(file.payload.read())
        assert rate == 48000
        assert samples.shape[1] > 1000

    def test_it_plays_a_sound(self, generated, client, kick_document):
        models = part(generated, "models")
        play = part(generated, "api.bench.playing_play_hit")
        body = models.AuditionRequest.from_dict({"document": kick_document})
        samples, _ = decode_wav(play.sync(client=client, body=body).payload.read())
        assert abs(samples).max() > 0.1

    def test_it_makes_and_pulls_a_release(self, generated, client, people, sample):
        models = part(generated, "models")
        move = part(generated, "api.libraries.samples_move")
        for status in ("in_review", "approved"):
            body = models.MoveRequest.from_dict({"ids": [sample["id"]], "status": status})
            move.sync(client=client, body=body)
        make = part(generated, "api.releases.releases_new_release")
        library = people.library_id
        made = make.sync(
            library, client=client, body=models.ReleaseRequest(number="1.0.0", note="Doors")
        )
        assert getattr(made, "number", made) == "1.0.0"
        manifest = part(generated, "api.releases.releases_manifest")
        listed = manifest.sync(library, "1.0.0", client=client).additional_properties
        digest = listed["files"][0]["sha256"]
        fetch = part(generated, "api.releases.releases_one_file")
        file = fetch.sync(library, "1.0.0", digest, client=client)
        assert decode_wav(file.payload.read())[1] == 48000

    def test_an_error_is_one(self, generated, client):
        one = part(generated, "api.libraries.samples_one_sample")
        answer = one.sync_detailed(999_999, client=client)
        assert answer.status_code == 404
        assert (answer.parsed.code, answer.parsed.status) == ("not_found", 404)

    def test_a_wrong_token_is_said(self, generated, client):
        stranger = part(generated, "client").AuthenticatedClient(
            base_url="http://localhost", token="nct_wrong", httpx_args=client._httpx_args
        )
        answer = part(generated, "api.libraries.libraries_list_libraries").sync(client=stranger)
        assert answer.code == "not_signed_in"


class TestExamples:
    """What docs/api.md shows, run as it stands there against a server."""

    @pytest.fixture
    def environment(self, people):
        sample = bring(people.editor, people.library_id, "Kiln kick", wav(hz=55), category="drum")
        for status in ("in_review", "approved"):
            body = {"ids": [sample["id"]], "status": status}
            assert people.owner.post("/api/samples/move", json=body).status_code == 200
        made = people.owner.post("/api/session/tokens", json={"name": "Script", "scope": "read"})
        server = make_server("127.0.0.1", 0, people.app, threaded=True)
        serving = threading.Thread(target=server.serve_forever)
        serving.start()
        address = f"http://127.0.0.1:{server.server_port}"
        yield {**os.environ, "NEST_CRATE": address, "TOKEN": made.json["secret"]}
        server.shutdown()
        serving.join()
        server.server_close()

    def shown(self, language):
        text = (Path(__file__).parents[2] / "docs" / "api.md").read_text()
        (block,) = re.findall(rf"```{language}\n(.*?)```", text, re.DOTALL)
        return block

    def test_the_one_in_python(self, environment, tmp_path):
        subprocess.run(
            [sys.executable, "-c", self.shown("python")],
            cwd=tmp_path,
            env=environment,
            check=True,
            timeout=120,
        )
        assert decode_wav((tmp_path / "Kiln kick.wav").read_bytes())[1] == 48000

    def test_the_one_with_curl(self, environment, people, tmp_path):
        commands = self.shown("bash").replace("libraries/1/", f"libraries/{people.library_id}/")
        subprocess.run(
            ["bash", "-e", "-c", commands], cwd=tmp_path, env=environment, check=True, timeout=120
        )
        assert decode_wav((tmp_path / "kick.wav").read_bytes())[1] == 48000
        assert json.loads((tmp_path / "releases.json").read_text()) == {"releases": []}
