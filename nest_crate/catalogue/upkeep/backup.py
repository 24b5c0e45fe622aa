"""Everything in one file, and back: all tables in one consistent state, all audio files, sums.

The file is a plain archive: ``backup.json`` says what it holds, ``tables/NAME.jsonl`` one row a
line, ``audio/DIGEST.wav`` the files. With a passphrase the archive is encrypted as a whole, in the
format of age.
"""

from __future__ import annotations

import base64
import hashlib
import io
import json
import os
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from datetime import datetime
from pathlib import Path
from typing import Any

from sqlalchemy import JSON, Connection, LargeBinary, MetaData, Table, func, insert, select, text
from sqlalchemy.dialects.mysql import DATETIME, LONGTEXT

import nest_crate.catalogue.db.all_tables  # noqa: F401  (what is backed up)
from nest_crate.catalogue.db.database import Database, migrate
from nest_crate.catalogue.db.models import Base
from nest_crate.catalogue.upkeep.age_files import AgeReader, AgeWriter, is_age
from nest_crate.core.errors import FormatError
from nest_crate.storage import AudioStore

__all__ = ["FILE_COLUMNS", "Report", "back_up", "check_files", "is_encrypted", "restore"]

# Where stored files are named.
FILE_COLUMNS = (
    ("takes", "file_digest"),
    ("samples", "file_digest"),
    ("recordings", "digest"),
    ("release_items", "file_digest"),
    ("release_format_items", "file_digest"),
    ("wishes", "reference_digest"),
    ("job_items", "file_digest"),
    ("kept_mixes", "file_digest"),
    ("batch_members", "file_digest"),
)
_FORMAT, _VERSION = "nest-crate-backup", 1
_AT_ONCE = 500
Progress = Callable[[str], None]


class Report(dict[str, int]):
    """How many rows of each table, and ``audio`` files."""


def _quiet(_: str) -> None:
    return


def is_encrypted(path: Path) -> bool:
    """Whether a passphrase is needed to read a backup."""
    with path.open("rb") as file:
        return is_age(file)


@contextmanager
def _archive_to_write(path: Path, passphrase: str) -> Iterator[zipfile.ZipFile]:
    with path.open("wb") as file:
        if not passphrase:
            with zipfile.ZipFile(file, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:
                yield archive
        else:
            with (
                AgeWriter(file, passphrase) as sealed,
                # It cannot go back in what is encrypted already, so sizes follow each file.
                zipfile.ZipFile(sealed, "w", zipfile.ZIP_STORED, allowZip64=True) as archive,
            ):
                yield archive
        file.flush()
        os.fsync(file.fileno())


@contextmanager
def _archive_to_read(path: Path, passphrase: str) -> Iterator[zipfile.ZipFile]:
    with path.open("rb") as file:
        if not is_age(file):
            with zipfile.ZipFile(file) as archive:
                yield archive
            return
        if not passphrase:
            raise FormatError(f"{path} is encrypted; give its passphrase")
        opened = io.BufferedReader(AgeReader(file, passphrase), 1 << 16)
        with opened, zipfile.ZipFile(opened) as archive:
            yield archive


def back_up(
    database: Database,
    store: AudioStore,
    path: Path,
    progress: Progress = _quiet,
    passphrase: str = "",
) -> Report:
    """Write everything to a file, which is there whole or not at all; encrypted by a passphrase
    where one is given.

    All rows are read in one transaction, so that they fit each other while others go on working;
    files are read afterwards, for what a row points to is never removed before its row.
    """
    temporary = path.with_name(f"{path.name}.part")
    report = Report()
    try:
        # It holds everybody's work and the digests of their passwords: for this account alone.
        temporary.unlink(missing_ok=True)
        temporary.touch(mode=0o600)
        with _archive_to_write(temporary, passphrase) as archive:
            # Plain transactions of InnoDB see one state from their first read on.
            with database.engine.connect() as connection, connection.begin():
                revision = connection.scalar(text("SELECT version_num FROM alembic_version"))
                for table in Base.metadata.sorted_tables:
                    report[table.name] = _write_table(archive, connection, table)
                    progress(f"{table.name}: {report[table.name]} rows")
            digests = sorted(store.digests())
            for digest in digests:
                archive.writestr(f"audio/{digest}.wav", store.get(digest))
            report["audio"] = len(digests)
            facts = {
                "format": _FORMAT,
                "version": _VERSION,
                "schema": revision,
                "counts": report,
                "audio": digests,
            }
            archive.writestr("backup.json", json.dumps(facts))
        temporary.replace(path)
    finally:
        with suppress(FileNotFoundError):
            temporary.unlink()
    return report


def _write_table(archive: zipfile.ZipFile, connection: Connection, table: Table) -> int:
    count = 0
    query = select(table).order_by(*table.primary_key.columns)
    with archive.open(f"tables/{table.name}.jsonl", "w", force_zip64=True) as out:
        for row in connection.execute(query.execution_options(yield_per=_AT_ONCE)):
            values = {key: _plain(value) for key, value in row._mapping.items()}
            out.write(json.dumps(values, ensure_ascii=False).encode() + b"\n")
            count += 1
    return count


def _plain(value: Any) -> Any:
    if isinstance(value, datetime):
        return value.isoformat()
    return base64.b64encode(value).decode() if isinstance(value, bytes) else value


def restore(
    database: Database,
    store: AudioStore,
    path: Path,
    progress: Progress = _quiet,
    passphrase: str = "",
) -> Report:
    """Restore everything from a file into an empty database; every sum is checked.

    Raises
    ------
    FormatError
        where the file is no backup, is damaged or encrypted by another passphrase, or the database
        holds something already. The database is as empty as before then.
    """
    try:
        with _archive_to_read(path, passphrase) as archive:
            facts = json.loads(archive.read("backup.json"))
            if facts.get("format") != _FORMAT or facts.get("version") != _VERSION:
                raise FormatError(f"{path} is not a backup that this version can read")
            _require_empty(database)
            # Files first: rows never point to what is not there.
            for digest in facts["audio"]:
                _bring_file(store, digest, archive.read(f"audio/{digest}.wav"))
            migrate(database.engine, "base")
            migrate(database.engine, facts["schema"])
            report = _bring_rows(database, archive, facts["counts"], progress)
    except (zipfile.BadZipFile, KeyError, ValueError, OSError) as error:
        raise FormatError(f"{path} cannot be read as a backup: {error}") from error
    migrate(database.engine)
    report["audio"] = len(facts["audio"])
    return report


def _require_empty(database: Database) -> None:
    migrate(database.engine)
    with database.engine.connect() as connection:
        for table in Base.metadata.sorted_tables:
            if connection.scalar(select(func.count()).select_from(table)):
                raise FormatError(f"The database is not empty: {table.name} already has rows")


def _bring_file(store: AudioStore, digest: str, data: bytes) -> None:
    if hashlib.sha256(data).hexdigest() != digest:
        raise FormatError(f"The audio file {digest[:12]}… in the backup is damaged")
    store.put(data)


def _bring_rows(
    database: Database, archive: zipfile.ZipFile, counts: dict[str, int], progress: Progress
) -> Report:
    """All rows in one transaction, as the schema of their time has them."""
    report = Report()
    with database.engine.begin() as connection:
        metadata = MetaData()
        metadata.reflect(connection)
        for table in metadata.sorted_tables:
            if table.name == "alembic_version":
                continue
            rows = list(_rows(archive, table))
            if len(rows) != counts.get(table.name, 0):
                raise FormatError(f"The backup lacks rows of {table.name}")
            for begin in range(0, len(rows), _AT_ONCE):
                connection.execute(insert(table), rows[begin : begin + _AT_ONCE])
            report[table.name] = len(rows)
            progress(f"{table.name}: {len(rows)} rows")
    return report


def _rows(archive: zipfile.ZipFile, table: Table) -> Iterator[dict[str, Any]]:
    with archive.open(f"tables/{table.name}.jsonl") as lines:
        for line in lines:
            values = json.loads(line)
            yield {key: _typed(table, key, value) for key, value in values.items()}


def _typed(table: Table, name: str, value: Any) -> Any:
    kind = table.columns[name].type
    if value is None:
        return None
    if isinstance(kind, DATETIME):
        return datetime.fromisoformat(value)
    if isinstance(kind, LargeBinary) or type(kind).__name__.endswith("BLOB"):
        return base64.b64decode(value)
    # MariaDB keeps JSON as a long text.
    if isinstance(kind, LONGTEXT) and isinstance(value, dict | list):
        return json.dumps(value)
    return json.dumps(value) if isinstance(kind, JSON) and not isinstance(value, str) else value


def check_files(database: Database, store: AudioStore) -> list[str]:
    """What is wrong with the files: spoilt, missing, left over; empty where all is well."""
    used: dict[str, str] = {}
    with database.engine.connect() as connection:
        for table, column in FILE_COLUMNS:
            query = text(f"SELECT DISTINCT {column} FROM {table} WHERE {column} IS NOT NULL")
            used |= dict.fromkeys(connection.scalars(query), table)
    stored = store.digests()
    found = [
        f"missing: {digest}, which {table} points to"
        for digest, table in sorted(used.items())
        if digest not in stored
    ]
    for digest in sorted(stored):
        if hashlib.sha256(store.get(digest)).hexdigest() != digest:
            found.append(f"damaged: {digest} does not match its name")
    left = stored - set(used)
    if left:
        found.append(f"orphaned: {len(left)} files that nothing refers to; a sweep removes them")
    return found
