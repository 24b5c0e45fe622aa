"""A digest opens nothing by itself: files are heard through what one may see that holds them."""

import io
import re
import zipfile

import pytest

from nest_crate.catalogue.db.models import Sample
from nest_crate.core.sound import dump_sound, load_sound
from tests.web.samples import bring, send_file, wav


@pytest.fixture
def secret(people):
    """A recording of the owner's own."""
    answer = send_file(people.owner, "/api/recordings", wav(seconds=0.3, hz=330.0), "Secret.wav")
    assert answer.status_code == 201, answer.text
    return answer.json["digest"]


def named(digest, name="Names it"):
    """A document that names a recording, as source, impulse and reference."""
    document = {
        "name": name,
        "layers": [{"id": "a", "name": "A", "source": {"kind": "sample", "recording": digest}}],
        "main": {
            "chain": [
                {"id": "c", "kind": "convolution", "impulse": "imported", "recording": digest}
            ]
        },
        "reference": {"recording": digest},
    }
    return dump_sound(load_sound(document))


def ways_to_render(client, document, digest, library):
    """Every request that renders or gives away what a document names."""
    body = {"document": document}
    for path, more in (
        ("/api/auditions", {}),
        ("/api/playing/hits", {}),
        ("/api/playing/phrases", {"phrase": "eight_hits"}),
        ("/api/judging/details", {}),
        ("/api/judging/probe", {}),
        ("/api/judging/repeats", {}),
        ("/api/judging/contributions", {}),
        ("/api/judging/register", {}),
        ("/api/judging/processor", {"processor": "c"}),
        ("/api/judging/difference", {"other": document}),
        ("/api/sources/look", {"layer": "a"}),
        ("/api/sources/reference", {}),
    ):
        yield path, client.post(path, json={**body, **more})
    yield "propose", client.post("/api/sources/propose", json={"recording": digest, "name": "X"})


def test_another_s_recording_is_for_nobody_who_knows_its_digest(people, secret):
    document = named(secret)
    for path, answer in ways_to_render(people.editor, document, secret, people.library_id):
        assert answer.status_code == 422, path
        assert "is not here" in answer.json["detail"], path
    assert people.editor.get(f"/api/recordings/{secret}.wav").status_code == 404
    assert people.owner.get(f"/api/recordings/{secret}.wav").status_code == 200


def test_what_is_not_mine_looks_like_what_is_not_there(people, secret):
    nowhere = "0" * 64
    there, absent = (
        people.editor.post("/api/auditions", json={"document": named(digest)}).json
        for digest in (secret, nowhere)
    )
    hidden = re.sub(secret[:8], "x", str(there)), re.sub(nowhere[:8], "x", str(absent))
    assert hidden[0] == hidden[1]
    gets = [people.editor.get(f"/api/recordings/{one}.wav").json for one in (secret, nowhere)]
    assert gets[0] == gets[1]


def test_saving_a_sound_that_names_it_opens_nothing(people, secret):
    editor, library = people.editor, people.library_id
    body = {"library_id": library, "document": named(secret)}
    sound = editor.post("/api/sounds", json=body).json["id"]
    archive = editor.get(f"/api/sounds/{sound}/file")
    assert zipfile.ZipFile(io.BytesIO(archive.data)).namelist() == ["sound.json"]
    assert editor.get(f"/api/recordings/{secret}.wav").status_code == 404
    hit = {"document": named(secret), "hit": named(secret)["hit"], "library_id": library}
    take = {"base_version": 1, "name": "Stolen", **hit}
    assert editor.post(f"/api/sounds/{sound}/takes", json=take).status_code == 422
    link = editor.post(f"/api/sounds/{sound}/links", json={})
    if link.status_code == 201:
        path = link.json["path"].replace("/shared/", "/api/shared/")
        for what in ("sound.wav", "phrase.wav"):
            assert people.nobody.get(f"{path}/{what}").status_code == 422
        given = people.nobody.get(f"{path}/sound.zip")
        assert zipfile.ZipFile(io.BytesIO(given.data)).namelist() == ["sound.json"]


def test_who_may_see_a_sound_hears_what_its_maker_put_there(people, secret):
    document = named(secret)
    body = {"library_id": people.library_id, "document": document}
    sound = people.owner.post("/api/sounds", json=body).json["id"]
    for name in ("editor", "listener"):
        client = people.of(name)
        assert client.get(f"/api/recordings/{secret}.wav").status_code == 200, name
        assert client.post("/api/playing/hits", json={"document": document}).status_code == 200
        archive = client.get(f"/api/sounds/{sound}/file")
        names = zipfile.ZipFile(io.BytesIO(archive.data)).namelist()
        assert names == ["sound.json", f"recordings/{secret}.wav"]
    assert people.stranger.get(f"/api/recordings/{secret}.wav").status_code == 404
    # In the bin it is still the library's.
    people.owner.put(f"/api/sounds/{sound}/bin", json={"binned": True})
    assert people.editor.get(f"/api/recordings/{secret}.wav").status_code == 200


def test_a_private_draft_lets_nobody_else_hear(people, secret):
    body = {"library_id": people.library_id, "document": named(secret), "private": True}
    assert people.owner.post("/api/sounds", json=body).status_code == 201
    assert people.editor.get(f"/api/recordings/{secret}.wav").status_code == 404


def test_a_sample_s_audio_is_for_those_who_see_its_library(people):
    sample = bring(people.owner, people.library_id, "Gong", wav(hz=440.0))
    with people.store.database.session() as session:
        digest = session.get_one(Sample, sample["id"]).file_digest
    for name, status in (("editor", 200), ("listener", 200), ("stranger", 422)):
        answer = people.of(name).post("/api/playing/hits", json={"document": named(digest)})
        assert answer.status_code == status, name
    base = f"/api/libraries/{people.library_id}"
    assert people.owner.patch(base, json={"visibility": "private"}).status_code == 204
    assert people.editor.get(f"/api/recordings/{digest}.wav").status_code == 404


class TestLinks:
    @pytest.fixture
    def link(self, people):
        sample = bring(people.editor, people.library_id, "Gong", wav(hz=440.0))
        made = people.editor.post(f"/api/samples/{sample['id']}/links", json={})
        assert made.status_code == 201, made.text
        return made.json["id"], made.json["path"].replace("/shared/", "/api/shared/")

    def ended(self, people, link):
        rows = people.owner.get(f"/api/libraries/{people.library_id}/links").json["links"]
        return next(row["ended_because"] for row in rows if row["id"] == link[0])

    def test_one_ends_with_its_maker_s_membership_and_an_owner_may_keep_it(self, people, link):
        assert people.nobody.get(link[1]).status_code == 200
        base = f"/api/libraries/{people.library_id}"
        gone = people.owner.delete(f"{base}/members/{people.editor.account.id}")
        assert gone.json == {"links_ended": 1}
        assert people.nobody.get(link[1]).status_code == 404
        assert "no member any more" in self.ended(people, link)
        assert people.owner.post(f"/api/links/{link[0]}/keep").status_code == 200
        assert people.nobody.get(link[1]).status_code == 200
        assert people.owner.post(f"/api/links/{link[0]}/keep").status_code == 404

    def test_all_end_as_the_library_becomes_private(self, people, link):
        base = f"/api/libraries/{people.library_id}"
        people.owner.patch(base, json={"visibility": "private"})
        assert people.nobody.get(link[1]).status_code == 404
        assert "private" in self.ended(people, link)

    def test_one_ends_as_the_account_is_closed(self, people, link):
        people.owner.put(f"/api/accounts/{people.editor.account.id}", json={"disabled": True})
        assert people.nobody.get(link[1]).status_code == 404
        assert "closed" in self.ended(people, link)

    def test_one_that_was_revoked_by_hand_is_not_kept(self, people, link):
        people.owner.delete(f"/api/links/{link[0]}")
        assert people.owner.post(f"/api/links/{link[0]}/keep").status_code == 404
