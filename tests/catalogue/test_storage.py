import errno
import hashlib
import os
import time
from dataclasses import replace

import fsspec
import pytest

from nest_crate.local_database import free_port
from nest_crate.storage import AudioStore, FileMissing, StorageAway, StorageError
from tests.object_store import simulated_store


@pytest.fixture
def folder(tmp_path):
    return AudioStore(f"file://{tmp_path}")


@pytest.fixture(scope="module")
def bucket():
    with simulated_store() as made:
        yield made


def in_bucket(bucket, monkeypatch):
    """A store in the bucket, configured as an operator does it: by the environment alone."""
    given = {}
    fsspec.config.set_conf_env(given, bucket.environment)
    monkeypatch.setitem(fsspec.config.conf, "s3", given["s3"])
    return AudioStore(bucket.url)


@pytest.fixture(params=["folder", "bucket", "memory"])
def files(request, tmp_path, monkeypatch):
    """An empty store of each kind."""
    if request.param == "folder":
        made = AudioStore(f"file://{tmp_path}")
    elif request.param == "memory":
        made = AudioStore("memory://crate")
    else:
        made = in_bucket(request.getfixturevalue("bucket"), monkeypatch)
    for digest in made.digests():
        made.remove(digest)
    return made


def names(folder):
    return sorted(p.name for p in folder.rglob("*") if p.is_file())


def test_bytes_come_back_by_their_digest(files):
    digest = files.put(b"some audio")
    assert digest == hashlib.sha256(b"some audio").hexdigest()
    assert files.get(digest) == b"some audio"
    assert files.exists(digest)
    assert files.digests() == {digest}
    assert files.put(b"some audio") == digest
    assert files.digests() == {digest}


def test_a_folder_holds_the_files_alone(folder, tmp_path):
    digest = folder.put(b"some audio")
    folder.put(b"some audio")
    folder.require_writable()
    assert names(tmp_path) == [f"{digest}.wav"]


@pytest.mark.parametrize("digest", ["", "../../etc/passwd", "A" * 64, "0" * 64])
def test_unknown_or_hostile_digest_is_missing(files, digest):
    with pytest.raises(FileMissing, match=r"no SHA-256|no file"):
        files.get(digest)


def test_full_disk_leaves_nothing_behind(folder, tmp_path, monkeypatch):
    def full(_):
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    monkeypatch.setattr("nest_crate.storage.files.os.fsync", full)
    with pytest.raises(StorageError, match="No space left") as caught:
        folder.put(b"too much")
    assert caught.value.code == "storage_failed"
    assert names(tmp_path) == []


def test_an_orphan_is_removed_once_it_is_old_and_not_where_it_was_put_again(files):
    digest = files.put(b"left over")
    assert files.digests(older_than_s=60.0) == set()
    assert not files.remove_if_older(digest, 60.0)
    time.sleep(1.1)
    assert files.digests(older_than_s=1.0) == {digest}
    assert files.put(b"left over") == digest
    assert not files.remove_if_older(digest, 1.0)
    assert files.exists(digest)
    assert files.remove_if_older(digest, 0.0)
    assert not files.exists(digest)


def test_what_another_process_put_or_removed_is_seen_at_once(bucket, monkeypatch):
    files = in_bucket(bucket, monkeypatch)
    # As another process has it: nothing is shared with the one above.
    fsspec.get_filesystem_class("s3").clear_instance_cache()
    other = AudioStore(bucket.url)
    digest = hashlib.sha256(b"from elsewhere").hexdigest()
    assert not files.exists(digest)
    assert digest not in files.digests()
    other.put(b"from elsewhere")
    assert files.exists(digest)
    assert digest in files.digests()
    other.remove(digest)
    assert not files.exists(digest)
    assert digest not in files.digests()


def test_a_store_that_is_away_is_said_as_such(bucket, monkeypatch):
    nobody = {**bucket.environment, "FSSPEC_S3_ENDPOINT_URL": f"http://127.0.0.1:{free_port()}"}
    files = in_bucket(replace(bucket, environment=nobody), monkeypatch)
    digest = "0" * 64
    for ask in (
        lambda: files.put(b"into nowhere"),
        lambda: files.get(digest),
        lambda: files.exists(digest),
        files.digests,
    ):
        with pytest.raises(StorageAway, match="does not answer"):
            ask()
    with pytest.raises(StorageError, match="Nothing can be written"):
        files.require_writable()


def test_a_bucket_that_is_not_there_is_no_place_to_begin(bucket, monkeypatch):
    in_bucket(bucket, monkeypatch)
    with pytest.raises(StorageError, match="Nothing can be written"):
        AudioStore("s3://no-such-bucket/audio").require_writable()


def test_removed_file_is_gone_and_removing_twice_is_harmless(files):
    digest = files.put(b"x")
    files.remove(digest)
    files.remove(digest)
    assert files.digests() == set()
