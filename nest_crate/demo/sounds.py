"""Builds the demo scenario, Glasshouse Clockworks, through the public services."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from pathlib import Path

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import Account
from nest_crate.catalogue.people.accounts import (
    CurrentAccount,
    account_by_handle,
    create_account,
    set_password_where_none,
)
from nest_crate.catalogue.people.libraries import create_library, libraries_of, set_member
from nest_crate.catalogue.people.vocabulary import load_vocabulary
from nest_crate.catalogue.samples.takes import keep_take
from nest_crate.catalogue.sounds.recordings import import_recording
from nest_crate.catalogue.sounds.sounds import create_sound
from nest_crate.core.sound import load_sound_text
from nest_crate.demo.catalogue import describe_demo
from nest_crate.demo.families import build_family
from nest_crate.demo.people import DEMO_PASSWORD, DEMO_PEOPLE, DemoPerson
from nest_crate.demo.tryouts import build_tryouts
from nest_crate.storage import AudioStore

__all__ = ["build_demo", "ensure_account", "ensure_administrator", "ensure_people"]

_DEMO = Path(__file__).parents[2] / "demo"
SOUNDS_FOLDER, RECORDINGS_FOLDER = _DEMO / "sounds", _DEMO / "recordings"
# What the Bench opens on: created last, so that it is the newest.
_OPENING = "kiln-door-kick"


def ensure_account(database: Database) -> None:
    """The demo's owner, with a library, where they are not there yet."""
    with database.session() as session:
        try:
            account = account_by_handle(session, "demo")
        except NotFound:
            account = _create(session, DEMO_PEOPLE[0])
        if not libraries_of(session, account):
            create_library(
                session,
                account,
                name="Glasshouse Clockworks",
                description="Sounds of a clockmaker's greenhouse of mechanical plants",
            )


def ensure_people(database: Database) -> None:
    """The demo's other people, each with a role in the demo's library."""
    with database.session() as session:
        owner = account_by_handle(session, "demo")
        library_id = libraries_of(session, owner)[0][0].id
        set_password_where_none(session, "demo", DEMO_PASSWORD)
        for person in DEMO_PEOPLE[1:]:
            try:
                account_by_handle(session, person.handle)
            except NotFound:
                _create(session, person)
                set_member(session, owner, library_id, handle=person.handle, role=person.role)


def ensure_administrator(database: Database) -> str | None:
    """A first account where there is none at all, with a library; answers its password then."""
    with database.session() as session:
        if session.scalar(select(func.count()).select_from(Account)):
            return None
        password = secrets.token_urlsafe(12)
        account = create_account(
            session, handle="admin", name="Administrator", password=password, administrator=True
        )
        create_library(session, account, name="First library")
        return password


def _create(session: Session, person: DemoPerson) -> CurrentAccount:
    return create_account(
        session,
        handle=person.handle,
        name=person.name,
        password=DEMO_PASSWORD,
        administrator=person.administrator,
    )


def build_demo(
    database: Database,
    store: AudioStore,
    progress: Callable[[int, int], None] = lambda done, of: None,
) -> int:
    """Every demo sound with its kept takes, and the try-outs; answers how many sounds were made.

    ``progress`` is called after each with how many are done, of how many.
    """
    with database.session() as session:
        account = account_by_handle(session, "demo")
        library_id = libraries_of(session, account)[0][0].id
    for path in sorted(RECORDINGS_FOLDER.glob("*.wav")):
        import_recording(database, store, account, name=path.stem, path=path)
    vocabulary = load_vocabulary()
    paths = sorted(SOUNDS_FOLDER.glob("*.json"), key=lambda path: path.stem == _OPENING)
    for number, path in enumerate(paths, 1):
        document = load_sound_text(path.read_bytes())
        with database.session() as session:
            sound = create_sound(session, account, library_id=library_id, document=document)
            sound.category = vocabulary.guess(document.name)[0]
            sound_id = sound.id
        kept = build_family(
            database,
            store,
            account,
            name=path.stem,
            sound_id=sound_id,
            library_id=library_id,
        )
        # A family that is kept takes the place of the single take.
        if not kept:
            keep_take(
                database,
                store,
                account,
                sound_id,
                base_version=1,
                document=document,
                hit=document.hit,
                library_id=library_id,
                name=document.name,
            )
        progress(number, len(paths))
    ensure_people(database)
    describe_demo(database, store, library_id)
    with database.session() as session:
        build_tryouts(session, account, library_id)
    return len(paths)
