"""A closer look at processors, saved chains and recordings over the web."""

import io

import numpy as np
import pytest
import soundfile

from nest_crate.catalogue.people.accounts import create_account
from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.catalogue.sounds.chains import keep_chain
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import dump_sound
from nest_crate.core.sound.loading import load_chain
from nest_crate.storage.stored_recordings import StoredRecordings
from tests.web import samples

ROOM = {"id": "r", "kind": "room", "decay_s": 1}


@pytest.fixture
def body(kick):
    document = dump_sound(kick)
    squeeze = {"id": "k", "kind": "compressor", "threshold_db": -30}
    return {"document": {**document, "main": {"chain": [squeeze, ROOM]}}}


def wav(seconds=0.2, rate=48000, channels=1, value=None, kind="WAV"):
    frames = np.random.default_rng(1).normal(size=(round(seconds * rate), channels)) * 0.1
    if value is not None:
        frames[:] = value
    buffer = io.BytesIO()
    subtype = "FLOAT" if kind == "WAV" else None
    soundfile.write(buffer, frames, rate, format=kind, subtype=subtype)
    return buffer.getvalue()


def bring_in(client, data, name="Tin tub.wav"):
    return samples.send_file(client, "/api/recordings", data, name)


class TestLook:
    def test_a_processor_is_looked_at(self, client, body):
        looked = client.post("/api/judging/processor", json={**body, "processor": "k"}).json
        assert looked["after"]["peak_db"] < looked["before"]["peak_db"]
        assert min(looked["gains"][0]["gain_db"]) < -5
        assert len(looked["spectrum_hz"]) == len(looked["after"]["spectrum_db"])
        room = client.post("/api/judging/processor", json={**body, "processor": "r"}).json
        assert room["gains"] == []

    def test_one_that_is_not_there_is_told(self, client, body):
        answer = client.post("/api/judging/processor", json={**body, "processor": "gone"})
        assert answer.status_code == 422
        assert answer.json["problems"][0]["path"] == "processor"

    def test_the_audition_tells_stereo_and_details_tell_loudness(self, client, body):
        measures = client.post("/api/auditions", json=body).json["measures"]
        assert -1 <= measures["stereo"]["correlation"] <= 1
        assert len(measures["stereo"]["side_db"]) == 4
        steps = client.post("/api/judging/details", json=body).json["loudness_lufs"]
        assert set(steps) >= {"k", "r"}

    def test_the_keyboard_is_looked_over(self, client, body):
        readings = client.post("/api/judging/register", json=body).json["readings"]
        assert [one["note"] for one in readings] == list(range(24, 97, 6))


class TestSavedChains:
    def test_a_chain_is_kept_replaced_and_forgotten(self, client):
        kept = client.post("/api/chains", json={"name": "Yard", "chain": [ROOM]})
        assert kept.status_code == 201
        assert kept.json["chain"][0]["decay_s"] == 1
        again = client.post(
            "/api/chains",
            json={"name": "Yard", "chain": [{**ROOM, "decay_s": 3}, ROOM | {"id": "q"}]},
        )
        assert again.json["id"] == kept.json["id"]
        listed = client.get("/api/chains").json["chains"]
        assert [(one["name"], len(one["chain"])) for one in listed] == [("Yard", 2)]
        assert client.delete(f"/api/chains/{kept.json['id']}").status_code == 204
        assert client.get("/api/chains").json["chains"] == []

    def test_a_wrong_chain_is_told_at_its_field(self, client):
        wrong = {"name": "Yard", "chain": [{**ROOM, "decay_s": 99}]}
        answer = client.post("/api/chains", json=wrong)
        assert answer.status_code == 422
        assert answer.json["problems"][0]["path"] == "chain.0.decay_s"
        assert client.post("/api/chains", json={"name": "Y", "chain": []}).status_code == 422

    def test_somebody_elses_chain_cannot_be_taken_away(self, client, app):
        with app.extensions["nest_crate"].database.session() as session:
            other = create_account(session, handle="other", name="Other")
            saved = keep_chain(session, other, name="Theirs", chain=load_chain([ROOM]))
            identifier = saved.id
        assert client.get("/api/chains").json["chains"] == []
        assert client.delete(f"/api/chains/{identifier}").status_code == 404


class TestRecordings:
    @pytest.mark.parametrize("kind", ["WAV", "FLAC", "AIFF", "OGG"])
    def test_open_formats_are_brought_in(self, client, kind):
        rate = 48000 if kind == "OGG" else 96000
        answer = bring_in(client, wav(rate=rate, kind=kind), f"../sounds/Tin tub.{kind.lower()}")
        assert answer.status_code == 201, answer.json
        assert answer.json["name"] == "Tin tub"
        assert answer.json["sample_rate"] == rate
        assert answer.json["length_s"] == pytest.approx(0.2, abs=0.01)

    def test_a_file_larger_than_any_document_is_taken_and_one_over_200_mb_is_not(self, client):
        assert bring_in(client, wav(seconds=30, channels=2)).status_code == 201
        refused = client.post(
            "/api/recordings",
            data=b"--b\r\n",
            content_type="multipart/form-data; boundary=b",
            environ_overrides={"CONTENT_LENGTH": "200200001"},
        )
        assert refused.status_code == 413

    def test_an_imported_impulse_is_heard_and_kept_from_the_sweep(self, client, app, body):
        digest = bring_in(client, wav(seconds=0.4)).json["digest"]
        services = app.extensions["nest_crate"]
        assert sweep_orphans(services.database, services.store, older_than_s=-60) == 0
        part = {"id": "c", "kind": "convolution", "impulse": "imported", "recording": digest}
        document = {**body["document"], "main": {"chain": [{**part, "mix": 1}]}}
        with_it = client.post("/api/auditions", json={"document": document})
        assert with_it.status_code == 200
        dry = client.post("/api/auditions", json={"document": {**document, "main": {"chain": []}}})
        assert with_it.json["digest"] != dry.json["digest"]
        audio = samples.audition_parts(client, {"document": document})["audio"]
        assert np.all(np.isfinite(decode_wav(audio)[0]))

    def test_the_same_samples_are_kept_once(self, client):
        first, second = (bring_in(client, wav(), name) for name in ("a.wav", "b.wav"))
        assert first.json["id"] == second.json["id"]
        assert [one["name"] for one in client.get("/api/recordings").json["recordings"]] == ["b"]

    @pytest.mark.parametrize(
        ("data", "words"),
        [
            (b"", "no audio file"),
            (b"RIFF\xff\xff\xff\xffWAVEfmt ", "no audio file"),
            (b"<html>", "no audio file"),
            (wav(seconds=0), "no sound"),
            (wav(channels=3), "3 channels"),
            (wav(rate=4000), "4000 Hz"),
            (wav(value=np.nan), "no samples"),
        ],
    )
    def test_what_cannot_be_used_is_told(self, client, data, words):
        answer = bring_in(client, data)
        assert answer.status_code == 422
        assert words in answer.json["detail"]
        assert client.get("/api/recordings").json["recordings"] == []

    def test_a_recording_that_is_gone_is_told(self, client, body):
        part = {"id": "c", "kind": "convolution", "impulse": "imported", "recording": "ab" * 32}
        document = {**body["document"], "main": {"chain": [part]}}
        answer = client.post("/api/auditions", json={"document": document})
        assert answer.status_code == 422
        assert "import it again" in answer.json["detail"]

    def test_decoded_recordings_are_few(self, client, app):
        digests = [bring_in(client, wav(value=n / 10)).json["digest"] for n in range(1, 5)]
        held = StoredRecordings(app.extensions["nest_crate"].store, kept_bytes=2 * 9600 * 8)
        for digest in digests:
            assert held[digest].samples.shape == (1, 9600)
        assert held._decoded.held_bytes == 2 * 9600 * 8
