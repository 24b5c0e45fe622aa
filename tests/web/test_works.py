"""Long work is watched and stopped by the account that began it, and leaves nothing half done."""

from concurrent.futures import ThreadPoolExecutor

import pytest

from nest_crate.catalogue.releases import releases as release_service
from nest_crate.catalogue.upkeep import batch_changes
from nest_crate.catalogue.work.progress import Stopped, counted, unwatched
from tests.web.samples import bring, one, wav

KEY = {"X-Progress": "key-of-this-page"}
URL = "/api/progress/key-of-this-page"


@pytest.fixture
def gongs(people):
    """Three approved samples."""
    ids = [
        bring(people.owner, people.library_id, f"Gong {n}", wav(hz=200 + n))["id"] for n in range(3)
    ]
    for status in ("in_review", "approved"):
        people.owner.post("/api/samples/move", json={"ids": ids, "status": status})
    return ids


def during(monkeypatch, module, name, look):
    """Have ``look`` called at each use of a function, while the request is under way; from another
    thread, as a request of its own would be."""
    plain = getattr(module, name)

    def watched(*given, **options):
        with ThreadPoolExecutor() as pool:
            pool.submit(look).result()
        return plain(*given, **options)

    monkeypatch.setattr(module, name, watched)


def release(people, number="1.0.0", headers=KEY):
    url = f"/api/libraries/{people.library_id}/releases"
    return people.owner.post(url, json={"number": number}, headers=headers)


def test_how_far_a_release_is_is_told_to_its_maker_alone(people, gongs, monkeypatch):
    seen = []

    def look():
        seen.append(people.owner.get(URL).json)
        assert people.editor.get(URL).status_code == 404
        assert people.editor.delete(URL).status_code == 404
        assert people.nobody.get(URL).status_code == 401

    during(monkeypatch, release_service, "file_of", look)
    assert release(people).status_code == 201
    assert [(one["done"], one["of"]) for one in seen] == [(0, 3), (1, 3), (2, 3)]
    assert all(one["seconds"] >= 0.0 for one in seen)
    # What is done is nobody's to watch any more.
    assert people.owner.get(URL).status_code == 404


def test_a_release_that_is_stopped_is_not_there(people, gongs, monkeypatch):
    during(monkeypatch, release_service, "file_of", lambda: people.owner.delete(URL))
    answer = release(people)
    assert (answer.status_code, answer.json["code"]) == (409, "stopped")
    listed = people.owner.get(f"/api/libraries/{people.library_id}/releases").json["releases"]
    assert listed == []
    monkeypatch.undo()
    assert release(people).status_code == 201


@pytest.mark.parametrize(
    ("url", "body"),
    [
        ("/api/samples/loudness", {"target_lufs": -30.0}),
        ("/api/samples/trim", {"fade_out_s": 0.05}),
    ],
)
def test_care_that_is_stopped_has_changed_nothing(people, gongs, monkeypatch, url, body):
    before = [one(people.owner, {"id": key}) for key in gongs]
    # Stopped as late as it can be: while the last figures are measured.
    during(monkeypatch, batch_changes, "measure_into", lambda: people.owner.delete(URL))
    sent = {"ids": gongs, "apply": True, **body}
    answer = people.owner.post(url, json=sent, headers=KEY)
    assert (answer.status_code, answer.json["code"]) == (409, "stopped")
    assert [one(people.owner, {"id": key}) for key in gongs] == before


@pytest.mark.parametrize("key", ["", "short", "with space in it", "x" * 65, "../../etc/passwd"])
def test_a_key_that_is_none_is_passed_over(people, gongs, key):
    assert release(people, headers={"X-Progress": key}).status_code == 201
    assert people.owner.get(f"/api/progress/{key}").status_code in (404, 422)


def test_items_are_told_before_each_and_after_the_last():
    shown = []
    assert list(counted("abc", lambda done, of: shown.append((done, of)))) == ["a", "b", "c"]
    assert shown == [(0, 3), (1, 3), (2, 3), (3, 3)]
    assert list(counted([], unwatched)) == []


def test_what_is_stopped_goes_no_further():
    def stop_at_two(done, _of):
        if done == 2:
            raise Stopped("enough")

    seen = []
    with pytest.raises(Stopped, match="enough"):
        seen.extend(counted(range(9), stop_at_two))
    assert seen == [] or max(seen) < 2
