"""Audio files under the SHA-256 of their bytes, in a folder or an object store."""

from __future__ import annotations

import hashlib
import os
import re
import uuid
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import UTC, datetime, timedelta
from typing import Any

import fsspec

from nest_crate.core.errors import NestCrateError

__all__ = ["AudioStore", "FileMissing", "StorageAway", "StorageError"]

_DIGEST = re.compile(r"^[0-9a-f]{64}$")

# What kinds of stores need besides their address. Other servers put and remove files too, so
# listings are not cached; timeouts are short, so that a request fails soon while the store is away.
_OPTIONS: dict[str, dict[str, Any]] = {
    "s3": {
        "use_listings_cache": False,
        "config_kwargs": {
            "connect_timeout": 4,
            "read_timeout": 30,
            "retries": {"max_attempts": 1, "mode": "standard"},
        },
    }
}


class StorageError(NestCrateError):
    """A file cannot be stored or read: disk full, store out of reach."""

    code = "storage_failed"
    title = "The file could not be stored"


class StorageAway(StorageError):
    """An object store does not answer, or refuses us; it may answer later."""

    code = "storage_away"
    title = "The store does not answer"


class FileMissing(NestCrateError):
    """No file has this digest."""

    code = "file_missing"
    title = "There is no such file"


class AudioStore:
    """Put bytes, get them back by digest. A file is either whole or not there."""

    def __init__(self, url: str) -> None:
        options = _OPTIONS.get(fsspec.utils.get_protocol(url), {})
        self._files: Any
        self._files, self._root = fsspec.core.url_to_fs(url, **options)
        self._local = "file" in getattr(self._files, "protocol", ())

    def path(self, digest: str) -> str:
        """Where the file of a digest lies in the store."""
        if not _DIGEST.match(digest):
            raise FileMissing(f"digest={digest[:80]!r} is no SHA-256 in hexadecimal")
        return f"{self._root}/{digest[:2]}/{digest[2:4]}/{digest}.wav"

    def put(self, data: bytes) -> str:
        """Store bytes and answer their digest; the same bytes are stored once.

        In a folder they are written under a temporary name, flushed to the disk, then renamed; an
        object store shows an object once it has all of it.

        Raises
        ------
        StorageError
            with nothing left behind.
        """
        digest = hashlib.sha256(data).hexdigest()
        with self._trouble("could not be stored"):
            if self._local:
                self._put_in_folder(self.path(digest), data)
            else:
                # Put again, an object has a new date: it may have been an orphan.
                self._files.pipe_file(self.path(digest), data)
        return digest

    def _put_in_folder(self, path: str, data: bytes) -> None:
        if self._files.exists(path):
            # It may have been an orphan, and its rows are on the way.
            os.utime(path)
            return
        temporary = f"{self._root}/incoming/{uuid.uuid4().hex}"
        try:
            self._files.makedirs(f"{self._root}/incoming", exist_ok=True)
            self._files.makedirs(path.rsplit("/", 1)[0], exist_ok=True)
            with self._files.open(temporary, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            self._files.mv(temporary, path)
        except OSError:
            self._remove_quietly(temporary)
            raise

    def require_writable(self) -> None:
        """``StorageError`` where nothing can be stored; said before anybody is let in."""
        place = f"{self._root}/incoming/{uuid.uuid4().hex}"
        try:
            if self._local:
                self._files.makedirs(f"{self._root}/incoming", exist_ok=True)
            self._files.pipe_file(place, b"probe")
            self._files.rm_file(place)
        # Stores raise errors of their own kinds.
        except Exception as error:
            reason = getattr(error, "strerror", None) or str(error) or "it does not answer"
            raise StorageError(f"Nothing can be written to {self._root}: {reason}") from error

    @contextmanager
    def _trouble(self, what: str) -> Iterator[None]:
        """Says what went wrong in a call of the store; that there is no such file goes on."""
        try:
            yield
        except FileNotFoundError:
            raise
        except OSError as error:
            reason = error.strerror or "the store does not answer"
            kind = StorageError if self._local else StorageAway
            raise kind(f"The audio file {what}: {reason}") from error
        except Exception as error:
            # Object stores raise errors of their own kinds, which are no OSError.
            if self._local:
                raise
            raise StorageAway(f"The audio file {what}: the store does not answer") from error

    def get(self, digest: str) -> bytes:
        """The bytes of a digest; ``FileMissing`` where there are none."""
        path = self.path(digest)
        try:
            with self._trouble("could not be read"):
                return bytes(self._files.cat_file(path))
        except FileNotFoundError as error:
            raise FileMissing(f"no file {digest}") from error

    def exists(self, digest: str) -> bool:
        with self._trouble("could not be looked for"):
            return bool(self._files.exists(self.path(digest)))

    def remove(self, digest: str) -> None:
        """Remove a file that nothing points to any more."""
        self._remove_quietly(self.path(digest))

    def digests(self, *, older_than_s: float = 0.0) -> set[str]:
        """The digests of all stored files, or of those older than so many seconds."""
        latest = datetime.now(UTC) - timedelta(seconds=older_than_s)
        with self._trouble("could not be looked for"):
            if not self._files.exists(self._root):
                return set()
            listed = self._files.find(self._root, detail=True)
            return {
                digest
                for path, facts in listed.items()
                if _DIGEST.match(digest := path.rsplit("/", 1)[-1].removesuffix(".wav"))
                and self._modified(path, facts) <= latest
            }

    def _modified(self, path: str, facts: dict[str, Any]) -> datetime:
        """When a listed file was put; asked for one by one where the listing does not say."""
        listed = facts.get("LastModified")
        return listed if isinstance(listed, datetime) else self._files.modified(path)

    def remove_if_older(self, digest: str, than_s: float) -> bool:
        """Remove a file that nothing pointed to, unless it was put again meanwhile."""
        path = self.path(digest)
        latest = datetime.now(UTC) - timedelta(seconds=than_s)
        with self._trouble("could not be removed"):
            if not self._files.exists(path) or self._files.modified(path) > latest:
                return False
        self._remove_quietly(path)
        return True

    def _remove_quietly(self, path: str) -> None:
        # What could not be removed is an orphan; the next sweep finds it.
        with suppress(FileNotFoundError, StorageError), self._trouble("could not be removed"):
            if self._files.exists(path):
                self._files.rm(path)
