"""What makes a slow line bearable: packed text, audio as FLAC, nothing sent twice."""

import gzip
import io
import json
import zlib

import brotli
import numpy as np
import pytest
import soundfile

from nest_crate.core.engine import render
from nest_crate.core.sound import load_sound
from tests.web.samples import parts_in

PLAIN = b"export const tick = 1;\n" * 200


@pytest.fixture(scope="session")
def built(front_end):
    """A script as the build leaves it: as it is, and packed in two ways."""
    for ending, data in {
        "": PLAIN,
        ".br": brotli.compress(PLAIN),
        ".gz": gzip.compress(PLAIN),
    }.items():
        (front_end / "assets" / f"tick.js{ending}").write_bytes(data)


class TestBuild:
    @pytest.mark.parametrize(
        ("accepted", "coding", "unpack"),
        [
            ("gzip, deflate, br, zstd", "br", brotli.decompress),
            ("gzip", "gzip", gzip.decompress),
            ("br;q=0, gzip", "gzip", gzip.decompress),
            ("identity", None, bytes),
            ("", None, bytes),
        ],
    )
    def test_each_client_is_sent_what_it_can_read(self, client, built, accepted, coding, unpack):
        answer = client.get("/assets/tick.js", buffered=True, headers={"Accept-Encoding": accepted})
        assert answer.headers.get("Content-Encoding") == coding
        assert unpack(answer.data) == PLAIN
        assert answer.mimetype == "text/javascript"
        assert "Accept-Encoding" in answer.vary
        assert "immutable" in answer.headers["Cache-Control"]

    def test_its_etag_differs_by_coding(self, client, built):
        tags = {
            client.get("/assets/tick.js", buffered=True, headers={"Accept-Encoding": one}).headers[
                "ETag"
            ]
            for one in ("br", "gzip", "identity")
        }
        assert len(tags) == 3


class TestScreens:
    """A page says at once what its screen will ask for."""

    @pytest.fixture
    def screens(self, front_end):
        manifest = front_end / "screens.json"
        entries = {
            "_common.js": {"file": "assets/common.js"},
            "index.html": {"file": "assets/index.js", "imports": ["_common.js"]},
            "src/bench/index.ts": {
                "file": "assets/bench.js",
                "imports": ["_common.js"],
                "isDynamicEntry": True,
            },
            "src/shared/index.ts": {"file": "assets/shared.js", "isDynamicEntry": True},
        }
        manifest.write_text(json.dumps(entries))
        yield
        manifest.unlink()

    def links(self, client, path):
        answer = client.get(path, buffered=True)
        assert answer.status_code == 200
        return [one.partition(";")[0] for one in answer.headers.getlist("Link")]

    def test_the_bench_with_its_sound(self, client, screens):
        found = self.links(client, "/bench/12")
        assert found[:2] == ["</assets/bench.js>", "</assets/common.js>"]
        assert "</api/sounds/12>" in found
        assert found == self.links(client, "/bench/0012")

    def test_the_start_is_the_bench(self, client, screens):
        found = self.links(client, "/")
        assert "</assets/bench.js>" in found
        assert not any("/api/sounds/" in one for one in found)

    def test_a_stranger_with_a_link_is_not_sent_to_what_is_closed(self, client, screens):
        assert self.links(client, "/shared/secret") == ["</assets/shared.js>"]

    @pytest.mark.parametrize(
        "path", ["/elsewhere", "/bench/1>;x", "/bench/-1", "/bench/" + "9" * 5000]
    )
    def test_no_other_address_leads_anywhere(self, client, screens, path):
        found = self.links(client, path)
        known = ("</assets/", "</api/session>", "</api/declarations>")
        assert all(one.startswith(known) for one in found)

    def test_without_a_list_of_files_the_page_comes_all_the_same(self, client, front_end):
        assert self.links(client, "/bench/12") == []


class TestText:
    def test_json_is_packed(self, client):
        packed = client.get("/api/declarations", headers={"Accept-Encoding": "br"})
        plain = client.get("/api/declarations")
        assert packed.headers["Content-Encoding"] == "br"
        assert json.loads(brotli.decompress(packed.data)) == plain.json
        assert 5 * len(packed.data) < len(plain.data)

    def test_what_is_short_is_sent_as_it_is(self, client):
        answer = client.get("/api/health", headers={"Accept-Encoding": "br"})
        assert "Content-Encoding" not in answer.headers
        assert answer.json["version"]

    @pytest.mark.parametrize("path", ["/api/declarations", "/api/sound.schema.json"])
    @pytest.mark.parametrize("coding", ["br", "identity"])
    def test_what_the_client_has_is_not_sent_again(self, client, path, coding):
        accept = {"Accept-Encoding": coding}
        first = client.get(path, headers=accept)
        again = client.get(path, headers={**accept, "If-None-Match": first.headers["ETag"]})
        assert (first.status_code, again.status_code, again.data) == (200, 304, b"")
        assert "no-store" not in first.headers["Cache-Control"]


def scaled(document, level_db):
    return {**document, "main": {**document["main"], "level_db": level_db}}


def accepting(bits):
    return f"audio/flac; bits={bits}, audio/wav; q=0.5"


class TestAudio:
    @pytest.mark.parametrize("bits", [16, 24])
    def test_a_hit_is_flac_to_its_last_bit(self, client, kick_document, bits):
        document = scaled(kick_document, -6.0)
        answer = client.post(
            "/api/playing/hits", json={"document": document}, headers={"Accept": accepting(bits)}
        )
        assert answer.mimetype == "audio/flac"
        assert "Accept" in answer.vary
        info = soundfile.info(io.BytesIO(answer.data))
        assert (info.subtype, info.samplerate) == (f"PCM_{bits}", 48000)
        samples = soundfile.read(io.BytesIO(answer.data), always_2d=True)[0].T
        expected = render(load_sound(document)).samples
        assert samples.shape == expected.shape
        assert np.abs(samples - expected).max() <= 0.501 / 2 ** (bits - 1)

    def test_an_audition_is_flac_in_gzip_and_keeps_its_name(self, client, kick_document):
        body = {"document": scaled(kick_document, -6.0)}
        plain = client.post("/api/auditions", json=body, headers={"Accept": "multipart/mixed"})
        packed = client.post(
            "/api/auditions",
            json=body,
            headers={
                "Accept": f"multipart/mixed, {accepting(16)}",
                "Accept-Encoding": "gzip, br",
            },
        )
        assert packed.headers["Content-Encoding"] == "gzip"
        float_parts = parts_in(plain, plain.data)
        flac_parts = parts_in(packed, gzip.decompress(packed.data))
        assert flac_parts["digest"] == float_parts["digest"]
        assert flac_parts["pictures"] == float_parts["pictures"]
        assert flac_parts["audio"][:4] == b"fLaC"
        assert 4 * len(packed.data) < len(plain.data)

    def test_audio_can_be_read_before_the_pictures_are_made(self, client, kick_document):
        answer = client.post(
            "/api/auditions",
            json={"document": scaled(kick_document, -6.0)},
            headers={"Accept": f"multipart/mixed, {accepting(16)}", "Accept-Encoding": "gzip"},
        )
        unpacker = zlib.decompressobj(zlib.MAX_WBITS | 16)
        first = unpacker.decompress(next(iter(answer.response)))
        head, _, body = first.partition(b"\r\n\r\n")
        length = int(head.rpartition(b"Content-Length: ")[2])
        assert len(body) == length + 2

    def test_what_passes_full_scale_stays_float(self, client, kick_document):
        document = scaled(kick_document, 12.0)
        answer = client.post(
            "/api/playing/hits", json={"document": document}, headers={"Accept": accepting(16)}
        )
        assert answer.mimetype == "audio/wav"
        samples = soundfile.read(io.BytesIO(answer.data))[0]
        assert np.abs(samples).max() > 1.0

    def test_what_is_quiet_keeps_its_steps(self, client, kick_document):
        document = scaled(kick_document, -60.0)
        answer = client.post(
            "/api/playing/hits", json={"document": document}, headers={"Accept": accepting(16)}
        )
        assert soundfile.info(io.BytesIO(answer.data)).subtype == "PCM_24"

    def test_who_does_not_ask_is_sent_float(self, client, kick_document):
        body = {"document": kick_document}
        for accept in ("*/*", "audio/wav", "audio/flac; q=0"):
            answer = client.post("/api/playing/hits", json=body, headers={"Accept": accept})
            assert answer.mimetype == "audio/wav"
