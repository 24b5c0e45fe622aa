"""Encrypted files, held against another implementation of the same open format."""

import io

import pyrage
import pytest

from nest_crate.catalogue.upkeep import age_files
from nest_crate.catalogue.upkeep.age_files import AgeReader, AgeWriter, is_age
from nest_crate.core.errors import FormatError

PASSPHRASE = "grüner Zeiger, späte Stunde"
# Parts of 64 KiB, and around their edges.
LENGTHS = [0, 1, 65_535, 65_536, 65_537, 131_072, 200_000]


@pytest.fixture(autouse=True)
def quick(monkeypatch):
    """A second for each try of a passphrase is for those who guess."""
    monkeypatch.setattr(age_files, "_WORK_LOG2", 10)


def content(length):
    return bytes(n * 7 % 251 for n in range(length))


def written(data, step=50_000):
    file = io.BytesIO()
    with AgeWriter(file, PASSPHRASE) as sealed:
        for begin in range(0, len(data), step):
            sealed.write(data[begin : begin + step])
    file.seek(0)
    return file


@pytest.mark.parametrize("length", LENGTHS)
def test_another_program_reads_what_is_written(length):
    data = content(length)
    assert pyrage.passphrase.decrypt(written(data).read(), PASSPHRASE) == data


@pytest.mark.parametrize("length", [0, 65_536, 200_000])
def test_what_another_program_wrote_is_read(length):
    data = content(length)
    file = io.BytesIO(pyrage.passphrase.encrypt(data, PASSPHRASE))
    assert is_age(file)
    assert io.BufferedReader(AgeReader(file, PASSPHRASE)).read() == data


def test_any_place_can_be_read():
    data = content(200_000)
    reader = io.BufferedReader(AgeReader(written(data), PASSPHRASE))
    for place in (199_990, 0, 65_530, 131_071, 70_000):
        reader.seek(place)
        assert reader.read(20) == data[place : place + 20]
    assert reader.seek(0, io.SEEK_END) == len(data)


def test_what_was_changed_or_cut_off_is_refused():
    held = written(content(200_000)).read()
    parts = len(held) - (200_000 + 4 * 16)
    part = 65_536 + 16
    moved = held[:parts] + held[parts + part : parts + 2 * part] + held[parts : parts + part]
    moved += held[parts + 2 * part :]
    for damaged in (held[:-1], held[: parts + 2 * part], moved, held + b"more"):
        with pytest.raises(FormatError, match="damaged or not whole"):
            AgeReader(io.BytesIO(damaged), PASSPHRASE).read()


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        (b"scrypt", b"X25519", "not encrypted by a passphrase"),
        (b" 10\n", b" 40\n", "too much work"),
        (b" 10\n", b" 11\n", "passphrase is not the one"),
        (b" 10\n", b" ten\n", "head of the encrypted file is damaged"),
        (b"--- ", b"--- AAAA", "head of the encrypted file is damaged"),
    ],
)
def test_a_changed_head_is_refused(old, new, said):
    held = written(content(10)).read()
    with pytest.raises(FormatError, match=said):
        AgeReader(io.BytesIO(held.replace(old, new, 1)), PASSPHRASE)
