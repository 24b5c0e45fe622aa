"""Commands that work with a server, or with a data folder as a server would."""

import io
import json
import threading
import zipfile

import pytest
import soundfile
from click.testing import CliRunner
from werkzeug.serving import make_server

from nest_crate.catalogue.people.accounts import account_by_handle
from nest_crate.catalogue.people.keys import make_token
from nest_crate.cli import main
from nest_crate.settings import Settings
from nest_crate.web.app import create_app
from tests.web.samples import RATE, hit
from tests.web.test_imports import file_with


def run(*arguments, **options):
    return CliRunner().invoke(main, [str(one) for one in arguments], **options)


def said(*arguments):
    result = run(*arguments, "--json")
    assert result.exit_code == 0, result.output
    return json.loads(result.stdout)["done"]


@pytest.fixture
def environment(store, tmp_path, monkeypatch):
    monkeypatch.setenv("NEST_CRATE_DATABASE_URL", store.url)
    monkeypatch.setenv("NEST_CRATE_AUDIO_URL", f"file://{tmp_path / 'audio'}")
    monkeypatch.setenv("NEST_CRATE_RUN_FOLDER", str(tmp_path / "run"))
    monkeypatch.setenv("NEST_CRATE_ACCOUNT", "wren")
    made = run("user", "add", "wren", "--name", "Wren", "--library", "Glasshouse")
    assert made.exit_code == 0, made.output
    return store


@pytest.fixture
def folder(tmp_path):
    shed = tmp_path / "Shed"
    (shed / "kicks").mkdir(parents=True)
    (shed / "kicks" / "kiln kick_01.wav").write_bytes(file_with(1, comment="under the bench"))
    (shed / "kicks" / "kiln kick_02.wav").write_bytes(file_with(2))
    (shed / "moth.wav").write_bytes(file_with(3, tags="wing"))
    return shed


@pytest.fixture
def server(environment, tmp_path, monkeypatch):
    """A server on loopback; commands know its address and a token from the environment."""
    app = create_app(Settings())
    served = make_server("127.0.0.1", 0, app, threaded=True)
    thread = threading.Thread(target=served.serve_forever)
    thread.start()
    with environment.database.session() as session:
        account = account_by_handle(session, "wren")
        _, secret = make_token(session, account, name="t", scope="write", days=1)
    monkeypatch.delenv("NEST_CRATE_DATABASE_URL")
    monkeypatch.setenv("NEST_CRATE_SERVER", f"http://127.0.0.1:{served.port}")
    monkeypatch.setenv("NEST_CRATE_TOKEN", secret)
    monkeypatch.chdir(tmp_path)
    yield app
    served.shutdown()
    thread.join()
    served.server_close()
    app.extensions["nest_crate"].database.engine.dispose()


def approve_all(app_or_store, ids):
    with app_or_store.database.session() as session:
        from nest_crate.catalogue.samples.edits import move_samples

        account = account_by_handle(session, "wren")
        for status in ("in_review", "approved"):
            move_samples(session, account, ids, status)


def through_all(folder, database, tmp_path):
    """Import, search, export, release, pull; the same for a server and for a folder's data."""
    imported = said(
        "import", folder, "--library", "glasshouse", "--template", "{name}_{variation}",
        "--folder-tags",
    )  # fmt: skip
    assert [(one["name"], one["new"]) for one in imported] == [
        ("kiln kick", True),
        ("kiln kick", True),
        ("moth", True),
    ]
    again = said("import", folder, "--library", "glasshouse")
    assert [one["new"] for one in again] == [False] * 3

    found = said("search", "kiln", "--library", "glasshouse")
    assert {(one["variation"], one["folder"]) for one in found} == {
        (1, "Shed/kicks"),
        (2, "Shed/kicks"),
    }
    assert found[0]["tags"] == ["shed", "kicks"]
    assert len(said("search", "--library", "glasshouse", "--most", "1")) == 1
    assert said("search", "--library", "glasshouse", "--longest", "0.1") == []
    line = run("search", "moth", "--library", "glasshouse").output
    assert "moth" in line
    assert "0.300 s" in line

    packed = tmp_path / "out.zip"
    export = ("export", "--library", "glasshouse", "--category", "drum", "--format", "flac16")
    assert said(*export, "-o", packed)[0]["samples"] == 2
    with zipfile.ZipFile(packed) as archive:
        data = archive.read("drum/kiln kick.flac")
    frames, rate = soundfile.read(io.BytesIO(data))
    assert (rate, frames.size) == (RATE, hit().shape[1])
    assert run(*export, "-o", tmp_path / "out").exit_code == 0
    assert (tmp_path / "out" / "drum" / "kiln kick.flac").read_bytes() == data

    refused = run("release", "1.0.0", "--library", "glasshouse")
    assert refused.exit_code == 1
    assert "No sample of this library is approved yet" in refused.output
    approve_all(database, [one["sample"] for one in imported])
    assert said("release", "1.0.0", "--library", "glasshouse", "--note", "first")[0]["files"] == 3

    build = tmp_path / "build"
    assert said("pull", build, "--library", "glasshouse")[0]["said"] == "1.0.0: 3 files, 3 fetched"
    assert "nothing new" in run("pull", build, "--library", "glasshouse").output
    small = (
        "pull",
        tmp_path / "ogg",
        "--library",
        "glasshouse",
        "--format",
        "ogg",
        "--rate",
        44100,
    )
    assert said(*small)[0]["said"] == "1.0.0: 3 files, 3 fetched"
    assert soundfile.info(tmp_path / "ogg" / "drum" / "kiln kick.ogg").samplerate == 44100


def test_with_a_server(server, environment, folder, tmp_path):
    through_all(folder, environment, tmp_path)


def test_with_the_data_themselves(environment, folder, tmp_path):
    through_all(folder, environment, tmp_path)
    # What the commands worked with is gone.
    assert said("token", "list") == []


def test_tokens_are_made_listed_and_removed(environment):
    made = said("token", "make", "build", "--library", "glasshouse", "--days", "3")[0]
    assert made["secret"].startswith("nest-token-")
    assert made["library_id"] is not None
    (listed,) = said("token", "list")
    assert (listed["name"], listed["scope"], listed["secret"]) == ("build", "read", None)
    assert run("token", "remove", listed["id"]).exit_code == 0
    assert said("token", "list") == []


class TestWhatIsWrong:
    def test_a_broken_file_holds_up_no_other(self, environment, folder):
        (folder / "broken.wav").write_bytes(b"RIFF")
        result = run("import", folder, "--library", "glasshouse", "--json")
        found = json.loads(result.stdout)
        assert result.exit_code == 1
        assert len(found["done"]) == 3
        assert "broken.wav" in found["errors"][0]["about"]

    def test_a_library_that_is_not_there_is_named_with_those_that_are(self, environment):
        result = run("search", "--library", "glashouse")
        assert result.exit_code == 1
        assert "no library 'glashouse'; there are: glasshouse" in result.output

    def test_a_template_is_refused_at_its_field(self, environment, folder):
        result = run("import", folder, "--library", "glasshouse", "--template", "{x}")
        assert result.exit_code == 1
        assert "template: there is no {x}" in result.output

    def test_a_server_wants_a_token(self, environment, monkeypatch):
        monkeypatch.delenv("NEST_CRATE_TOKEN", raising=False)
        result = run("search", "--library", "x", "--server", "http://127.0.0.1:9")
        assert "put it in NEST_CRATE_TOKEN" in result.output

    def test_a_server_that_is_away_is_said(self, environment, monkeypatch):
        monkeypatch.setenv("NEST_CRATE_TOKEN", "nest-token-x")
        result = run("search", "--library", "x", "--server", "http://127.0.0.1:9")
        assert result.exit_code == 1
        assert "does not answer" in result.output

    def test_a_wrong_token_is_said_in_the_servers_words(self, server, monkeypatch):
        monkeypatch.setenv("NEST_CRATE_TOKEN", "nest-token-x")
        result = run("search", "--library", "x")
        assert "This token is not valid, or has expired" in result.output

    def test_of_several_accounts_one_is_named(self, environment, monkeypatch):
        monkeypatch.delenv("NEST_CRATE_ACCOUNT")
        result = run("search", "--library", "glasshouse")
        assert "Say as whom with --as: demo, wren" in result.output
        assert run("search", "--library", "glasshouse", "--as", "wren").exit_code == 0
        assert "no account 'moss'" in run("search", "--library", "x", "--as", "moss").output
