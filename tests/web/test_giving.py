"""Exports, releases and links: what leaves the library, and what may not."""

import csv
import hashlib
import io
import json
import re
import subprocess
import sys
import threading
import zipfile
from pathlib import Path

import numpy as np
import pytest
import soundfile
from werkzeug.serving import make_server

from tests.web.samples import RATE, bring, hit, one, search, wav

PULL = Path(__file__).parent.parent.parent / "tools" / "pull_release.py"


def fetched(client, **plan):
    planned = client.post("/api/exports", json=plan)
    assert planned.status_code == 200, planned.json
    with client.get(planned.json["path"]) as answer:
        assert answer.status_code == 200
        return answer.data


def opened(data):
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.testzip() is None
        return {name: archive.read(name) for name in archive.namelist()}


def approved(people, name, data=None, **changes):
    sample = bring(people.editor, people.library_id, name, data, **changes)
    for client, status in ((people.editor, "in_review"), (people.reviewer, "approved")):
        body = {"ids": [sample["id"]], "status": status}
        assert client.post("/api/samples/move", json=body).status_code == 200
    return sample


def quieter(people, sample, **edits):
    body = {"base_version": one(people.editor, sample)["version"], **edits}
    answer = people.editor.put(f"/api/samples/{sample['id']}/edits", json=body)
    assert answer.status_code == 200


def release(people, number, **body):
    url = f"/api/libraries/{people.library_id}/releases"
    return people.owner.post(url, json={"number": number, **body})


class TestExport:
    @pytest.mark.parametrize(
        ("file_format", "ending", "subtype"),
        [
            ("wav16", "wav", "PCM_16"),
            ("wav32", "wav", "FLOAT"),
            ("flac24", "flac", "PCM_24"),
            ("ogg", "ogg", "VORBIS"),
            ("aiff24", "aiff", "PCM_24"),
        ],
    )
    def test_files_have_the_format_rate_width_and_name_asked_for(
        self, people, file_format, ending, subtype
    ):
        sample = bring(people.editor, people.library_id, "Kiln: door/kick", category="drum")
        plan = {
            "sample_ids": [sample["id"]],
            "file_format": file_format,
            "sample_rate": 44100,
            "channels": "stereo",
            "template": "{category}/{name}",
        }
        files = opened(fetched(people.listener, **plan))
        name = f"drum/Kiln_ door/kick.{ending}"
        assert set(files) == {name, "manifest.json", "manifest.csv"}
        with soundfile.SoundFile(io.BytesIO(files[name])) as file:
            assert (file.samplerate, file.channels, file.subtype) == (44100, 2, subtype)
            frames = file.read()
        assert np.abs(frames).max() == pytest.approx(0.5, abs=0.03)

    def test_manifests_tell_the_sums_of_the_files(self, people):
        ids = [bring(people.editor, people.library_id, name)["id"] for name in ("A", "=B")]
        files = opened(fetched(people.listener, sample_ids=ids))
        listed = json.loads(files["manifest.json"])["files"]
        assert [row["id"] for row in listed] == ids
        for row in listed:
            assert hashlib.sha256(files[row["path"]]).hexdigest() == row["sha256"]
            assert len(files[row["path"]]) == row["bytes"]
        table = list(csv.DictReader(io.StringIO(files["manifest.csv"].decode())))
        assert [row["sha256"] for row in table] == [row["sha256"] for row in listed]
        # No table program takes a name for a formula.
        assert table[1]["name"] == "'=B"

    def test_the_same_export_is_the_same_bytes(self, people):
        ids = [bring(people.editor, people.library_id, f"S{n}")["id"] for n in range(3)]
        plan = {"sample_ids": ids, "file_format": "wav16", "sfz": True}
        assert fetched(people.listener, **plan) == fetched(people.listener, **plan)

    def test_a_mono_file_is_the_mean_of_both_sides(self, people):
        both = np.stack([hit(220.0)[0], hit(330.0)[0]])
        sample = bring(people.editor, people.library_id, "Wide", wav(both))
        plan = {"sample_ids": [sample["id"]], "file_format": "wav32", "channels": "mono"}
        files = opened(fetched(people.listener, **plan, template="{name}"))
        frames, _ = soundfile.read(io.BytesIO(files["Wide.wav"]))
        np.testing.assert_allclose(frames, both.mean(axis=0), atol=1e-7)

    def test_names_never_collide_nor_lead_elsewhere(self, people):
        hostile = [
            "../../etc/passwd",
            "..\\..\\x",
            "/root/y",
            "con",
            "Same",
            "same",
            "a\x00b",
            "...",
        ]
        ids = [bring(people.editor, people.library_id, name)["id"] for name in hostile]
        files = opened(fetched(people.listener, sample_ids=ids, template="{name}"))
        paths = [name for name in files if name.endswith(".wav")]
        assert len({path.lower() for path in paths}) == len(hostile)
        for path in paths:
            assert ".." not in path.split("/")
            assert not path.startswith("/")
            assert "\\" not in path
            assert "\x00" not in path
        assert "_con.wav" in paths

    def test_an_instrument_plays_each_group_in_turn(self, people, kick_document):
        body = {"library_id": people.library_id, "document": kick_document}
        sound = people.editor.post("/api/sounds", json=body).json
        take = {
            "base_version": 1,
            "document": kick_document,
            "hit": kick_document["hit"],
            "library_id": people.library_id,
            "name": "Kick",
            "count": 3,
        }
        ids = people.editor.post(f"/api/sounds/{sound['id']}/takes", json=take).json["ids"]
        files = opened(fetched(people.listener, sample_ids=ids, sfz=True, template="{name:snake}"))
        text = files["Kick.sfz"].decode()
        assert "seq_length=3" in text
        for n in (1, 2, 3):
            assert f"sample=kick_0{n}.wav" in text
            assert f"kick_0{n}.wav" in files

    @pytest.mark.parametrize(
        ("plan", "path"),
        [
            ({"template": "{x}"}, "template"),
            ({"file_format": "mp3"}, "file_format"),
            ({"sample_rate": 1}, "sample_rate"),
            ({"sample_ids": []}, "sample_ids"),
        ],
    )
    def test_what_cannot_be_made_is_refused_before_it_begins(self, people, plan, path):
        sample = bring(people.editor, people.library_id, "A")
        body = {"sample_ids": [sample["id"]], **plan}
        answer = people.listener.post("/api/exports", json=body)
        assert answer.status_code == 422
        assert path in answer.json["problems"][0]["path"]

    def test_a_download_is_its_owners_alone(self, people):
        sample = bring(people.editor, people.library_id, "A")
        path = people.editor.post("/api/exports", json={"sample_ids": [sample["id"]]}).json["path"]
        assert people.listener.get(path).status_code == 404
        assert people.nobody.get(path).status_code == 401


class TestReleases:
    def test_only_what_is_approved_is_released_and_stays_as_it_was(self, people):
        kick = approved(people, "Kick", category="drum")
        draft = bring(people.editor, people.library_id, "Draft")
        assert release(people, "1.0.0", sample_ids=[draft["id"]]).status_code == 409
        made = release(people, "1.0.0", note="First")
        assert (made.status_code, made.json["files"]) == (201, 1)
        url = f"/api/libraries/{people.library_id}/releases/1.0.0"
        with people.listener.get(f"{url}.zip") as answer:
            before = answer.data
        quieter(people, kick, gain_db=-6)
        body = {"ids": [kick["id"]], "changes": {"name": "Other"}}
        people.editor.post("/api/samples/change", json=body)
        people.editor.post("/api/samples/bin", json={"ids": [kick["id"]]})
        with people.listener.get(f"{url}.zip") as answer:
            assert answer.data == before
        assert set(opened(before)) == {"drum/Kick.wav", "manifest.json"}

    @pytest.mark.parametrize(
        "number", ["1.0", "v1.0.0", "1.0.0.0", "1.01.0", "", "1.0.0-a", "0.9.9"]
    )
    def test_numbers_have_three_parts_and_rise(self, people, number):
        approved(people, "Kick")
        assert release(people, "1.0.0").status_code == 201
        refused = release(people, number)
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == "number"

    def test_changes_since_the_last_are_told_by_kind(self, people):
        kept, gone, louder, renamed, words = (
            approved(people, name) for name in ("Kept", "Gone", "Louder", "Renamed", "Words")
        )
        release(people, "1.0.0")
        pending = f"/api/libraries/{people.library_id}/releases/changes"
        nothing = {"since": "1.0.0", "changes": [], "counts": {}}
        assert people.listener.get(pending).json == nothing
        people.editor.post("/api/samples/bin", json={"ids": [gone["id"]]})
        quieter(people, louder, gain_db=-2)
        for client, status in ((people.editor, "in_review"), (people.reviewer, "approved")):
            client.post("/api/samples/move", json={"ids": [louder["id"]], "status": status})
        for sample, changes in ((renamed, {"name": "New name"}), (words, {"tags": ["new"]})):
            body = {"ids": [sample["id"]], "changes": changes}
            people.editor.post("/api/samples/change", json=body)
        added = approved(people, "Added")
        shown = people.listener.get(pending).json["changes"]
        kinds = {one["sample_id"]: one["kind"] for one in shown}
        assert kinds == {
            added["id"]: "added",
            gone["id"]: "removed",
            louder["id"]: "sound",
            renamed["id"]: "renamed",
            words["id"]: "words",
        }
        few = people.listener.get(f"{pending}?limit=2").json
        assert (few["changes"], few["counts"]) == (shown[:2], dict.fromkeys(kinds.values(), 1))
        release(people, "1.1.0")
        url = f"/api/libraries/{people.library_id}/releases/1.1.0/changes"
        after = people.listener.get(url).json
        assert after["since"] == "1.0.0"
        assert {one["sample_id"]: one["kind"] for one in after["changes"]} == kinds
        # Both sides of what sounds otherwise can be heard.
        change = next(one for one in after["changes"] if one["kind"] == "sound")
        for number, side in (("1.0.0", "before"), ("1.1.0", "after")):
            digest = change[side]["sha256"]
            base = f"/api/libraries/{people.library_id}/releases"
            heard = people.listener.get(f"{base}/{number}/files/{digest}")
            assert hashlib.sha256(heard.data).hexdigest() == digest
        assert kept["id"] not in kinds

    def test_who_has_a_release_is_not_sent_it_again(self, people):
        approved(people, "Kick")
        release(people, "1.0.0")
        url = f"/api/libraries/{people.library_id}/releases/latest"
        first = people.listener.get(url)
        assert first.json["number"] == "1.0.0"
        again = people.listener.get(url, headers={"If-None-Match": first.headers["ETag"]})
        assert (again.status_code, again.data) == (304, b"")
        release_two = people.listener.get(url, headers={"If-None-Match": '"other"'})
        assert release_two.status_code == 200

    def test_files_of_other_samples_are_not_fetched_through_a_release(self, people):
        approved(people, "Kick")
        other = bring(people.editor, people.library_id, "Other", wav(seed=3))
        release(people, "1.0.0")
        base = f"/api/libraries/{people.library_id}/releases/1.0.0/files"
        assert people.listener.get(f"{base}/{other['file_digest']}").status_code == 404


class TestLinks:
    def test_a_release_is_opened_without_an_account_until_the_link_ends(self, people):
        approved(people, "Kick")
        release(people, "1.0.0")
        url = f"/api/libraries/{people.library_id}/releases/1.0.0/links"
        link = people.owner.post(url, json={"days": 7, "note": "for the build"}).json
        shared = link["path"].replace("/shared/", "/api/shared/")
        shown = people.nobody.get(shared).json
        assert (shown["kind"], shown["library"]) == ("release", "Glasshouse Clockworks")
        digest = shown["release"]["files"][0]["sha256"]
        assert people.nobody.get(f"{shared}/files/{digest}").status_code == 200
        with people.nobody.get(f"{shared}/release.zip") as answer:
            assert "manifest.json" in opened(answer.data)
        assert people.nobody.get(f"{shared}/sample.wav").status_code == 404
        people.owner.delete(f"/api/links/{link['id']}")
        assert people.nobody.get(shared).status_code == 404
        assert people.nobody.get("/api/shared/nonsense").status_code == 404

    def test_a_sample_is_shared_with_sound_recipe_and_phrase(self, people, kick_document):
        body = {"library_id": people.library_id, "document": kick_document}
        sound = people.editor.post("/api/sounds", json=body).json
        take = {
            "base_version": 1,
            "document": kick_document,
            "hit": kick_document["hit"],
            "library_id": people.library_id,
            "name": "Kick",
        }
        made = people.editor.post(f"/api/sounds/{sound['id']}/takes", json=take)
        sample = made.json["sample"]
        link = people.editor.post(f"/api/samples/{sample['id']}/links", json={"note": "try it"})
        shared = link.json["path"].replace("/shared/", "/api/shared/")
        shown = people.nobody.get(shared).json
        assert shown["document"] == kick_document
        assert shown["note"] == "try it"
        assert "Hz" in shown["recipe"]
        for name in ("sample", "phrase"):
            data = people.nobody.get(f"{shared}/{name}.wav").data
            assert soundfile.info(io.BytesIO(data)).samplerate == RATE

    def test_a_sound_is_shared_as_it_is_when_the_link_is_opened(self, people, kick_document):
        body = {"library_id": people.library_id, "document": kick_document}
        sound = people.editor.post("/api/sounds", json=body).json
        link = people.editor.post(f"/api/sounds/{sound['id']}/links", json={"note": "try"}).json
        assert people.listener.post(f"/api/sounds/{sound['id']}/links", json={}).status_code == 403
        shared = link["path"].replace("/shared/", "/api/shared/")
        shown = people.nobody.get(shared).json
        assert (shown["kind"], shown["sound"]["name"]) == ("sound", kick_document["name"])
        assert shown["document"] == kick_document
        assert "Hz" in shown["recipe"]
        for name in ("sound", "phrase"):
            data = people.nobody.get(f"{shared}/{name}.wav").data
            assert soundfile.info(io.BytesIO(data)).samplerate == RATE
        assert people.nobody.get(f"{shared}/sample.wav").status_code == 404
        draft = {"base_version": 1, "document": {**kick_document, "name": "Deeper kick"}}
        people.editor.put(f"/api/sounds/{sound['id']}/draft", json=draft)
        assert people.nobody.get(shared).json["sound"]["name"] == "Deeper kick"
        archive = people.nobody.get(f"{shared}/sound.zip").data
        url = f"/api/libraries/{people.library_id}/sounds"
        again = people.editor.post(url, data={"file": (io.BytesIO(archive), "kick.zip")}).json
        took = people.editor.get(f"/api/sounds/{again['sound_id']}/file").data
        assert took == archive, "the same bytes come out where it was imported"
        people.editor.put(f"/api/sounds/{sound['id']}/bin", json={"binned": True})
        assert people.nobody.get(shared).status_code == 404

    @pytest.mark.parametrize("days", [0, 366])
    def test_links_last_a_while(self, people, days):
        sample = bring(people.editor, people.library_id, "A")
        url = f"/api/samples/{sample['id']}/links"
        refused = people.editor.post(url, json={"days": days})
        assert refused.json["problems"][0]["path"] == "days"

    def test_an_ended_link_opens_nothing(self, people):
        from datetime import timedelta

        from nest_crate.catalogue.db.models import utc_now
        from nest_crate.catalogue.db.shared_models import ShareLink

        sample = bring(people.editor, people.library_id, "A")
        link = people.editor.post(f"/api/samples/{sample['id']}/links", json={}).json
        with people.store.database.session() as session:
            session.get(ShareLink, link["id"]).expires = utc_now() - timedelta(seconds=1)
        shared = link["path"].replace("/shared/", "/api/shared/")
        assert people.nobody.get(shared).status_code == 404


class TestPulling:
    """The stand-in for a game's build, run as a build runs it."""

    @pytest.fixture
    def served(self, people):
        server = make_server("127.0.0.1", 0, people.app, threaded=True)
        thread = threading.Thread(target=server.serve_forever)
        thread.start()
        yield f"http://127.0.0.1:{server.server_port}"
        server.shutdown()
        thread.join()
        server.server_close()

    def pull(self, url, people, folder, number="latest", token=None):
        if token is None:
            made = people.listener.post("/api/session/tokens", json={"name": "Build"})
            token = made.json["secret"]
        command = [sys.executable, str(PULL), url, str(people.library_id), str(folder)]
        return subprocess.run(
            [*command, "--number", number],
            env={"NEST_CRATE_TOKEN": token},
            capture_output=True,
            text=True,
            timeout=60,
            check=False,
        )

    def test_a_build_pulls_verifies_and_only_fetches_what_is_new(self, people, served, tmp_path):
        for name in ("Kick", "Snare"):
            approved(people, name, wav(seed=len(name)), category="drum")
        release(people, "1.0.0")
        done = self.pull(served, people, tmp_path)
        assert done.returncode == 0, done.stderr
        assert "2 files, 2 fetched" in done.stdout
        assert sorted(p.name for p in (tmp_path / "drum").iterdir()) == ["Kick.wav", "Snare.wav"]
        again = self.pull(served, people, tmp_path)
        assert "nothing new" in again.stdout
        # A file that was spoilt, and one that is no longer in the release.
        (tmp_path / "drum" / "Kick.wav").write_bytes(b"spoilt")
        snare = search(people.editor, words="snare")["samples"][0]
        people.editor.post("/api/samples/bin", json={"ids": [snare["id"]]})
        release(people, "1.1.0")
        later = self.pull(served, people, tmp_path)
        assert "1 files, 1 fetched, 1 removed" in later.stdout
        assert [p.name for p in (tmp_path / "drum").iterdir()] == ["Kick.wav"]
        back = self.pull(served, people, tmp_path, number="1.0.0")
        assert back.returncode == 0
        assert (tmp_path / "drum" / "Snare.wav").exists()

    def test_what_goes_wrong_is_told_and_ends_the_build(self, people, served, tmp_path):
        wrong = self.pull(served, people, tmp_path / "into", token="nonsense")
        assert wrong.returncode == 1
        assert "not valid" in wrong.stderr
        missing = self.pull(served, people, tmp_path / "into", number="9.9.9")
        assert missing.returncode == 1
        assert "has no release" in missing.stderr
        assert not (tmp_path / "into").exists()


def test_remarks_at_a_moment_go_out_as_cue_points(people, tmp_path):
    sample = bring(people.editor, people.library_id, "Gong", wav(hz=110))
    path = f"/api/samples/{sample['id']}/comments"
    for at_s, text in ((0.2, "Größe of the ring"), (0.05, "click"), (None, "too long for a menu")):
        body = {"text": text, "at_s": at_s}
        assert people.reviewer.post(path, json=body).status_code == 201
    archive = fetched(people.listener, sample_ids=[sample["id"]], manifest="none")
    (data,) = opened(archive).values()
    file = tmp_path / "gong.wav"
    file.write_bytes(data)
    shown = subprocess.run(["sndfile-info", file], capture_output=True, check=True).stdout.decode()
    assert re.findall(r"labl : \d+ : (.*)", shown) == ["click", "Größe of the ring"]
    places = [int(one) for one in re.findall(r"Cue ID.*?Pos : +(\d+)", shown)]
    assert places == [round(0.05 * RATE), round(0.2 * RATE)]
