"""Sounds and what was made from them: removed, imported, listed."""

import hashlib
import io
import json
import random
import zipfile

import pytest

from tests.web.samples import bring, make_sound, names, search, send_file, wav


class TestSoundsAndLineage:
    def test_eight_takes_are_a_numbered_group(self, people, kick_document):
        _, kept = make_sound(people, kick_document, count=8)
        found = search(people.listener, group="Kick", sort="name")["samples"]
        assert [s["name"] for s in found] == [f"Kick {n:02}" for n in range(1, 9)]
        assert [s["variation"] for s in found] == list(range(1, 9))
        assert [s["hit"]["number"] for s in found] == list(range(1, 9))
        assert sorted(kept["ids"]) == sorted(s["id"] for s in found)

    def test_what_was_made_from_a_sound(self, people, kick_document):
        sound, _ = make_sound(people, kick_document)
        bring(people.editor, people.library_id, "Other")
        assert names(people.listener, sound_id=sound) == ["Kick"]
        listed = people.listener.get("/api/sounds").json["sounds"]
        assert listed[0]["takes"] == 1
        text = people.listener.get(
            f"/api/samples/{search(people.listener, words='kick')['samples'][0]['id']}/recipe"
        ).json["text"]
        assert "Hz" in text
        assert kick_document["name"] in text

    @pytest.mark.parametrize("kind", ["json", "zip"])
    def test_a_sound_goes_out_and_comes_in_as_the_same_bytes(self, people, kick_document, kind):
        sound, _ = make_sound(people, kick_document)
        url = f"/api/sounds/{sound}/file?kind={kind}"
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
        sound = people.editor.post("/api/sounds", json=body).json["id"]
        data = people.editor.get(f"/api/sounds/{sound}/file").data
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
        sound, _ = make_sound(people, kick_document)
        url = f"/api/sounds/{sound}"
        said = {"category": "drum", "tags": ["Low"], "description": "of the kiln"}
        assert people.editor.patch(url, json=said).status_code == 204
        copy = people.editor.post(f"{url}/copies").json
        assert (copy["category"], copy["tags"]) == ("drum", ["low"])
        assert copy["name"] == f"{kick_document['name']} copy"
        people.editor.put(f"{url}/bin", json={"binned": True})
        assert [s["id"] for s in people.editor.get("/api/sounds").json["sounds"]] == [copy["id"]]
        assert people.editor.get(url).status_code == 404
        binned = people.editor.get("/api/sounds?binned=true").json["sounds"]
        assert [s["id"] for s in binned] == [sound]
        people.editor.put(f"{url}/bin", json={"binned": False})
        assert people.editor.get(url).status_code == 200


class TestHostileSounds:
    """Archives of sounds by someone who means no good: refused, and nothing is left behind."""

    def send(self, people, files):
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, data in files.items():
                archive.writestr(name, data)
        url = f"/api/libraries/{people.library_id}/sounds"
        data = {"file": (io.BytesIO(packed.getvalue()), "sound.zip")}
        return people.editor.post(url, data=data)

    def left(self, people):
        folder = people.store.files_folder
        return sorted(one for one in folder.rglob("*") if one.is_file()) if folder.exists() else []

    @pytest.mark.parametrize(
        "name", ["../../escaped.wav", "/etc/escaped", "recordings/../../escaped", "a\\..\\b", "C:x"]
    )
    def test_names_lead_nowhere(self, people, kick_document, tmp_path, name):
        answer = self.send(people, {"sound.json": json.dumps(kick_document), name: b"x" * 100})
        assert answer.status_code == 201, "what nobody asked for is left in the archive"
        assert self.left(people) == []
        assert not list(tmp_path.rglob("*escaped*"))

    @pytest.mark.parametrize(
        "files",
        [
            {"other.json": b"{}"},
            {"../sound.json": b"{}"},
            {"sound.json": b"\xff\xfe\x00"},
            {"sound.json": b"[" * 5000},
            {"sound.json": b" " * 3_000_000},
            {f"{n}.wav": b"" for n in range(300)},
        ],
    )
    def test_what_is_no_sound_is_refused(self, people, files):
        answer = self.send(people, files)
        assert answer.status_code == 422, answer.json
        assert self.left(people) == []

    def test_a_recording_under_anothers_name_is_refused(self, people, kick_document):
        key = "0" * 64
        source = {"kind": "sample", "recording": key}
        layer = {"id": "s", "name": "S", "source": source}
        document = {"name": "Liar", "layers": [layer], "hit": kick_document["hit"]}
        files = {"sound.json": json.dumps(document), f"recordings/{key}.wav": wav()}
        answer = self.send(people, files)
        assert answer.status_code == 422
        assert "does not match its name" in answer.json["detail"]
        assert self.left(people) == []
        names = [one["name"] for one in people.editor.get("/api/sounds").json["sounds"]]
        assert "Liar" not in names

    def recording_of(self, data):
        """A document that uses a recording, and the archive's name for it."""
        key = hashlib.sha256(data).hexdigest()
        layer = {"id": "s", "name": "S", "source": {"kind": "sample", "recording": key}}
        return {"name": "Heavy", "layers": [layer]}, f"recordings/{key}.wav"

    def test_a_recording_that_unfolds_to_too_much_is_refused(self, people, monkeypatch):
        """Two names of one file of zeros, a thousandth as large in the archive."""
        document, name = self.recording_of(b"")
        other, second = self.recording_of(b"1")
        document["layers"] += [{**other["layers"][0], "id": "t"}]
        zeros = bytes(201_000_000)
        packed = {"sound.json": json.dumps(document), name: zeros, second: zeros}
        inflated = []
        opened = zipfile.ZipFile.open

        def noting(archive, entry, mode="r", *more, **options):
            if mode == "r":
                inflated.append(getattr(entry, "filename", entry))
            return opened(archive, entry, mode, *more, **options)

        monkeypatch.setattr(zipfile.ZipFile, "open", noting)
        answer = self.send(people, packed)
        assert answer.status_code == 422, answer.json
        assert "more than a sound needs" in answer.json["detail"]
        assert inflated == ["sound.json"], "the web process itself unfolds the document alone"
        assert self.left(people) == []

    def test_a_recording_that_is_no_audio_is_refused(self, people):
        content = b"MZ this is a program" * 100
        document, name = self.recording_of(content)
        answer = self.send(people, {"sound.json": json.dumps(document), name: content})
        assert answer.status_code == 422, answer.json
        assert "no audio file" in answer.json["detail"]
        assert self.left(people) == []


def test_no_damage_of_an_archive_is_more_than_a_refusal(people, kick_document):
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("sound.json", json.dumps(kick_document))
    whole, chance = packed.getvalue(), random.Random(1)
    url = f"/api/libraries/{people.library_id}/sounds"
    for _ in range(200):
        bad = bytearray(whole)
        for _ in range(chance.randint(1, 6)):
            bad[chance.randrange(len(bad))] = chance.randrange(256)
        answer = send_file(people.editor, url, bytes(bad), "Kick.sound.zip")
        assert answer.status_code in (201, 422), answer.text
        if answer.status_code == 422:
            assert answer.json["detail"]
