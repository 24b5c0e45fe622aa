"""Everything goes into one file and comes back; what is damaged is found."""

import ast
import json
import subprocess
import sys
import zipfile

import pytest
from sqlalchemy import select

from nest_crate.catalogue.db.database import Database, migrate
from nest_crate.catalogue.db.models import Base
from nest_crate.catalogue.upkeep import age_files
from nest_crate.catalogue.upkeep.backup import (
    FILE_COLUMNS,
    back_up,
    check_files,
    is_encrypted,
    restore,
)
from nest_crate.core.errors import FormatError
from nest_crate.demo.sounds import build_demo
from nest_crate.local_database import LocalDatabase
from nest_crate.storage import AudioStore


@pytest.fixture(scope="module")
def other_server(tmp_path_factory):
    server = LocalDatabase(tmp_path_factory.mktemp("other"))
    server.start()
    yield server
    server.stop()


@pytest.fixture
def elsewhere(other_server, tmp_path):
    database = Database(other_server.url)
    migrate(database.engine)
    migrate(database.engine, "base")
    yield database, AudioStore(f"file://{tmp_path / 'elsewhere'}")
    database.engine.dispose()


def contents(database):
    with database.engine.connect() as connection:
        return {
            table.name: [
                tuple(row)
                for row in connection.execute(select(table).order_by(*table.primary_key.columns))
            ]
            for table in Base.metadata.sorted_tables
        }


@pytest.fixture
def filled(store, monkeypatch):
    """The demo with a few of its sounds, and no recordings."""
    from nest_crate.demo import sounds as demo

    paths = sorted(demo.SOUNDS_FOLDER.glob("*.json"))[:3]

    class Few:
        def glob(self, _):
            return paths

    monkeypatch.setattr(demo, "SOUNDS_FOLDER", Few())
    monkeypatch.setattr(demo, "RECORDINGS_FOLDER", store.files_folder / "none")
    build_demo(store.database, store.files)
    return store


def test_everything_comes_back_as_it_was(filled, elsewhere, tmp_path):
    file = tmp_path / "all.nest-crate"
    report = back_up(filled.database, filled.files, file)
    assert report["samples"] == 3
    assert report["releases"] == 1
    assert file.stat().st_mode & 0o077 == 0, "it is for nobody else"
    database, files = elsewhere
    assert restore(database, files, file) == report
    assert contents(database) == contents(filled.database)
    assert files.digests() == filled.files.digests()
    assert check_files(database, files) == []


def test_every_table_is_known_and_every_file_is_looked_for():
    """Also where nothing else of the program was imported."""
    code = (
        "import nest_crate.catalogue.upkeep.backup as b\n"
        "from nest_crate.catalogue.db.models import Base\n"
        "print([(t.name, c.name) for t in Base.metadata.sorted_tables for c in t.columns])"
    )
    shown = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    columns = ast.literal_eval(shown.stdout)
    assert {name for name, _ in columns} >= {"tryouts", "kept_mixes", "batches", "batch_members"}
    files = {one for one in columns if one[1] == "file_digest"}
    assert files <= set(FILE_COLUMNS)


def test_a_full_database_is_not_written_over(filled, tmp_path):
    file = tmp_path / "all.nest-crate"
    back_up(filled.database, filled.files, file)
    before = contents(filled.database)
    with pytest.raises(FormatError, match="not empty"):
        restore(filled.database, filled.files, file)
    assert contents(filled.database) == before


@pytest.mark.parametrize("spoil", ["audio", "rows", "half", "nonsense", "other"])
def test_a_damaged_backup_is_refused_and_leaves_nothing(filled, elsewhere, tmp_path, spoil):
    whole, file = tmp_path / "whole.zip", tmp_path / "damaged.zip"
    back_up(filled.database, filled.files, whole)
    if spoil == "half":
        file.write_bytes(whole.read_bytes()[: whole.stat().st_size // 2])
    elif spoil == "nonsense":
        file.write_bytes(b"no archive")
    else:
        with zipfile.ZipFile(whole) as source, zipfile.ZipFile(file, "w") as copy:
            for entry in source.infolist():
                data = source.read(entry)
                if spoil == "audio" and entry.filename.startswith("audio/"):
                    data = data[:-4] + b"\x00\x00\x00\x01"
                if spoil == "rows" and entry.filename == "tables/samples.jsonl":
                    data = data[: data.index(b"\n") + 1]
                if spoil == "other" and entry.filename == "backup.json":
                    data = json.dumps({"format": "other"}).encode()
                copy.writestr(entry.filename, data)
    database, files = elsewhere
    with pytest.raises(FormatError, match=r"cannot be read|can read|is damaged|lacks rows"):
        restore(database, files, file)
    migrate(database.engine)
    assert not any(contents(database).values())


def test_a_backup_that_fails_leaves_no_half_file(filled, tmp_path, monkeypatch):
    def full(_digest):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(filled.files, "get", full)
    with pytest.raises(OSError, match="No space"):
        back_up(filled.database, filled.files, tmp_path / "all.zip")
    assert not list(tmp_path.glob("all.zip*"))


def test_what_is_wrong_with_files_is_told(filled):
    digests = sorted(filled.files.digests())
    damaged = filled.files_folder / digests[0][:2] / digests[0][2:4] / f"{digests[0]}.wav"
    damaged.write_bytes(b"other")
    (filled.files_folder / digests[1][:2] / digests[1][2:4] / f"{digests[1]}.wav").unlink()
    filled.files.put(b"left by a dead worker")
    shown = "\n".join(check_files(filled.database, filled.files))
    assert f"damaged: {digests[0]}" in shown
    assert f"missing: {digests[1]}" in shown
    assert "orphaned: 1 files" in shown


PASSPHRASE = "moss under the pendulum"


@pytest.fixture
def quick_passphrases(monkeypatch):
    monkeypatch.setattr(age_files, "_WORK_LOG2", 10)


def test_an_encrypted_backup_comes_back_with_its_passphrase_alone(
    filled, elsewhere, tmp_path, quick_passphrases
):
    file = tmp_path / "all.age"
    report = back_up(filled.database, filled.files, file, passphrase=PASSPHRASE)
    assert is_encrypted(file)
    held = file.read_bytes()
    assert b"isolde" not in held
    assert b"RIFF" not in held
    assert file.stat().st_mode & 0o077 == 0, "it is for nobody else"
    database, files = elsewhere
    for wrong, said in (("", "is encrypted"), ("moss", "The passphrase is not the one")):
        with pytest.raises(FormatError, match=said):
            restore(database, files, file, passphrase=wrong)
    assert restore(database, files, file, passphrase=PASSPHRASE) == report
    assert contents(database) == contents(filled.database)
    assert check_files(database, files) == []


def test_a_backup_that_is_cut_off_or_changed_is_refused(
    filled, elsewhere, tmp_path, quick_passphrases
):
    whole, file = tmp_path / "whole.age", tmp_path / "damaged.age"
    back_up(filled.database, filled.files, whole, passphrase=PASSPHRASE)
    held = whole.read_bytes()
    middle = len(held) // 2
    changed = held[:middle] + bytes([held[middle] ^ 1]) + held[middle + 1 :]
    database, files = elsewhere
    for damaged in (held[:-70_000], held[:-1], changed, held[:100]):
        file.write_bytes(damaged)
        with pytest.raises(FormatError, match=r"damaged"):
            restore(database, files, file, passphrase=PASSPHRASE)
    migrate(database.engine)
    assert not any(contents(database).values())
