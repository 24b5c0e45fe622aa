"""Who looks at the same thing, and whether it changed since."""

from datetime import timedelta

import pytest
from sqlalchemy import select, update

from nest_crate.catalogue.db.models import utc_now
from nest_crate.catalogue.db.shared_models import Presence
from tests.web.samples import bring


def look(client, window, kind, identifier):
    body = {"window": window, "kind": kind, "id": identifier}
    return client.post("/api/presence", json=body)


@pytest.fixture
def sound(people, kick_document):
    body = {"library_id": people.library_id, "document": kick_document}
    return people.editor.post("/api/sounds", json=body).json["id"]


def test_people_see_who_else_is_there(people, sound):
    alone = look(people.editor, "window-of-editor", "sound", sound).json
    assert alone["companions"] == []
    seen = look(people.owner, "window-of-owner", "sound", sound).json["companions"]
    assert [(one["name"], one["own"]) for one in seen] == [("Isolde Marrow", False)]
    # Two windows of one's own are said to be that, each person once.
    look(people.owner, "window-two-owner", "sound", sound)
    again = look(people.owner, "window-of-owner", "sound", sound).json["companions"]
    assert [(one["name"], one["own"]) for one in again] == [
        ("Isolde Marrow", False),
        ("Wren Halloway", True),
    ]


def test_who_went_elsewhere_or_closed_the_window_is_gone(people, sound):
    look(people.editor, "window-of-editor", "sound", sound)
    look(people.editor, "window-of-editor", "library", people.library_id)
    assert look(people.owner, "window-of-owner", "sound", sound).json["companions"] == []
    look(people.editor, "window-of-editor", "sound", sound)
    with people.store.database.session() as session:
        old = utc_now() - timedelta(seconds=16)
        session.execute(
            update(Presence).where(Presence.window_key == "window-of-editor").values(seen=old)
        )
    assert look(people.owner, "window-of-owner", "sound", sound).json["companions"] == []


def test_the_state_of_a_sound_is_its_version_and_who_changed_it(people, sound, kick_document):
    before = look(people.owner, "window-of-owner", "sound", sound).json
    assert (before["state"], before["changed_by"]) == ("1", "Isolde Marrow")
    changed = {**kick_document, "tempo_bpm": 99.0}
    body = {"base_version": 1, "document": changed}
    assert people.owner.put(f"/api/sounds/{sound}/draft", json=body).status_code == 200
    after = look(people.editor, "window-of-editor", "sound", sound).json
    assert (after["state"], after["changed_by"]) == ("2", "Wren Halloway")


def test_the_state_of_a_library_differs_with_its_samples_alone(people):
    library = people.library_id

    def state():
        return look(people.owner, "window-of-owner", "library", library).json["state"]

    first = state()
    assert state() == first
    sample = bring(people.editor, library, "Kick")
    added = state()
    assert added != first
    body = {"base_version": sample["version"], "changes": {"rating": 3}}
    people.editor.patch(f"/api/samples/{sample['id']}", json=body)
    rated = state()
    assert rated not in (first, added)
    people.editor.post("/api/samples/bin", json={"ids": [sample["id"]]})
    assert state() not in (first, added, rated)
    other = people.owner.post("/api/libraries", json={"name": "Other"}).json["id"]
    now = state()
    bring(people.owner, other, "Elsewhere")
    assert state() == now


def test_nobody_looks_at_what_they_may_not_see(people, sound):
    assert look(people.stranger, "window-stranger", "sound", sound).status_code == 404
    assert look(people.stranger, "window-stranger", "library", people.library_id).status_code == 404
    with people.store.database.session() as session:
        assert session.scalars(select(Presence)).all() == []


@pytest.mark.parametrize("window", ["", "short", "x" * 33, "with space", "é" * 10])
def test_a_window_has_a_plain_key(people, window):
    assert look(people.owner, window, "library", people.library_id).status_code == 422
