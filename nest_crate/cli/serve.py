"""Serves on a database and a store that others keep."""

from __future__ import annotations

import os
import signal
import threading

import click
from sqlalchemy.engine import make_url

from nest_crate.catalogue.db.database import Database, SchemaError, bring_up_to_date
from nest_crate.catalogue.db.errors import DatabaseGone
from nest_crate.cli.serving import say_when_ready, taken_or_said
from nest_crate.logs import configure_log
from nest_crate.server import SupervisorProcess
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore
from nest_crate.storage.files import StorageError

__all__ = ["serve_command"]

_NEEDED = ("NEST_CRATE_DATABASE_URL", "NEST_CRATE_AUDIO_URL", "NEST_CRATE_SECRET_KEY")


@click.command("serve")
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=8460, show_default=True)
@click.option(
    "--migrate/--no-migrate",
    default=True,
    show_default=True,
    help="Bring the tables up to date first; else they have to be.",
)
def serve_command(host: str, port: int, migrate: bool) -> None:
    """Serve on the MariaDB and the store that the environment names, until Ctrl-C.

    NEST_CRATE_DATABASE_URL, NEST_CRATE_AUDIO_URL and NEST_CRATE_SECRET_KEY have to be set. For a
    database of its own on this machine there is start.
    """
    configure_log()
    missing = [name for name in _NEEDED if not os.environ.get(name)]
    if missing:
        raise click.UsageError(f"set {', '.join(missing)}; or use start, which has its own")
    settings = Settings()
    stopping = threading.Event()
    bound = taken_or_said(host, port)
    try:
        _prepare(settings, migrate=migrate)
        supervisor = SupervisorProcess(bound)
        threading.Thread(target=say_when_ready, args=(host, port), daemon=True).start()
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, lambda *_: stopping.set())
        try:
            supervisor.begin(settings)
            supervisor.keep_until(stopping)
        finally:
            signal.signal(signal.SIGINT, signal.SIG_IGN)
            supervisor.end()
    except RuntimeError as error:
        raise click.ClickException(str(error)) from error
    finally:
        bound.close()
        click.echo("Stopped.")


def _prepare(settings: Settings, *, migrate: bool) -> None:
    """Say what is used, and that it can be, before anybody is let in."""
    shown = make_url(settings.database_url).render_as_string(hide_password=True)
    database = Database(settings.database_url)
    click.echo(f"• Database: {shown}")
    try:
        for line in bring_up_to_date(database, change=migrate):
            click.echo(f"  {line}")
        click.echo(f"• Files: {settings.audio_url}")
        AudioStore(settings.audio_url).require_writable()
    except (DatabaseGone, SchemaError, StorageError) as error:
        raise click.ClickException(error.message) from error
    finally:
        database.engine.dispose()
