"""Batches of a kick: made, run and looked at, for tests."""

import pytest

from nest_crate.catalogue.work.jobs import waiting_items
from nest_crate.core.engine import ENGINE_VERSION
from nest_crate.jobs.pieces import work_on

KNOCK = {"target": "knock.level_db", "low": -18.0, "high": 0.0, "shape": "even"}
TONE = {"target": "tone-down.cutoff_hz", "low": 800.0, "high": 9000.0, "shape": "even"}


@pytest.fixture
def bench(people, kick_document):
    """People with a kick in their library; the editor's client makes batches of it."""
    body = {"library_id": people.library_id, "document": kick_document}
    people.sound = people.editor.post("/api/sounds", json=body).json["id"]
    return people


def plan_of(people, *, draws=6, **more):
    sound = {"id": "a", "sound": people.sound, "spreads": [TONE, KNOCK], "draws": draws}
    return {"name": "Kicks", "sounds": [{**sound, **more.pop("of_sound", {})}], **more}


def made_batch(people, **plan):
    body = {"library_id": people.library_id, "document": plan_of(people, **plan)}
    answer = people.editor.post("/api/batches", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json


def run(people, batch, client=None, **more):
    body = {"base_version": batch["version"], "document": batch["document"], **more}
    return (client or people.editor).post(f"/api/batches/{batch['id']}/rounds", json=body)


def work(people, most=10_000):
    """Be the worker for pieces that wait."""
    held = people.app.extensions["nest_crate"]
    for _ in range(most):
        with held.database.session() as session:
            found = waiting_items(session, beside=[], count=1)
        if not found:
            return
        work_on(held.settings.database_url, held.settings.audio_url, ENGINE_VERSION, found[0])


def done_round(people, **plan):
    batch = made_batch(people, **plan)
    made = run(people, batch)
    assert made.status_code == 201, made.text
    work(people)
    return people.editor.get(f"/api/rounds/{made.json['id']}").json


def sheet(people, made):
    return people.editor.get(f"/api/rounds/{made['id']}/members").json["rows"]


def audio(people, made, number):
    answer = people.editor.get(f"/api/rounds/{made['id']}/members/{number}/audio")
    assert answer.status_code == 200, answer.text
    return answer.data
