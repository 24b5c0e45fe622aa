"""The engine, sessions committed at the edge, and migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, func, select
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError
from sqlalchemy.orm import Session, sessionmaker

from nest_crate.catalogue.db.errors import DatabaseBusy, DatabaseGone
from nest_crate.core.errors import NestCrateError

__all__ = ["Database", "SchemaError", "bring_up_to_date", "migrate"]

# MariaDB and PyMySQL: cannot connect, gone away, lost during query, shut down, read-only, full.
_GONE = {0, 1053, 1077, 1079, 1927, 2003, 2006, 2013, 2055}
_FULL = {1021, 1030, 1114}
# A lock was waited for too long, or two waited for each other.
_BUSY = {1205, 1213}


class Database:
    """Sessions on one MariaDB database."""

    def __init__(self, url: str) -> None:
        self.engine: Engine = create_engine(
            url,
            pool_pre_ping=True,
            pool_recycle=1800,
            # One for each thread that serves, and some for what is done beside.
            pool_size=10,
            max_overflow=30,
            # What is saved is people's own; it stays out of errors, and so out of the log.
            hide_parameters=True,
            connect_args={"connect_timeout": 3, "local_infile": False},
        )
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session that is committed at the end, or rolled back as a whole.

        Raises
        ------
        DatabaseGone
            where the database does not answer.
        DatabaseBusy
            where others held what was to be changed for too long.
        """
        try:
            with self._sessions.begin() as session:
                yield session
        except DBAPIError as error:
            number = error.orig.args[0] if error.orig is not None and error.orig.args else None
            gone = isinstance(error, OperationalError | InterfaceError) and number in _GONE
            if gone or error.connection_invalidated:
                raise DatabaseGone(
                    "The database does not answer. Nothing was changed; try again in a moment."
                ) from error
            if number in _BUSY:
                raise DatabaseBusy(
                    "Someone else is changing this right now. Nothing was changed; try again."
                ) from error
            if number in _FULL:
                raise DatabaseGone("The database's disk is full. Nothing was changed.") from error
            raise


class SchemaError(NestCrateError):
    """Tables that this version of the program does not fit."""

    code = "schema"
    title = "The database does not fit"


# Two servers that start at once bring the tables up to date one after the other.
_LOCK = "nest_crate_schema"
_LOCK_S = 300


def bring_up_to_date(database: Database, *, change: bool) -> list[str]:
    """Bring the tables to this version's schema, under a lock; lines that say what was done.

    Parameters
    ----------
    change
        whether tables may be changed; where not, they have to be current.

    Raises
    ------
    SchemaError
        where the tables are of a newer version, or of an older one and may not be changed.
    DatabaseGone
        where the database does not answer.
    """
    with database.session() as session:
        if not session.scalar(select(func.get_lock(_LOCK, _LOCK_S))):
            raise SchemaError("Another server is bringing the tables up to date; try again later")
        try:
            return _brought(database.engine, change=change)
        finally:
            session.execute(select(func.release_lock(_LOCK)))


def _brought(engine: Engine, *, change: bool) -> list[str]:
    scripts = ScriptDirectory.from_config(_config())
    head = scripts.get_current_head()
    with engine.connect() as connection:
        now = MigrationContext.configure(connection).get_current_revision()
    if now == head:
        return [f"tables are current ({head})"]
    if now is not None and now not in {one.revision for one in scripts.walk_revisions()}:
        raise SchemaError(
            f"The database was made by a newer version of Nest Crate (its tables are {now}); "
            "update the program, or restore a backup of before"
        )
    if not change:
        raise SchemaError(f"The tables are {now or 'empty'} and have to be {head}; migrate first")
    migrate(engine)
    return [f"tables brought from {now or 'nothing'} to {head}"]


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    return config


def migrate(engine: Engine, revision: str = "head") -> None:
    """Bring the tables to a revision of the schema, up or down."""
    config = _config()
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        if revision == "base":
            command.downgrade(config, revision)
        else:
            command.upgrade(config, revision)
