"""What many tests need: demo sounds, a MariaDB of the tests' own, an app with an empty store."""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from argon2 import PasswordHasher
from hypothesis import settings
from sqlalchemy import text

from nest_crate.catalogue.db.database import Database, migrate
from nest_crate.catalogue.db.models import Base
from nest_crate.catalogue.people import accounts
from nest_crate.catalogue.people.accounts import CurrentAccount, account_by_handle
from nest_crate.catalogue.people.libraries import libraries_of
from nest_crate.core.sound import Sound, load_sound_text
from nest_crate.demo.sounds import SOUNDS_FOLDER, ensure_account
from nest_crate.local_database import LocalDatabase
from nest_crate.storage import AudioStore

# The same examples each run, so that a run says something about the change it tests; others are
# looked for with HYPOTHESIS_PROFILE=exploring.
settings.register_profile("same", derandomize=True)
settings.register_profile("exploring")
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "same"))


@pytest.fixture(scope="session")
def kick() -> Sound:
    return load_sound_text((SOUNDS_FOLDER / "kiln-door-kick.json").read_bytes())


@pytest.fixture(scope="session")
def local_database(tmp_path_factory: pytest.TempPathFactory) -> Iterator[LocalDatabase]:
    server = LocalDatabase(tmp_path_factory.mktemp("mariadb"))
    server.start()
    database = Database(server.url)
    migrate(database.engine)
    database.engine.dispose()
    yield server
    server.stop()


@pytest.fixture(scope="session", autouse=True)
def light_passwords() -> None:
    """argon2 with the least work it allows: tests sign in hundreds of times."""
    accounts._hasher = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
    accounts._NOBODYS = accounts._hasher.hash("nobody has this password")


@dataclass(frozen=True)
class Store:
    """An empty catalogue with the one account and its library."""

    database: Database
    files: AudioStore
    files_folder: Path
    account: CurrentAccount
    library_id: int
    url: str


@pytest.fixture(scope="session")
def test_database(local_database: LocalDatabase) -> Iterator[Database]:
    """Connections that all tests share, for each new one takes a while."""
    database = Database(local_database.url)
    yield database
    database.engine.dispose()


@pytest.fixture
def store(test_database: Database, local_database: LocalDatabase, tmp_path: Path) -> Store:
    database = test_database
    with database.session() as session:
        session.execute(text("SET FOREIGN_KEY_CHECKS = 0"))
        for table in Base.metadata.sorted_tables:
            session.execute(text(f"DELETE FROM {table.name}"))
        session.execute(text("SET FOREIGN_KEY_CHECKS = 1"))
    ensure_account(database)
    with database.session() as session:
        account = account_by_handle(session, "demo")
        library_id = libraries_of(session, account)[0][0].id
    folder = tmp_path / "audio"
    files = AudioStore(f"file://{folder}")
    return Store(database, files, folder, account, library_id, local_database.url)
