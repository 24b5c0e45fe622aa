"""Files that are imported: by rules of names and folders, with twins that take over words."""

import io

import pytest
import soundfile
from mutagen.id3 import CHAP, COMM, TIT2, TKEY, TXXX
from mutagen.wave import WAVE

from tests.web import samples
from tests.web.samples import hit


def file_with(seed=1, *, title="", comment="", tags="", mark=""):
    """A WAV with an ID3 tag by an independent writer."""
    buffer = io.BytesIO()
    soundfile.write(buffer, hit(seed=seed)[0], samples.RATE, format="WAV", subtype="PCM_24")
    buffer.seek(0)
    file = WAVE(buffer)
    file.add_tags()
    if title:
        file.tags.add(TIT2(3, text=title))
    if comment:
        file.tags.add(COMM(3, lang="eng", desc="", text=comment))
    if tags:
        file.tags.add(TXXX(3, desc="Keywords", text=tags))
    if mark:
        file.tags.add(
            CHAP(element_id="m", start_time=100, end_time=100, sub_frames=[TIT2(3, text=mark)])
        )
    file.tags.add(TKEY(3, text="Gm"))
    buffer.seek(0)
    file.save(buffer)
    return buffer.getvalue()


@pytest.fixture
def library(client):
    return client.get("/api/libraries").json["libraries"][0]["id"]


@pytest.fixture
def bring(client, library):
    def send(data, name="Tin tub.wav", **rules):
        path = f"/api/libraries/{library}/samples"
        answer = samples.send_file(client, path, data, name, **rules)
        assert answer.status_code in (200, 201), answer.json
        return answer.json

    return send


class TestRules:
    def test_folders_are_kept_found_and_may_be_tags_and_category(self, client, bring):
        made = bring(file_with(1), "a01.wav", folder="Shed tapes/Kicks/wet", folder_tags="true")
        assert made["folder"] == "Shed tapes/Kicks/wet"
        assert made["tags"] == ["shed tapes", "kicks", "wet"]
        assert made["category"] == ""
        other = bring(file_with(2), "a02.wav", folder="tapes/kick")
        assert (other["category"], other["subcategory"]) == ("drum", "kick")
        assert other["tags"] == []
        plain = bring(file_with(3), "a03.wav", folder="tapes/kick", folder_category="false")
        assert plain["category"] == ""
        found = samples.search(client, folders=["tapes/kick"])
        assert {one["name"] for one in found["samples"]} == {"a02", "a03"}
        assert found["choices"]["folder"] == {"tapes/kick": 2, "Shed tapes/Kicks/wet": 1}
        assert samples.names(client, words="tapes wet") == ["a01"]

    def test_a_folder_that_leads_elsewhere_is_cleaned(self, bring):
        assert bring(file_with(1), folder="../..//etc/\x00x")["folder"] == "etc/_x"

    def test_names_are_read_by_a_template(self, bring):
        rules = {"template": "{category}_{name}_{variation}", "folder": "x"}
        made = bring(file_with(1), "drum_kiln kick_07.wav", **rules)
        assert (made["name"], made["category"], made["variation"]) == ("kiln kick", "drum", 7)
        # A hint of the vocabulary names a category, and its subcategory.
        made = bring(file_with(2), "kick_kiln_08.wav", **rules)
        assert (made["category"], made["subcategory"]) == ("drum", "kick")
        # What does not fit keeps its name.
        assert bring(file_with(3), "other.wav", **rules)["name"] == "other"

    def test_titles_become_names_where_that_is_wanted(self, bring):
        assert bring(file_with(1, title="Brass lid"), "DR000_17.wav")["name"] == "DR000_17"
        made = bring(file_with(2, title="Brass lid"), "DR000_17.wav", titles="true")
        assert made["name"] == "Brass lid"
        assert bring(file_with(3), "DR000_18.wav", titles="true")["name"] == "DR000_18"

    def test_a_template_that_cannot_be_read_is_refused_at_its_field(self, client, library):
        path = f"/api/libraries/{library}/samples"
        answer = samples.send_file(client, path, file_with(1), template="{nothing}")
        assert answer.status_code == 422
        assert answer.json["problems"][0]["path"] == "template"
        assert samples.names(client) == []

    def test_marks_and_words_come_with_the_file(self, client, bring):
        made = bring(file_with(1, comment="struck twice", tags="tin; tub", mark="second stroke"))
        assert (made["description"], made["tags"]) == ("struck twice", ["tin", "tub"])
        assert made["details"]["key"] == "Gm"
        said = client.get(f"/api/samples/{made['id']}/comments").json["comments"]
        assert [(one["at_s"], one["text"]) for one in said] == [(0.1, "second stroke")]


class TestPreview:
    def test_says_what_is_read_before_anything_is_sent(self, client):
        body = {
            "template": "{category}/{name} {note}",
            "paths": ["tonal/bell F#4", "no folder", "tonal/deep/bell C2"],
        }
        answer = client.post("/api/names/read", json=body).json
        assert answer["fitting"] == 1
        assert answer["names"][0] == {
            "path": "tonal/bell F#4",
            "fits": True,
            "values": {"category": "tonal", "name": "bell", "root_note": 66},
        }
        assert [one["fits"] for one in answer["names"]] == [True, False, False]

    def test_names_the_field_that_is_wrong(self, client):
        answer = client.post("/api/names/read", json={"template": "{name}{note}", "paths": []})
        assert answer.status_code == 422
        assert "put something between" in answer.json["problems"][0]["message"]


class TestTwins:
    def test_what_a_sample_lacks_is_taken_over_and_can_be_undone(self, client, bring):
        first = bring(file_with(1, tags="tin"), "One.wav")
        again = bring(
            file_with(1, comment="from the shed", tags="tub; tin"), "Two.wav", merge="true"
        )
        assert (again["id"], again["name"]) == (first["id"], "One")
        assert again["description"] == "from the shed"
        assert again["tags"] == ["tin", "tub"]
        # What it has stays.
        third = bring(file_with(1, comment="otherwise"), "Three.wav", merge="true")
        assert third["description"] == "from the shed"
        history = client.get(f"/api/samples/{first['id']}/history").json["edits"]
        assert [one["label"] for one in history] == ["Took over words of Two"]
        client.post("/api/samples/undo", json={"gesture": history[0]["gesture"]})
        now = samples.one(client, first)
        assert (now["description"], now["tags"]) == ("", ["tin"])

    def test_without_merging_nothing_changes(self, client, bring):
        first = bring(file_with(1), "One.wav")
        again = bring(file_with(1, comment="x"), "Two.wav", once="true")
        assert (again["id"], again["version"]) == (first["id"], first["version"])
