"""Releases in a chosen format: made once, kept, the same bytes for every build."""

import hashlib
import io
import re
import subprocess

import numpy as np
import pytest
import soundfile
from mutagen.flac import FLAC

from nest_crate.catalogue.samples.takes import sweep_orphans
from tests.web import samples
from tests.web.samples import hit, wav


@pytest.fixture
def released(people):
    """A release of three samples, two of one variation group; its address."""
    owner, library = people.owner, people.library_id
    facts = {"variation_group": "Pollen bell", "tags": ["brass"], "root_note": 61}
    sounds = {
        "Pollen bell 1": (hit(277.2), {**facts, "variation": 1}),
        "Pollen bell 2": (hit(277.2, level=0.2), {**facts, "variation": 2}),
        "Größe": (hit(80.0, 1.5, 0.7, 0.4, channels=2), {}),
    }
    made = [
        samples.bring(owner, library, name, wav(signal), **words)
        for name, (signal, words) in sounds.items()
    ]
    ids = [one["id"] for one in made]
    for status in ("in_review", "approved"):
        owner.post("/api/samples/move", json={"ids": ids, "status": status})
    base = f"/api/libraries/{library}/releases"
    assert owner.post(base, json={"number": "1.0.0"}).status_code == 201
    return f"{base}/1.0.0"


def asked(client, released, **plan):
    answer = client.post(f"{released}/formats", json=plan)
    assert answer.status_code in (200, 201), answer.json
    return answer


def files_of(client, released, digest):
    """The manifest of a format, and its files' bytes by path."""
    manifest = client.get(f"{released}/formats/{digest}").json
    found = {}
    for row in manifest["files"]:
        with client.get(f"{released}/files/{row['sha256']}") as answer:
            found[row["path"]] = answer.data
        assert hashlib.sha256(found[row["path"]]).hexdigest() == row["sha256"]
        assert len(found[row["path"]]) == row["bytes"]
    return manifest, found


def loudness_by_ffmpeg(data, tmp_path):
    path = tmp_path / "x.wav"
    path.write_bytes(data)
    command = ["ffmpeg", "-i", str(path), "-af", "ebur128=peak=true", "-f", "null", "-"]
    said = subprocess.run(command, capture_output=True, text=True, check=True, timeout=60).stderr
    summary = said[said.rindex("Summary:") :]
    return tuple(
        float(re.search(rf"{name}:\s+(-?[\d.]+)", summary).group(1)) for name in ("I", "Peak")
    )


@pytest.mark.parametrize(
    ("file_format", "kind"),
    [("flac16", "FLAC"), ("ogg", "OGG"), ("aiff24", "AIFF"), ("wav32", "WAV")],
)
def test_files_are_what_was_asked_for(people, released, file_format, kind):
    plan = {"file_format": file_format, "sample_rate": 44100, "channels": "mono"}
    digest = asked(people.owner, released, **plan).json["digest"]
    manifest, files = files_of(people.owner, released, digest)
    assert manifest["plan"]["file_format"] == file_format
    assert len(files) == 3
    assert {path.rsplit(".", 1)[1] for path in files} == {file_format.rstrip("0123456789")}
    whole = people.owner.get(released).json["files"]
    for row, other in zip(manifest["files"], whole, strict=True):
        info = soundfile.info(io.BytesIO(files[row["path"]]))
        assert (info.samplerate, info.channels, info.format) == (44100, 1, kind)
        assert info.duration == pytest.approx(other["length_s"], abs=1e-3)
        assert row["path"].rsplit(".", 1)[0] == other["path"].rsplit(".", 1)[0]


def test_it_is_made_once_and_the_same_for_all(people, released):
    first = asked(people.owner, released, file_format="flac24")
    again = asked(people.reviewer, released, file_format="flac24")
    assert (first.status_code, again.status_code) == (201, 200)
    assert first.json == again.json
    _, before = files_of(people.owner, released, first.json["digest"])
    _, after = files_of(people.reviewer, released, again.json["digest"])
    assert before == after
    tag = people.owner.get(f"{released}/formats/{first.json['digest']}").headers["ETag"]
    path = f"{released}/formats/{first.json['digest']}"
    assert people.owner.get(path, headers={"If-None-Match": tag}).status_code == 304
    # What builds pull is not swept away.
    assert sweep_orphans(people.store.database, people.store.files, older_than_s=-60) == 0
    files_of(people.owner, released, first.json["digest"])


def test_words_come_with_it_whatever_became_of_the_sample(people, released):
    ids = people.owner.post("/api/samples/ids", json={}).json["ids"]
    people.owner.post("/api/samples/bin", json={"ids": ids})
    digest = asked(people.owner, released, file_format="flac24", sample_rate=0).json["digest"]
    manifest, files = files_of(people.owner, released, digest)
    row = next(one for one in manifest["files"] if one["name"] == "Pollen bell 1")
    tags = FLAC(io.BytesIO(files[row["path"]])).tags
    assert tags["title"] == ["Pollen bell 1"]
    assert tags["keywords"] == ["brass"]
    assert tags["rootnote"] == ["61"]
    assert tags["variation_group"] == ["Pollen bell"]


def test_loudness_is_that_of_the_target_below_the_ceiling(people, released, tmp_path):
    plan = {"file_format": "wav24", "loudness_lufs": -23.0, "ceiling_dbtp": -3.0}
    digest = asked(people.owner, released, **plan).json["digest"]
    manifest, files = files_of(people.owner, released, digest)
    for row in manifest["files"]:
        if row["length_s"] < 1.0:
            # Shorter than an independent meter measures; no louder than the ceiling at least.
            frames, _ = soundfile.read(io.BytesIO(files[row["path"]]))
            assert 20.0 * np.log10(np.abs(frames).max()) <= -3.0 + 0.01
            continue
        loudness, peak = loudness_by_ffmpeg(files[row["path"]], tmp_path)
        assert peak <= -2.9
        assert loudness == pytest.approx(row["loudness_lufs"], abs=0.2)
        assert loudness == pytest.approx(-23.0, abs=0.2) or peak == pytest.approx(-3.0, abs=0.15)


def test_layout_by_template_with_instruments(people, released):
    plan = {"template": "{group}/{name:snake}", "sfz": True}
    digest = asked(people.owner, released, **plan).json["digest"]
    _, files = files_of(people.owner, released, digest)
    assert "Pollen bell/pollen_bell_1.wav" in files
    instrument = files["Pollen bell.sfz"].decode()
    assert "sample=Pollen bell/pollen_bell_2.wav" in instrument
    assert "pitch_keycenter=61" in instrument


def test_what_is_not_there_is_named(people, released):
    base = released.removesuffix("/1.0.0")
    none = people.owner.post(f"{base}/9.0.0/formats", json={})
    assert none.status_code == 404
    assert none.json["detail"] == "Glasshouse Clockworks has no release 9.0.0; the last is 1.0.0"
    unasked = people.owner.get(f"{released}/formats/{'0' * 64}")
    assert unasked.status_code == 404
    assert "ask for it first" in unasked.json["detail"]
    wrong = people.owner.post(f"{released}/formats", json={"template": "{nothing}"})
    assert wrong.json["problems"][0]["path"] == "template"


def test_a_token_that_only_reads_may_ask(people, released):
    body = {"name": "Build", "library_id": people.library_id}
    secret = people.owner.post("/api/session/tokens", json=body).json["secret"]
    client = people.app.test_client()
    client.environ_base["HTTP_AUTHORIZATION"] = f"Bearer {secret}"
    assert asked(client, released, file_format="ogg").status_code == 201


def test_there_is_a_bound_to_formats(people, released, monkeypatch):
    monkeypatch.setattr("nest_crate.catalogue.releases.formats._MOST_FORMATS", 1)
    asked(people.owner, released, file_format="ogg")
    assert asked(people.owner, released, file_format="ogg").status_code == 200
    refused = people.owner.post(f"{released}/formats", json={"file_format": "flac16"})
    assert refused.status_code == 409
