import errno
import hashlib
import os

import pytest

from nest_crate.storage import AudioStore, FileMissing, StorageError


@pytest.fixture
def files(tmp_path):
    return AudioStore(f"file://{tmp_path}")


def names(folder):
    return sorted(p.name for p in folder.rglob("*") if p.is_file())


def test_bytes_come_back_by_their_digest(files, tmp_path):
    digest = files.put(b"some audio")
    assert digest == hashlib.sha256(b"some audio").hexdigest()
    assert files.get(digest) == b"some audio"
    assert files.exists(digest)
    assert files.digests() == {digest}
    assert files.put(b"some audio") == digest
    assert names(tmp_path) == [f"{digest}.wav"]


@pytest.mark.parametrize("digest", ["", "../../etc/passwd", "A" * 64, "0" * 64])
def test_unknown_or_hostile_digest_is_missing(files, digest):
    with pytest.raises(FileMissing, match=r"no SHA-256|no file"):
        files.get(digest)


def test_full_disk_leaves_nothing_behind(files, tmp_path, monkeypatch):
    def full(_):
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    monkeypatch.setattr("nest_crate.storage.files.os.fsync", full)
    with pytest.raises(StorageError, match="No space left") as caught:
        files.put(b"too much")
    assert caught.value.code == "storage_failed"
    assert names(tmp_path) == []


def test_an_object_store_serves_as_well():
    files = AudioStore("memory://crate")
    digest = files.put(b"far away")
    assert files.get(digest) == b"far away"
    assert files.digests() == {digest}
    files.remove(digest)
    assert not files.exists(digest)


def test_removed_file_is_gone_and_removing_twice_is_harmless(files):
    digest = files.put(b"x")
    files.remove(digest)
    files.remove(digest)
    assert files.digests() == set()
