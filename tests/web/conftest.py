from typing import ClassVar

import pytest

from nest_crate.catalogue.db.shared_models import ShareLink
from nest_crate.catalogue.people.accounts import account_by_handle, create_account
from nest_crate.catalogue.work.jobs import waiting_items
from nest_crate.core.engine import ENGINE_VERSION
from nest_crate.core.sound import dump_sound
from nest_crate.demo.people import DEMO_PASSWORD
from nest_crate.demo.sounds import ensure_people
from nest_crate.jobs.pieces import work_on
from nest_crate.jobs.rendering.pool import RenderPool
from nest_crate.settings import Settings
from nest_crate.web import create_app
from nest_crate.web.infra.context import open_services
from nest_crate.web.infra.guard import limiter
from tests.web.declared import Declared
from tests.web.samples import bring, wav


@pytest.fixture(scope="session")
def front_end(tmp_path_factory):
    """A folder as the build of the front end leaves it."""
    folder = tmp_path_factory.mktemp("dist")
    (folder / "assets").mkdir()
    (folder / "index.html").write_text("<title>Nest Crate</title>")
    (folder / "assets" / "a.js").write_text("1")
    return folder


@pytest.fixture(scope="session")
def one_app(front_end, local_database):
    """The application of all tests: its many routes are only put together once."""
    app = create_app(
        Settings(
            database_url=local_database.url,
            audio_url="memory://none",
            static_folder=str(front_end),
        )
    )
    declared = Declared(app)
    yield app
    app.extensions["nest_crate"].database.engine.dispose()
    assert not declared.missing, "\n".join(sorted(declared.missing))


@pytest.fixture(scope="session")
def render_pool(tmp_path_factory):
    """Render workers that all tests share, by the folder in which they are reached."""
    folder = tmp_path_factory.mktemp("run")
    pool = RenderPool(Settings(run_folder=str(folder)))
    pool.start()
    yield str(folder)
    pool.stop()


@pytest.fixture
def made_app(one_app, store, render_pool):
    """The application over the test's store, with settings and nothing remembered. Long work waits;
    a test that wants it done puts someone there who does it."""

    def make(**settings):
        settings = Settings(
            database_url=store.url,
            run_folder=render_pool,
            audio_url=f"file://{store.files_folder}",
            **settings,
        )
        held = open_services(settings, store.database)
        one_app.extensions["nest_crate"] = held
        return one_app

    before = one_app.extensions["nest_crate"]
    yield make
    one_app.extensions["nest_crate"] = before


@pytest.fixture
def app(made_app):
    return made_app(auto_sign_in="demo")


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.fixture
def kick_document(kick):
    return dump_sound(kick)


class People:
    """Clients that are signed in once a test wants them: the demo's owner, editor, reviewer and
    listener, a stranger who is no member, and nobody."""

    handles: ClassVar = {
        "owner": "demo",
        "editor": "isolde",
        "reviewer": "tam",
        "listener": "juniper",
        "stranger": "moth",
    }

    def __init__(self, app, store):
        self.app, self.store, self.library_id = app, store, store.library_id
        self.nobody = app.test_client()

    def __getattr__(self, name):
        if name not in self.handles:
            raise AttributeError(name)
        handle = self.handles[name]
        client = self.app.test_client()
        body = {"handle": handle, "password": DEMO_PASSWORD}
        assert client.post("/api/session", json=body).status_code == 200
        client.store, client.account = self.store, account(self.store, handle)
        setattr(self, name, client)
        return client

    def of(self, name):
        return getattr(self, name)


@pytest.fixture
def people(store, made_app):
    ensure_people(store.database)
    with store.database.session() as session:
        create_account(session, handle="moth", name="Ash Moth", password=DEMO_PASSWORD)
    limiter.reset()
    return People(made_app(sign_ins_a_minute=1000), store)


def account(store, handle):
    with store.database.session() as session:
        return account_by_handle(session, handle)


@pytest.fixture
def shelf(people):
    """Four samples of three kinds."""
    add = people.editor
    bring(add, people.library_id, "Kiln door kick", wav(hz=55), category="drum", tags=["low"])
    bring(add, people.library_id, "Potting snare", wav(seed=1), category="drum", tags=["dry"])
    bring(
        add,
        people.library_id,
        "Pollen bell",
        wav(hz=1760, seconds=2, decay_s=0.5),
        category="tonal",
        description="for the greenhouse door",
    )
    bring(add, people.library_id, "Steam hiss", wav(seed=2, seconds=1, decay_s=9))
    return people


@pytest.fixture
def world(people, kick_document):
    """One of everything that a library holds, made by its owner, who is an administrator too."""
    owner, library = people.owner, people.library_id
    with people.store.database.session() as session:
        member = create_account(
            session, handle="ferns", name="Fern Oster", password="a fern in a frame"
        ).id
    base = f"/api/libraries/{library}"
    owner.put(f"{base}/members", json={"handle": "ferns", "role": "listener"})
    approved = bring(owner, library, "Gong")["id"]
    for status in ("in_review", "approved"):
        owner.post("/api/samples/move", json={"ids": [approved], "status": status})
    assert owner.post(f"{base}/releases", json={"number": "1.0.0"}).status_code == 201
    digest = owner.get(f"{base}/releases/1.0.0").json["files"][0]["sha256"]
    kept = owner.post(f"{base}/releases/1.0.0/formats", json={"file_format": "ogg"}).json["digest"]
    sound = {"library_id": library, "document": kick_document}
    sound = owner.post("/api/sounds", json=sound).json["id"]
    take = {
        "base_version": 1,
        "document": kick_document,
        "hit": kick_document["hit"],
        "library_id": library,
        "name": "Kick",
    }
    made = owner.post(f"/api/sounds/{sound}/takes", json=take).json["sample"]["id"]
    sample = bring(owner, library, "Bell", wav(hz=700.0))
    comment = owner.post(f"/api/samples/{sample['id']}/comments", json={"text": "Hm"}).json["id"]
    link = owner.post(f"/api/samples/{sample['id']}/links", json={}).json["id"]
    ended = owner.post(f"/api/samples/{sample['id']}/links", json={}).json["id"]
    with people.store.database.session() as session:
        gone = session.get_one(ShareLink, ended)
        gone.revoked, gone.ended_because = True, "its maker left"
    batch, batch_round = _batch(owner, people, library, sound)
    return {
        "batch": batch,
        "round": batch_round,
        "ended": ended,
        "library": library,
        "format": kept,
        "sample": sample["id"],
        "version": sample["version"],
        "tryout": _tryout(owner, library, sound, sample["id"]),
        "other": bring(owner, library, "Bell too", wav(hz=700.0))["id"],
        "made": made,
        "sound": sound,
        "document": kick_document,
        "wish": owner.post(f"{base}/wishes", json={"title": "A gong"}).json["id"],
        "comment": comment,
        "link": link,
        "member": member,
        "digest": digest,
        "next": {"number": "1.1.0", "sample_ids": [approved]},
    }


def _tryout(client, library, sound, sample):
    parts = [
        {"id": "a", "name": "A", "plays": {"kind": "sound", "sound": sound}, "hits": [{}]},
        {"id": "b", "name": "B", "plays": {"kind": "sample", "sample": sample}, "hits": [{}]},
    ]
    document = {"name": "Groove", "length_s": 0.5, "parts": parts}
    body = {"library_id": library, "document": document}
    return client.post("/api/tryouts", json=body).json["id"]


def _batch(client, people, library, sound):
    """A batch with a round of two members, which were made."""
    planned = {"id": "a", "sound": sound, "axes": [{"kind": "velocity", "values": [60, 100]}]}
    document = {"name": "Family", "sounds": [planned]}
    batch = client.post("/api/batches", json={"library_id": library, "document": document}).json
    version = {"base_version": 1, "document": document}
    made = client.post(f"/api/batches/{batch['id']}/rounds", json=version).json["id"]
    held = people.app.extensions["nest_crate"]
    with held.database.session() as session:
        waiting = waiting_items(session, beside=[], count=10)
    for one in waiting:
        work_on(held.settings.database_url, held.settings.audio_url, ENGINE_VERSION, one)
    return batch["id"], made
