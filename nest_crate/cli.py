"""The command line: start, render, warm, export."""

from __future__ import annotations

import json
import os
import secrets
import signal
import socket
import sys
import threading
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import click

from nest_crate.catalogue.backing_up import back_up, check_files, restore
from nest_crate.catalogue.database import Database, migrate
from nest_crate.catalogue.measuring import measure_again
from nest_crate.core.allocation import keep_freed_memory
from nest_crate.core.engine import SAMPLE_RATES, RenderSettings, render
from nest_crate.core.errors import NestCrateError
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import load_sound_text
from nest_crate.core.sound.kinds import declarations
from nest_crate.core.sound.schema import sound_schema
from nest_crate.core.units import parse_note
from nest_crate.demo import build_demo, ensure_account, ensure_administrator, ensure_people
from nest_crate.demo_people import DEMO_PASSWORD, DEMO_PEOPLE
from nest_crate.local_database import LocalDatabase
from nest_crate.server import serve
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore
from nest_crate.web import create_app

__all__ = ["main"]


@click.group()
def main() -> None:
    """Nest Crate: synthesize one-shot sounds and keep them as sample libraries."""
    keep_freed_memory()


@main.command("render")
@click.argument("document", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--note", help="A note name such as G1; the sound's own where left out.")
@click.option("--velocity", type=click.IntRange(1, 127))
@click.option("--hold", "hold_s", type=click.FloatRange(0.0, 60.0), help="Seconds.")
@click.option("--hit-number", type=click.IntRange(1))
@click.option("--rate", type=click.Choice([str(r) for r in SAMPLE_RATES]), default="48000")
@click.option(
    "--format", "sample_format", type=click.Choice(["pcm16", "pcm24", "float32"]), default="pcm24"
)
@click.option("-o", "--output", type=click.Path(dir_okay=False, path_type=Path), required=True)
def render_command(
    document: Path,
    note: str | None,
    velocity: int | None,
    hold_s: float | None,
    hit_number: int | None,
    rate: str,
    sample_format: Any,
    output: Path,
) -> None:
    """Render a sound document to a WAV file, the same samples as a take of it."""
    try:
        sound = load_sound_text(document.read_bytes())
        wanted = {"velocity": velocity, "hold_s": hold_s, "number": hit_number}
        wanted["note"] = None if note is None else parse_note(note)
        hit = sound.hit.model_copy(update={k: v for k, v in wanted.items() if v is not None})
        audio = render(sound, hit, RenderSettings(sample_rate=int(rate)))
        output.write_bytes(
            encode_wav(audio.samples, audio.sample_rate, sample_format=sample_format)
        )
    except NestCrateError as error:
        raise click.ClickException(error.message) from error
    except (ValueError, OSError) as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{output}: {audio.length_s:.3f} s at {rate} Hz, ends by {audio.end_reason}")


@main.command()
@click.option("--part", default=0, hidden=True)
@click.option("--parts", default=1, hidden=True)
def warm(part: int, parts: int) -> None:
    """Compile every kernel once, so that nobody waits at the first use."""
    from nest_crate.warming import warm_kernels

    warm_kernels(part, parts)


@main.command("export-contract")
@click.option("--folder", type=click.Path(file_okay=False, path_type=Path), default=Path("docs"))
def export_contract(folder: Path) -> None:
    """Write the OpenAPI document, the sound's JSON Schema and the declarations."""
    folder.mkdir(parents=True, exist_ok=True)
    app = create_app(Settings())
    for name, content in (
        ("openapi.json", app.api_doc),
        ("sound.schema.json", sound_schema()),
        ("declarations.json", declarations()),
    ):
        text = json.dumps(content, indent=2, ensure_ascii=False, sort_keys=False)
        (folder / name).write_text(text + "\n")


@main.command()
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
    help="Everybody is this account, without a password; for one person alone on this machine.",
)
def start(host: str, port: int, demo: bool, data: Path, sign_in: str) -> None:
    """Start MariaDB, migrate, load the demo scenario once, and serve until Ctrl-C."""
    data = data.resolve()
    _require_free(host, port)
    click.echo("• Database: starting MariaDB on loopback")
    local = LocalDatabase(data / "database")
    stopping = threading.Event()
    try:
        local.start()
        settings = _settings(local.url, data, demo, sign_in)
        database = Database(local.url)
        click.echo("• Database: tables brought up to date")
        migrate(database.engine)
        _ensure_people(database, demo)
        _load_demo_once(database, AudioStore(settings.audio_url), demo, data / "demo-loaded")
        database.engine.dispose()
        threading.Thread(target=_keep_running, args=(local, stopping), daemon=True).start()
        click.echo(f"\nNest Crate is ready:  http://{host}:{port}\nCtrl-C stops it.\n")
        if demo and not settings.auto_sign_in:
            click.echo("Sign in as one of the demo's people (also offered on the page):")
            for person in DEMO_PEOPLE:
                click.echo(f"  {person.handle:<8} {DEMO_PASSWORD}   {person.name}, {person.role}")
            click.echo("")
        serve(lambda: create_app(settings), host=host, port=port)
    except RuntimeError as error:
        raise click.ClickException(str(error)) from error
    finally:
        stopping.set()
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        local.stop()
        click.echo("Stopped.")


_DATA = click.option(
    "--data",
    type=click.Path(file_okay=False, path_type=Path),
    default=Path("var"),
    help="Folder of the program; its MariaDB is used, or started for as long as it takes.",
)


@contextmanager
def _opened(data: Path) -> Iterator[tuple[Database, AudioStore]]:
    """Database and files: those that the environment names, else those of a folder."""
    data = data.resolve()
    with ExitStack() as stack:
        if "NEST_CRATE_DATABASE_URL" in os.environ:
            settings = Settings()
        else:
            try:
                url = stack.enter_context(LocalDatabase(data / "database").running())
            except RuntimeError as error:
                raise click.ClickException(str(error)) from error
            settings = Settings(database_url=url, audio_url=f"file://{data / 'audio'}")
        database = Database(settings.database_url)
        stack.callback(database.engine.dispose)
        yield database, AudioStore(settings.audio_url)


@main.command()
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@_DATA
def backup(file: Path, data: Path) -> None:
    """Write everything (database and audio files) to one FILE, while the program runs or not."""
    with _opened(data) as (database, store):
        try:
            report = back_up(database, store, file)
        except (NestCrateError, OSError) as error:
            raise click.ClickException(f"Nothing was written: {error}") from error
    rows = sum(count for name, count in report.items() if name != "audio")
    click.echo(f"{file}: {rows} rows, {report['audio']} audio files")


@main.command("restore")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@_DATA
def restore_command(file: Path, data: Path) -> None:
    """Bring everything back from a backup FILE into an empty folder; every sum is checked."""
    with _opened(data) as (database, store):
        try:
            report = restore(database, store, file)
        except NestCrateError as error:
            raise click.ClickException(error.message) from error
    (data / "demo-loaded").touch()
    rows = sum(count for name, count in report.items() if name != "audio")
    click.echo(f"Restored: {rows} rows, {report['audio']} audio files")


@main.command()
@_DATA
def doctor(data: Path) -> None:
    """Check every audio file against its sum, and every row against the files."""
    with _opened(data) as (database, store):
        found = check_files(database, store)
        count = len(store.digests())
    for problem in found:
        click.echo(problem)
    if any(not problem.startswith("left over") for problem in found):
        raise click.ClickException("Some files are not as they should be; restore a backup")
    click.echo(f"{count} audio files are what their names say")


@main.command("measure")
@_DATA
@click.option("--all", "everything", is_flag=True, help="Also samples that this version measured.")
def measure_command(data: Path, everything: bool) -> None:
    """Measure samples again whose figures an earlier version measured."""
    with _opened(data) as (database, store):
        migrate(database.engine)
        count, problems = measure_again(database, store, everything=everything)
    for problem in problems:
        click.echo(problem)
    click.echo(f"{count} samples measured")
    if problems:
        raise click.ClickException(f"{len(problems)} could not be read")


def _settings(url: str, data: Path, demo: bool, sign_in: str) -> Settings:
    """What the environment says, with the folder's own database, files and key."""
    given = Settings()
    return given.model_copy(
        update={
            "database_url": url,
            "audio_url": f"file://{data / 'audio'}",
            "secret_key": given.secret_key or _kept_key(data / "secret-key"),
            "demo_sign_in": demo,
            "auto_sign_in": sign_in or given.auto_sign_in,
        }
    )


def _kept_key(file: Path) -> str:
    """A key of the folder's own, so that sessions outlive a restart."""
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_hex(32))
    return file.read_text().strip()


def _ensure_people(database: Database, demo: bool) -> None:
    """The demo's people; without the demo a first administrator, whose password is told once."""
    if demo:
        ensure_account(database)
        ensure_people(database)
        return
    password = ensure_administrator(database)
    if password is not None:
        click.echo(f"\nA first account was made:  admin   {password}\nChange its password soon.\n")


def _require_free(host: str, port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise click.ClickException(
                f"{host}:{port} cannot be used ({error.strerror}). Choose another with --port."
            ) from error


def _load_demo_once(database: Database, store: AudioStore, demo: bool, mark: Path) -> None:
    if not demo or mark.exists():
        return
    click.echo("• Demo: building Glasshouse Clockworks")
    count = build_demo(database, store, lambda done, of: click.echo(f"  sound {done} of {of}"))
    mark.touch()
    click.echo(f"  {count} sounds, each with a take")


def _keep_running(local: LocalDatabase, stopping: threading.Event) -> None:
    """Start the database again where it died; after a pause, lest it be started without end."""
    while not stopping.wait(1.0):
        if not local.is_running() and not stopping.wait(3.0):
            click.echo("MariaDB ended; starting it again", err=True)
            try:
                local.start()
            except RuntimeError as error:
                click.echo(str(error), err=True)


if __name__ == "__main__":
    sys.exit(main())
