"""Try-outs over the API: documents that nobody overwrites, what is played, figures, files."""

from __future__ import annotations

import io
import zipfile

import mido
import numpy as np
import pytest
import soundfile

from nest_crate.catalogue.db.models import Sample
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.engine import render
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.sound import load_sound
from nest_crate.storage.stored_recordings import StoredRecordings
from tests.web.samples import RATE, bring, send_file, wav


@pytest.fixture
def client(people):
    return people.owner


@pytest.fixture
def library(people):
    return people.library_id


@pytest.fixture
def kick_id(client, library, kick_document):
    body = {"library_id": library, "document": kick_document}
    return client.post("/api/sounds", json=body).json["id"]


def beats(*places, **more):
    return [{"at_s": 0.0, "in_beats": {"at_s": one}, **more} for one in places]


def part(key, plays, *places, **more):
    return {"id": key, "name": key.title(), "plays": plays, "hits": beats(*places), **more}


def groove(*parts, **more):
    length = {"length_s": 1.0, "in_beats": {"length_s": 4.0}}
    return {"name": "Groove", "tempo_bpm": 120, **length, "parts": list(parts), **more}


@pytest.fixture
def tone_id(client, library):
    return bring(client, library, "Tone", wav(hz=440.0, seconds=0.3, decay_s=10.0))["id"]


@pytest.fixture
def made(client, library, kick_id, tone_id):
    document = groove(
        part("kick", {"kind": "sound", "sound": kick_id}, 0, 1, 2, 3),
        part("tone", {"kind": "sample", "sample": tone_id}, 0.5, 2.5, pan=-1.0),
        ducks=[{"part": "tone", "by": "kick"}],
    )
    return client.post("/api/tryouts", json={"library_id": library, "document": document}).json


class TestDocuments:
    def test_it_is_made_saved_listed_binned_and_copied(self, client, made):
        url = f"/api/tryouts/{made['id']}"
        document = {**made["document"], "name": "Other"}
        saved = client.put(f"{url}/draft", json={"base_version": 1, "document": document})
        assert saved.json["version"] == 2
        assert client.get(url).json["document"]["name"] == "Other"
        assert [one["name"] for one in client.get("/api/tryouts").json["tryouts"]] == ["Other"]
        copy = client.post(f"{url}/copies")
        assert copy.status_code == 201
        assert copy.json["name"] == "Other copy"
        assert client.put(f"{url}/bin", json={"binned": True}).status_code == 204
        assert client.get(url).status_code == 404
        binned = client.get("/api/tryouts", query_string={"binned": True}).json["tryouts"]
        assert [one["id"] for one in binned] == [made["id"]]

    def test_a_stale_save_changes_nothing_and_shows_both(self, client, made):
        url = f"/api/tryouts/{made['id']}/draft"
        first = {"base_version": 1, "document": {**made["document"], "name": "A"}}
        second = {"base_version": 1, "document": {**made["document"], "name": "B"}}
        assert client.put(url, json=first).status_code == 200
        refused = client.put(url, json=second)
        assert refused.status_code == 409
        details = refused.json["details"]
        assert details["saved"]["document"]["name"] == "A"
        assert details["yours"]["document"]["name"] == "B"
        # The same save once more, its answer having been lost, is no conflict.
        assert client.put(url, json=first).json["version"] == 2

    @pytest.mark.parametrize(
        ("change", "path"),
        [
            ({"tempo_bpm": 5}, "tempo_bpm"),
            ({"length_s": 200.0, "in_beats": {}}, "length_s"),
            ({"colour": 1}, "colour"),
        ],
    )
    def test_what_is_wrong_is_said_at_its_field(self, client, library, change, path):
        body = {"library_id": library, "document": groove(**change)}
        refused = client.post("/api/tryouts", json=body)
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == path

    def test_parts_that_duck_each_other_are_refused_with_the_way_round(self, client, made):
        ducks = [{"part": "tone", "by": "kick"}, {"part": "kick", "by": "tone"}]
        body = {"base_version": 1, "document": {**made["document"], "ducks": ducks}}
        refused = client.put(f"/api/tryouts/{made['id']}/draft", json=body)
        assert refused.status_code == 422
        assert "Kick ducks Tone ducks Kick" in refused.json["problems"][0]["message"]


class TestPlaying:
    def plan(self, client, document, **more):
        return client.post("/api/tryouts/plan", json={"document": document, **more}).json

    def test_a_plan_says_when_what_is_heard(self, client, made):
        found = self.plan(client, made["document"])
        assert [one["at_s"] for one in found["events"] if one["part"] == "tone"] == [0.25, 1.25]
        assert not found["varies"]
        points = [(one["at_s"], one["gain_db"]) for one in found["ducks"][0]["points"]]
        assert (0.502, -9.0) in points
        assert (0.5, 0.0) in points
        kinds = {one["part"]: one["kind"] for one in found["sources"]}
        assert kinds == {"kick": "sound", "tone": "sample"}

    def test_a_hit_is_what_the_engine_renders(self, client, kick_id, kick_document):
        body = {"plays": {"kind": "sound", "sound": kick_id}, "velocity": 100, "notes": [40]}
        played, rate = decode_wav(client.post("/api/tryouts/hits", json=body).data)
        sound = load_sound(kick_document)
        own = sound.hit.model_copy(update={"note": 40, "velocity": 100})
        assert rate == RATE
        assert np.abs(played - render(sound, own).samples).max() < 1e-6

    def test_a_sound_that_is_being_edited_plays_as_it_is_now(self, client, kick_id, kick_document):
        draft = {**kick_document, "main": {**kick_document["main"], "level_db": -20.0}}
        body = {"plays": {"kind": "sound", "sound": kick_id}}
        before, _ = decode_wav(client.post("/api/tryouts/hits", json=body).data)
        after, _ = decode_wav(client.post("/api/tryouts/hits", json={**body, "draft": draft}).data)
        assert np.abs(after).max() < 0.3 * np.abs(before).max()

    def test_what_was_binned_is_named_and_silent(self, client, made, tone_id):
        client.post("/api/samples/bin", json={"ids": [tone_id]})
        found = self.plan(client, made["document"])
        missing = {one["part"]: one["missing"] for one in found["sources"]}
        assert "bin" in missing["tone"]
        assert not missing["kick"]
        mix = client.post("/api/tryouts/mix", json={"document": made["document"]}).json
        assert set(mix["missing"]) == {"tone"}

    def test_a_bed_is_as_long_as_the_round(self, client, tone_id):
        plays = {"kind": "bed", "sample": tone_id, "tempo_bpm": 60.0}
        body = {"plays": plays, "tempo_bpm": 120.0, "length_s": 2.5}
        played, _ = decode_wav(client.post("/api/tryouts/beds", json=body).data)
        assert played.shape[1] == round(2.5 * RATE)

    def test_of_a_bed_of_ten_minutes_only_what_is_heard_is_read(self, client, people, library):
        # Noise, so that a place in it is found again; at a low rate, so that it is quickly made.
        long = np.random.default_rng(2).normal(size=(1, 600 * 8000)).astype(np.float32) * 0.1
        data = encode_wav(long, 8000, sample_format="float32")
        short = bring(client, library, "Long night", wav())
        digest = people.store.files.put(data)
        with people.store.database.session() as session:
            row = session.get_one(Sample, short["id"])
            row.file_digest, row.sample_rate, row.length_s = digest, 8000, 600.0
        recordings = StoredRecordings(people.store.files)
        assert recordings.beginning(digest, 3.0).samples.shape == (1, 24000)
        plays = {"kind": "bed", "sample": short["id"], "first_beat_s": 1.0}
        body = {"plays": plays, "tempo_bpm": 120.0, "length_s": 2.0}
        played, rate = decode_wav(client.post("/api/tryouts/beds", json=body).data)
        whole = resample(long[:, 8000 : 8000 * 5].astype(float), 8000, rate)
        assert np.abs(played - whole[:, : played.shape[1]])[:, 100:-100].max() < 1e-3

    def test_a_chord_of_64_notes_is_refused_at_its_hit(self, client, library, kick_id):
        hit = {"at_s": 0.0, "notes": list(range(30, 94))}
        one = {"id": "a", "name": "A", "plays": {"kind": "sound", "sound": kick_id}, "hits": [hit]}
        body = {"library_id": library, "document": groove(one)}
        refused = client.post("/api/tryouts", json=body)
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == "parts.0.hits.0.notes"


class TestFigures:
    def test_the_mix_has_the_peak_of_its_file(self, client, made):
        figures = client.post("/api/tryouts/mix", json={"document": made["document"]}).json
        answer = client.get(f"/api/tryouts/{made['id']}/mix?file_format=wav32")
        samples, _ = decode_wav(answer.data)
        assert figures["measures"]["peak_db"] == pytest.approx(
            20 * np.log10(np.abs(samples).max()), abs=0.01
        )

    def test_two_equal_sounds_cover_each_other_wholly(self, client, kick_id):
        plays = {"kind": "sound", "sound": kick_id}
        body = {
            "document": groove(part("a", plays, 0), part("b", plays, 0)),
            "first": "a",
            "second": "b",
        }
        found = client.post("/api/tryouts/overlap", json=body).json["judged"]
        assert found["amount_db"] == pytest.approx(0.0, abs=0.5)
        assert found["together"]["sum_db"] == pytest.approx(6.02, abs=0.05)
        assert found["together"]["inverted_db"] < -60
        assert "attack" in {one["kind"] for one in found["offers"]}

    def test_an_unknown_part_is_refused_at_its_field(self, client, made):
        body = {"document": made["document"], "first": "kick", "second": "nobody"}
        refused = client.post("/api/tryouts/overlap", json=body)
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == "second"

    def test_matched_levels_make_parts_equally_loud(self, client, made):
        levels = client.post("/api/tryouts/levels", json={"document": made["document"]}).json
        parts = [
            {**one, "level_db": levels["levels"][one["id"]]} for one in made["document"]["parts"]
        ]
        again = client.post(
            "/api/tryouts/levels", json={"document": {**made["document"], "parts": parts}}
        ).json["levels"]
        assert again == pytest.approx(levels["levels"], abs=0.02)

    def test_a_game_run_is_of_the_group_and_the_same_again(self, client, library):
        ids = [
            bring(client, library, f"Wing {n}", wav(hz=200.0 * 1.1**n, seconds=0.2))["id"]
            for n in range(5)
        ]
        plays = {"kind": "group", "samples": ids, "choice": "no_repeat", "avoid": 2}
        game = {"part": "wing", "every_from_s": 0.1, "every_to_s": 0.2, "pitch_semitones": 1.0}
        body = {"document": groove(part("wing", plays), game=game), "run": 3}
        found = client.post("/api/tryouts/game", json=body).json
        assert found == client.post("/api/tryouts/game", json=body).json
        order = [one["sample"] for one in found["triggers"]]
        assert len(order) == 200
        assert set(order) == set(ids)
        assert found["soonest_repeat"] >= 3
        gaps = np.diff([one["at_s"] for one in found["triggers"]])
        assert gaps.min() >= 0.1
        assert gaps.max() <= 0.2
        assert max(abs(one["pitch_semitones"]) for one in found["triggers"]) <= 1.0

    def test_a_game_test_of_no_group_is_refused(self, client, made):
        document = {**made["document"], "game": {"part": "kick"}}
        refused = client.post("/api/tryouts/game", json={"document": document})
        assert refused.status_code == 409


class TestFiles:
    def names(self, answer):
        return zipfile.ZipFile(io.BytesIO(answer.data))

    def test_stems_sum_to_the_mix(self, client, made):
        answer = client.get(f"/api/tryouts/{made['id']}/stems.zip?file_format=wav32")
        files = self.names(answer)
        mix, _ = decode_wav(files.read("Mix.wav"))
        stems = [decode_wav(files.read(one))[0] for one in files.namelist() if "Stems/" in one]
        assert len(stems) == 2
        total = np.zeros_like(mix)
        for one in stems:
            total[:, : one.shape[1]] += one
        assert np.abs(total - mix).max() < 1e-6
        assert len(mido.MidiFile(file=io.BytesIO(files.read("Hits.mid"))).tracks) == 3

    @pytest.mark.parametrize(("rate", "kind"), [(44100, "wav16"), (96000, "flac24")])
    def test_a_mix_comes_at_the_rate_and_width_that_is_asked_for(self, client, made, rate, kind):
        url = f"/api/tryouts/{made['id']}/mix?file_format={kind}&sample_rate={rate}"
        samples, found = soundfile.read(io.BytesIO(client.get(url).data), always_2d=True)
        assert found == rate
        assert samples.shape[0] / rate >= 2.0
        assert client.get(f"{url}1").status_code == 422

    def test_midi_comes_back_as_it_was(self, client, made):
        data = client.get(f"/api/tryouts/{made['id']}/midi").data
        tracks = send_file(client, "/api/tryouts/midi", data, name="hits.mid").json["tracks"]
        assert [one["name"] for one in tracks] == ["Kick", "Tone"]
        assert [one["in_beats"]["at_s"] for one in tracks[0]["hits"]] == [0, 1, 2, 3]

    @pytest.mark.parametrize("data", [b"MThd", b"RIFFnothing", b""])
    def test_a_broken_midi_file_is_refused(self, client, data):
        refused = send_file(client, "/api/tryouts/midi", data, name="hits.mid")
        assert refused.status_code == 422
        assert "MIDI" in refused.json["detail"]

    def test_the_whole_goes_out_and_in_and_sounds_the_same(self, client, library, made):
        data = client.get(f"/api/tryouts/{made['id']}/file").data
        answer = send_file(client, f"/api/libraries/{library}/tryouts", data, name="g.zip")
        assert answer.status_code == 201
        heard = [
            client.get(f"/api/tryouts/{one}/mix?file_format=wav32").data
            for one in (made["id"], answer.json["tryout_id"])
        ]
        first, second = (decode_wav(one)[0] for one in heard)
        assert np.abs(first - second).max() < 1e-6

    def test_a_kept_mix_knows_what_made_it(self, client, library, made, kick_id, tone_id):
        body = {
            "base_version": 1,
            "document": made["document"],
            "library_id": library,
            "name": "Groove mix",
        }
        kept = client.post(f"/api/tryouts/{made['id']}/mixes", json=body)
        assert kept.status_code == 201
        sample = kept.json["sample"]
        assert (sample["loop_start_s"], sample["loop_end_s"]) == (0.0, 2.0)
        found = client.get(f"/api/samples/{sample['id']}/mix").json
        assert found["tryout_id"] == made["id"]
        assert found["parts"][0]["sound"] == kick_id
        assert found["parts"][0]["revision"] == 1
        assert found["parts"][1]["samples"][0]["sample"] == tone_id
        assert client.get(f"/api/samples/{tone_id}/mix").json["tryout_id"] is None

    def test_a_release_holds_a_try_out_as_a_demo(self, client, library, made, tone_id):
        for status in ("in_review", "approved"):
            client.post("/api/samples/move", json={"ids": [tone_id], "status": status})
        body = {"number": "1.0.0", "demos": [made["id"]]}
        base = f"/api/libraries/{library}/releases"
        assert client.post(base, json=body).status_code == 201
        files = self.names(client.get(f"{base}/1.0.0.zip"))
        demo, rate = decode_wav(files.read("demos/Groove.wav"))
        mix, _ = decode_wav(client.get(f"/api/tryouts/{made['id']}/mix?file_format=wav24").data)
        assert rate == RATE
        assert np.array_equal(demo, mix)
        rows = client.get(f"{base}/1.0.0").json["files"]
        assert [one["id"] for one in rows if one["path"].startswith("demos/")] == [-made["id"]]
        # Nothing but the demo is new: a release without it would change nothing.
        assert client.get(f"{base}/changes").json["changes"] == []
        missing = client.post(base, json={"number": "1.1.0", "demos": [999]})
        assert missing.status_code == 404

    def test_a_kit_has_a_region_for_each_file(self, client, made):
        files = self.names(client.get(f"/api/tryouts/{made['id']}/kit.zip"))
        (text,) = [files.read(one).decode() for one in files.namelist() if one.endswith(".sfz")]
        samples = [line.split("sample=")[1] for line in text.splitlines() if "sample=" in line]
        assert samples
        assert set(samples) <= set(files.namelist())


def test_it_begins_around_a_sound_with_what_the_library_holds(
    client, library, kick_document, kick_id
):
    for name in ("Bench snare", "Root bass"):
        body = {"library_id": library, "document": {**kick_document, "name": name}}
        client.post("/api/sounds", json=body)
    begun = client.post(f"/api/sounds/{kick_id}/tryouts", json={"pattern": "broken"})
    assert begun.status_code == 201
    names = [one["name"] for one in begun.json["document"]["parts"]]
    assert names == [kick_document["name"], "Bench snare", "Root bass"]
    unknown = client.post(f"/api/sounds/{kick_id}/tryouts", json={"pattern": "polka"})
    assert unknown.status_code == 404
