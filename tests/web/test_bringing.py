"""Files imported: what they say about themselves, hostile ones, and what they become."""

from __future__ import annotations

import io
import struct
import zipfile

import mido
import numpy as np
import pytest
import soundfile

from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.core.errors import FormatError
from nest_crate.core.formats.metadata import read_facts
from nest_crate.core.formats.midi import read_notes
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.storage.decoder import decode_file
from tests.web import samples
from tests.web.test_effects_api import bring_in, wav


def with_smpl(data, *, note=57, fraction=0, loop=(100, 4000)):
    """A WAV with a ``smpl`` chunk behind its samples."""
    loops = [struct.pack("<6I", 0, 0, *loop, 0, 0)] if loop else []
    head = struct.pack("<9I", 0, 0, 20833, note, fraction, 0, 0, len(loops), 0)
    content = head + b"".join(loops)
    chunk = b"smpl" + struct.pack("<I", len(content)) + content
    whole = data + chunk
    return whole[:4] + struct.pack("<I", len(whole) - 8) + whole[8:]


def aiff_with_loop(frames=8000):
    buffer = io.BytesIO()
    soundfile.write(buffer, np.zeros((frames, 1)) + 0.1, 44100, format="AIFF", subtype="PCM_16")
    marks = struct.pack(">H", 2)
    for number, frame in ((1, 500), (2, 6000)):
        marks += struct.pack(">hIB", number, frame, 0) + b"\0"
    inst = struct.pack(">Bb4Bh", 64, -10, 0, 127, 1, 127, 0) + struct.pack(">6h", 1, 1, 2, 0, 0, 0)
    data = buffer.getvalue()
    for name, content in ((b"MARK", marks), (b"INST", inst)):
        data += name + struct.pack(">I", len(content)) + content
    return data[:4] + struct.pack(">I", len(data) - 8) + data[8:]


def midi(notes=((60, 0, 240), (64, 240, 240), (67, 480, 480)), tempo=500000):
    file = mido.MidiFile(ticks_per_beat=480)
    track = mido.MidiTrack()
    file.tracks.append(track)
    track.append(mido.MetaMessage("set_tempo", tempo=tempo))
    events = [(at, "note_on", note) for note, at, _ in notes]
    events += [(at + hold, "note_off", note) for note, at, hold in notes]
    now = 0
    for at, kind, note in sorted(events):
        track.append(mido.Message(kind, note=note, velocity=90, time=at - now))
        now = at
    buffer = io.BytesIO()
    file.save(file=buffer)
    return buffer.getvalue()


class TestFacts:
    def test_note_and_loop_of_a_wav(self, client):
        fraction = int(0.25 * 2**32)
        details = bring_in(client, with_smpl(wav(), fraction=fraction)).json["details"]
        assert details["root_note"] == 57
        assert details["root_cent"] == pytest.approx(25.0, abs=0.01)
        assert details["loop_start_s"] == pytest.approx(100 / 48000)
        assert details["loop_end_s"] == pytest.approx(4001 / 48000)

    def test_note_and_loop_of_an_aiff(self, client):
        answer = bring_in(client, aiff_with_loop(), "Pipe.aiff")
        assert answer.status_code == 201, answer.json
        details = answer.json["details"]
        assert details["root_note"] == 64
        assert details["root_cent"] == 10.0
        assert details["loop_start_s"] == pytest.approx(500 / 44100)
        assert details["loop_end_s"] == pytest.approx(6000 / 44100)

    @pytest.mark.parametrize("loop", [(4000, 100), (0, 4_000_000_000), (9000, 9600)])
    def test_a_loop_that_makes_no_sense_is_left_out(self, client, loop):
        details = bring_in(client, with_smpl(wav(), loop=loop)).json["details"]
        assert details["loop_start_s"] is None
        assert details["root_note"] == 57

    def test_facts_of_noise_are_none(self):
        draw = np.random.default_rng(4)
        for _ in range(300):
            body = draw.integers(0, 256, draw.integers(0, 400)).astype(np.uint8).tobytes()
            for head in (b"RIFF\0\0\0\0WAVE", b"FORM\0\0\0\0AIFF", b""):
                facts = read_facts(io.BytesIO(head + body), 1000, 48000)
                assert facts.loop_end is None or 0 <= facts.loop_start < facts.loop_end <= 1000

    def test_mp3_and_words_are_read(self, client):
        buffer = io.BytesIO()
        tone = 0.3 * np.sin(2 * np.pi * 440 * np.arange(44100) / 44100)
        soundfile.write(buffer, tone, 44100, format="MP3")
        answer = bring_in(client, buffer.getvalue(), "Whistle.mp3")
        assert answer.status_code == 201, answer.json
        assert answer.json["length_s"] == pytest.approx(1.0, abs=0.1)
        flac = io.BytesIO()
        with soundfile.SoundFile(flac, "w", 48000, 1, format="FLAC") as file:
            file.title, file.comment = "Tin tub", "struck once"
            file.write(np.ones(480) * 0.1)
        details = bring_in(client, flac.getvalue(), "x.flac").json["details"]
        assert (details["title"], details["comment"]) == ("Tin tub", "struck once")


class TestHostileFiles:
    @pytest.mark.parametrize(
        ("data", "words"),
        [
            (wav(channels=32), "32 channels"),
            (wav(seconds=0), "no sound"),
            (wav(value=np.inf), "no samples"),
            (wav(seconds=601, rate=8000), "longer than 10 minutes"),
        ],
    )
    def test_are_refused_with_a_clear_remark(self, client, data, words):
        answer = bring_in(client, data)
        assert answer.status_code == 422
        assert words in answer.json["detail"]
        assert client.get("/api/recordings").json["recordings"] == []

    def test_an_archive_called_wav_is_refused(self, client):
        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w") as archive:
            archive.writestr("../../kick.wav", wav())
        answer = bring_in(client, buffer.getvalue(), "kick.wav")
        assert answer.status_code == 422
        assert "no audio file" in answer.json["detail"]

    def test_a_size_that_lies_gives_what_is_there_or_a_remark(self, client):
        data = bytearray(wav())
        at = data.index(b"data") + 4
        data[at : at + 4] = struct.pack("<I", 0xFFFFFFF0)
        answer = bring_in(client, bytes(data))
        assert answer.status_code in (201, 422)
        if answer.status_code == 201:
            assert answer.json["length_s"] <= 0.21

    def test_one_frame_is_taken(self, client):
        answer = bring_in(client, wav(seconds=1 / 48000))
        assert answer.status_code == 201
        assert answer.json["length_s"] == pytest.approx(1 / 48000)

    def test_mutated_files_never_break_more_than_themselves(self, tmp_path):
        """Bits turned over and pieces cut out of good files, read apart as the server does."""
        draw = np.random.default_rng(9)
        good = [with_smpl(wav(0.05)), aiff_with_loop(2000), wav(0.05, kind="FLAC")]
        path = tmp_path / "mutant"
        for turn in range(12):
            data = bytearray(good[turn % len(good)])
            for _ in range(int(draw.integers(1, 30))):
                data[int(draw.integers(0, min(len(data), 400)))] = int(draw.integers(0, 256))
            if turn % 4 == 0:
                data = data[: int(draw.integers(1, len(data)))]
            path.write_bytes(bytes(data))
            try:
                made = decode_file(path)
            except FormatError:
                continue
            assert made.channels in (1, 2)
            assert made.length_s > 0

    def test_one_that_takes_too_long_is_given_up(self, tmp_path):
        path = tmp_path / "slow.wav"
        path.write_bytes(wav())
        with pytest.raises(FormatError, match="more time or memory"):
            decode_file(path, time_s=0.001)

    def test_a_full_disk_is_told_and_leaves_nothing(self, client, app, monkeypatch):
        def full(*_arguments, **_more):
            raise OSError(28, "No space left on device")

        monkeypatch.setattr("werkzeug.datastructures.FileStorage.save", full)
        answer = bring_in(client, wav())
        assert answer.status_code == 507
        assert "No space left" in answer.json["detail"]
        monkeypatch.undo()
        monkeypatch.setattr("nest_crate.storage.files.os.fsync", full)
        assert bring_in(client, wav()).status_code == 507
        assert client.get("/api/recordings").json["recordings"] == []
        assert app.extensions["nest_crate"].store.digests() == set()

    def test_nobody_is_kept_waiting_by_nothing_left_behind(self, client, app):
        bring_in(client, wav(channels=32))
        services = app.extensions["nest_crate"]
        assert services.store.digests() == set()


class TestMidi:
    def test_notes_come_with_their_times(self, client):
        answer = self.sent(client, midi())
        assert answer.status_code == 200
        notes = answer.json["notes"]
        assert [one["note"] for one in notes] == [60, 64, 67]
        assert [one["at_s"] for one in notes] == pytest.approx([0, 0.25, 0.5])
        assert notes[2]["hold_s"] == pytest.approx(0.5)

    def test_silence_before_the_first_is_left_out(self):
        assert read_notes(midi(((50, 960, 240),)))[0].at_s == 0.0

    @pytest.mark.parametrize("data", [b"", b"MThd", b"MThd" + bytes(40), wav(), midi(())])
    def test_what_is_none_is_told(self, client, data):
        answer = self.sent(client, data)
        assert answer.status_code == 422
        assert "MIDI" in answer.json["detail"]

    def test_mutated_files_are_read_or_refused(self):
        draw = np.random.default_rng(7)
        for _ in range(200):
            data = bytearray(midi())
            for _ in range(int(draw.integers(1, 8))):
                data[int(draw.integers(0, len(data)))] = int(draw.integers(0, 256))
            try:
                notes = read_notes(bytes(data))
            except FormatError:
                continue
            assert notes[0].at_s == 0.0

    @staticmethod
    def sent(client, data):
        return samples.send_file(client, "/api/recordings/midi", data, "n.mid")


class TestIntoALibrary:
    def test_a_file_becomes_a_measured_sample(self, client, app):
        library = client.get("/api/libraries").json["libraries"][0]["id"]
        tone = io.BytesIO()
        time_s = np.arange(48000) / 48000
        soundfile.write(tone, 0.5 * np.sin(2 * np.pi * 220 * time_s), 48000, format="WAV")
        path = f"/api/libraries/{library}/samples"
        answer = samples.send_file(client, path, with_smpl(tone.getvalue()), "Pipe.wav")
        assert answer.status_code == 201, answer.json
        assert answer.json["name"] == "Pipe"
        assert answer.json["note"] == "A3"
        assert answer.json["peak_db"] == pytest.approx(-6.02, abs=0.02)
        assert answer.json["details"]["root_note"] == 57
        assert answer.json["sound_id"] is None
        services = app.extensions["nest_crate"]
        assert sweep_orphans(services.database, services.store, older_than_s=-60) == 0
        listed = client.post("/api/samples/search", json={}).json["samples"]
        assert [one["name"] for one in listed] == ["Pipe"]
        # Any sample of a library is a source by its digest.
        source = {"kind": "sample", "recording": answer.json["file_digest"], "root_note": 57}
        layer = {"id": "a", "name": "A", "source": source}
        document = dump_sound(load_sound({"name": "S", "layers": [layer], "hit": {"note": 57}}))
        heard = client.post("/api/auditions", json={"document": document})
        assert heard.json["measures"]["note"] == "A3"

    def test_the_same_audio_comes_in_once_where_that_is_asked_for(self, client):
        library = client.get("/api/libraries").json["libraries"][0]["id"]

        def bring(name, seed=1, **query):
            path = f"/api/libraries/{library}/samples"
            return samples.send_file(client, path, samples.wav(seed=seed), f"{name}.wav", **query)

        first = bring("First", once=True)
        again = bring("Second", once=True)
        assert (first.status_code, again.status_code) == (201, 200)
        assert (again.json["id"], again.json["name"]) == (first.json["id"], "First")
        assert bring("Third").status_code == 201, "nobody asked for once"
        assert bring("Other", seed=2, once=True).status_code == 201
        # What is in the bin is not there.
        ids = [one["id"] for one in client.post("/api/samples/search", json={}).json["samples"]]
        client.post("/api/samples/bin", json={"ids": ids})
        assert bring("Fourth", once=True).status_code == 201

    def test_a_library_that_is_not_there_takes_nothing(self, client, app):
        answer = samples.send_file(client, "/api/libraries/999/samples", wav())
        assert answer.status_code == 404
        assert app.extensions["nest_crate"].store.digests() == set()


class TestSources:
    @pytest.fixture
    def document(self):
        layers = [
            {"id": "bar", "name": "Bar", "source": {"kind": "struck", "modes": 8}},
            {"id": "table", "name": "T", "source": {"kind": "wavetable", "scan": "forwards"}},
            {"id": "tone", "name": "Tone"},
        ]
        return dump_sound(load_sound({"name": "Sources", "layers": layers}))

    def test_modes_cycles_and_outlines_are_shown(self, client, document):
        def look(layer):
            return client.post("/api/sources/look", json={"document": document, "layer": layer})

        modes = look("bar").json["modes"]
        assert [one["mode"] for one in modes] == list(range(1, 9))
        assert modes[1]["hz"] / modes[0]["hz"] == pytest.approx(2.7565, abs=1e-3)
        assert max(one["level_db"] for one in modes) == 0.0
        table = look("table").json
        assert table["cycles"]["frames"] == 32
        assert table["places"][0] == 0.0
        assert table["places"][-1] > table["places"][0]
        assert look("tone").json["modes"] == []
        assert look("gone").status_code == 422

    def test_a_sample_is_shown_with_what_is_played_of_it(self, client, document):
        digest = bring_in(client, wav(seconds=1.0)).json["digest"]
        source = {"kind": "sample", "recording": digest, "start_s": 0.2, "end_s": 0.6}
        document["layers"][0]["source"] = {**source, "snap": False, "advance_s": 0.1}
        document["hit"]["number"] = 2
        looked = client.post("/api/sources/look", json={"document": document, "layer": "bar"}).json
        assert looked["length_s"] == pytest.approx(1.0)
        assert (looked["start_s"], looked["end_s"]) == pytest.approx((0.2, 0.6), abs=1e-4)
        assert looked["begins_s"] == pytest.approx(0.3, abs=1e-3)
        assert client.get(f"/api/recordings/{digest}.wav").data[:4] == b"RIFF"

    def test_tables_and_starters_are_listed(self, client):
        tables = client.get("/api/sources/wavetables").json["wavetables"]
        assert "two-throats" in [one["name"] for one in tables]
        starters = client.get("/api/sources/starters").json["starters"]
        assert "Kick" in [one["category"] for one in starters]

    def test_a_first_sound_and_its_reference_beside_it(self, client):
        time_s = np.arange(24000) / 48000
        buffer = io.BytesIO()
        hit = 0.6 * np.sin(2 * np.pi * 110 * time_s) * np.exp(-time_s / 0.08)
        soundfile.write(buffer, hit, 48000, format="WAV", subtype="FLOAT")
        digest = bring_in(client, buffer.getvalue(), "Thump.wav").json["digest"]
        made = client.post("/api/sources/propose", json={"recording": digest, "name": "Thump"}).json
        assert made["distance"]["bands_mean_db"] < 2.5
        assert any("110" in one for one in made["found"])
        document = {**made["document"], "reference": {"recording": digest, "name": "Thump"}}
        beside = client.post("/api/sources/reference", json={"document": document}).json
        assert beside["distance"]["bands_mean_db"] == pytest.approx(
            made["distance"]["bands_mean_db"], abs=0.05
        )
        assert len(beside["bands"]) == 4
        gone = {**document, "reference": {"recording": "ab" * 32}}
        assert client.post("/api/sources/reference", json={"document": gone}).status_code == 422
        without = {**document, "reference": None}
        assert client.post("/api/sources/reference", json={"document": without}).status_code == 422
