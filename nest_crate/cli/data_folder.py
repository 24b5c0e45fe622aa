"""The database and the files that a command works on."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

import click

from nest_crate.catalogue.db.database import Database
from nest_crate.local_database import LocalDatabase
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore

__all__ = ["DATA", "opened_data", "opened_settings"]


DATA = click.option(
    "--data",
    type=click.Path(file_okay=False, path_type=Path),
    default=Path("var"),
    help="Data folder; its MariaDB is used, or started while the command runs.",
)


@contextmanager
def opened_settings(data: Path, *, new: bool = False) -> Iterator[Settings]:
    """Where the database and the files are: what the environment names, else those of a folder,
    whose database is started where it does not run.

    Parameters
    ----------
    new
        whether an empty database is made where the folder has none.

    Raises
    ------
    click.ClickException
        where there is nothing to work on.
    """
    data = data.resolve()
    if "NEST_CRATE_DATABASE_URL" in os.environ:
        yield Settings()
        return
    if not new and not (data / "database").is_dir():
        raise click.ClickException(
            f"{data} holds no data of Nest Crate; name its folder with --data, or a "
            "database with NEST_CRATE_DATABASE_URL"
        )
    with ExitStack() as stack:
        try:
            url = stack.enter_context(LocalDatabase(data / "database").running())
        except RuntimeError as error:
            raise click.ClickException(str(error)) from error
        yield Settings(database_url=url, audio_url=f"file://{data / 'audio'}")


@contextmanager
def opened_data(data: Path, *, new: bool = False) -> Iterator[tuple[Database, AudioStore]]:
    """Database and files, as ``opened_settings`` finds them."""
    with opened_settings(data, new=new) as settings:
        database = Database(settings.database_url)
        try:
            yield database, AudioStore(settings.audio_url)
        finally:
            database.engine.dispose()
