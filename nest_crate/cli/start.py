"""Starts everything on one machine."""

from __future__ import annotations

import atexit
import os
import secrets
import shutil
import signal
import tempfile
import threading
from pathlib import Path

import click

from nest_crate.catalogue.db.database import Database, SchemaError, bring_up_to_date
from nest_crate.cli.serving import say_when_ready, taken_or_said
from nest_crate.demo.people import DEMO_PASSWORD, DEMO_PEOPLE
from nest_crate.demo.sounds import build_demo, ensure_account, ensure_administrator, ensure_people
from nest_crate.local_database import LocalDatabase
from nest_crate.logs import configure_log
from nest_crate.server import SupervisorProcess
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore

__all__ = ["run_folder", "start"]

# sockaddr_un holds 108 bytes on Linux, its end included.
_LONGEST_SOCKET_PATH = 108


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=8460, show_default=True)
@click.option("--demo/--no-demo", default=True, help="Load the demo scenario into an empty store.")
@click.option(
    "--data", type=click.Path(file_okay=False, path_type=Path), default=Path("var"), help="Folder."
)
@click.option(
    "--sign-in",
    metavar="NAME",
    default="",
    help="Sign everyone in as this account without a password; for a single user on this machine.",
)
def start(host: str, port: int, demo: bool, data: Path, sign_in: str) -> None:
    """Start MariaDB, migrate, load the demo scenario once, and serve until Ctrl-C."""
    configure_log()
    data = data.resolve()
    # Keys, passwords and people's work: for this account alone.
    data.mkdir(parents=True, exist_ok=True)
    data.chmod(0o700)
    bound = taken_or_said(host, port)
    click.echo(f"• Database: starting MariaDB on loopback, in {data / 'database'}")
    click.echo(f"• Files: {data / 'audio'}")
    for name in ("NEST_CRATE_DATABASE_URL", "NEST_CRATE_AUDIO_URL"):
        if name in os.environ:
            click.echo(f"  {name} is not used here; serve uses it", err=True)
    supervisor = SupervisorProcess(bound)
    local = LocalDatabase(data / "database")
    stopping = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _interrupt)
    try:
        local.start()
        settings = _settings(local.url, data, demo, sign_in)
        database = Database(local.url)
        for line in bring_up_to_date(database, change=True):
            click.echo(f"  {line}")
        _ensure_people(database, demo)
        _load_demo_once(database, AudioStore(settings.audio_url), demo, data / "demo-loaded")
        database.engine.dispose()
        threading.Thread(target=_keep_running, args=(local, stopping), daemon=True).start()
        ready = (host, port, demo and not settings.auto_sign_in)
        threading.Thread(target=_say_when_ready, args=ready, daemon=True).start()
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, lambda *_: stopping.set())
        supervisor.begin(settings)
        supervisor.keep_until(stopping)
    except SchemaError as error:
        raise click.ClickException(error.message) from error
    except RuntimeError as error:
        raise click.ClickException(str(error)) from error
    finally:
        stopping.set()
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        supervisor.end()
        bound.close()
        local.stop()
        click.echo("Stopped.")


def _interrupt(*_: object) -> None:
    """Before there is anything to end in order."""
    raise KeyboardInterrupt


def _settings(url: str, data: Path, demo: bool, sign_in: str) -> Settings:
    """What the environment says, with the folder's own database, files and key."""
    given = Settings()
    return given.model_copy(
        update={
            "database_url": url,
            "audio_url": f"file://{data / 'audio'}",
            "run_folder": str(run_folder(data)),
            "secret_key": given.secret_key or _kept_key(data / "secret-key"),
            "demo_sign_in": demo,
            "auto_sign_in": sign_in or given.auto_sign_in,
        }
    )


def run_folder(data: Path) -> Path:
    """Where the processes meet: in the data folder, or in a folder of the moment where its path is
    too long for a socket."""
    longest_name = "render.sock"
    if len(str(data / "run" / longest_name)) < _LONGEST_SOCKET_PATH:
        return data / "run"
    folder = Path(tempfile.mkdtemp(prefix="nest-crate-run-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder


def _kept_key(file: Path) -> str:
    """A key of the folder's own, so that sessions outlive a restart."""
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_hex(32))
    return file.read_text().strip()


def _ensure_people(database: Database, demo: bool) -> None:
    """The demo's people; without the demo a first administrator, whose password is printed once."""
    if demo:
        ensure_account(database)
        ensure_people(database)
        return
    password = ensure_administrator(database)
    if password is not None:
        click.echo(f"\nA first account was made:  admin   {password}\nChange its password soon.\n")


def _say_when_ready(host: str, port: int, demo_people: bool) -> None:
    """The address as soon as somebody answers there, and with whom the demo is entered."""
    if say_when_ready(host, port) and demo_people:
        click.echo("Sign in as one of the demo's people (also offered on the page):")
        for person in DEMO_PEOPLE:
            click.echo(f"  {person.handle:<8} {DEMO_PASSWORD}   {person.name}, {person.role}")
        click.echo("")


def _load_demo_once(database: Database, store: AudioStore, demo: bool, mark: Path) -> None:
    if not demo or mark.exists():
        return
    click.echo("• Demo: building Glasshouse Clockworks")
    count = build_demo(database, store, lambda done, of: click.echo(f"  sound {done} of {of}"))
    mark.touch()
    click.echo(f"  {count} sounds, each with a take")


def _keep_running(local: LocalDatabase, stopping: threading.Event) -> None:
    """Start the database again where it died, with a pause between the attempts."""
    while not stopping.wait(1.0):
        if not local.is_running() and not stopping.wait(3.0):
            click.echo("MariaDB ended; starting it again", err=True)
            try:
                local.start()
            except RuntimeError as error:
                click.echo(str(error), err=True)
