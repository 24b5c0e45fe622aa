"""Builds the demo scenario, Glasshouse Clockworks, through the public services."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from nest_crate.catalogue.accounts import account_by_handle, create_account
from nest_crate.catalogue.database import Database
from nest_crate.catalogue.errors import NotFound
from nest_crate.catalogue.libraries import create_library, libraries_of
from nest_crate.catalogue.recordings import import_recording
from nest_crate.catalogue.sounds import create_sound
from nest_crate.catalogue.takes import keep_take
from nest_crate.core.sound import load_sound_text
from nest_crate.storage import AudioStore

__all__ = ["build_demo", "ensure_account"]

_DEMO = Path(__file__).parent.parent / "demo"
SOUNDS_FOLDER, RECORDINGS_FOLDER = _DEMO / "sounds", _DEMO / "recordings"
# What the Bench opens on: created last, so that it is the newest.
_OPENING = "kiln-door-kick"


def ensure_account(database: Database) -> None:
    """The one built-in account, with a library of its own, where they are not there yet."""
    with database.session() as session:
        try:
            account = account_by_handle(session, "demo")
        except NotFound:
            account = create_account(session, handle="demo", name="Wren Halloway")
        if not libraries_of(session, account):
            create_library(
                session,
                account,
                name="Glasshouse Clockworks",
                description="Sounds of a clockmaker's greenhouse of mechanical plants",
            )


def build_demo(
    database: Database,
    store: AudioStore,
    progress: Callable[[int, int], None] = lambda done, of: None,
) -> int:
    """Every demo sound with one kept take; answers how many sounds were made.

    ``progress`` is told after each how many are done, of how many.
    """
    with database.session() as session:
        account = account_by_handle(session, "demo")
        library_id = libraries_of(session, account)[0][0].id
    for path in sorted(RECORDINGS_FOLDER.glob("*.wav")):
        import_recording(database, store, account, name=path.stem, path=path)
    paths = sorted(SOUNDS_FOLDER.glob("*.json"), key=lambda path: path.stem == _OPENING)
    for number, path in enumerate(paths, 1):
        document = load_sound_text(path.read_bytes())
        with database.session() as session:
            sound = create_sound(session, account, library_id=library_id, document=document)
            sound_id = sound.id
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
    return len(paths)
