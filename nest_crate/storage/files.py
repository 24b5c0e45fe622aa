"""Audio files under the SHA-256 of their bytes, in a folder or an object store."""

from __future__ import annotations

import hashlib
import os
import re
import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

import fsspec

from nest_crate.core.errors import NestCrateError

__all__ = ["AudioStore", "FileMissing", "StorageError"]

_DIGEST = re.compile(r"^[0-9a-f]{64}$")


class StorageError(NestCrateError):
    """A file cannot be stored or read: disk full, store out of reach."""

    code = "storage_failed"
    title = "The file could not be stored"


class FileMissing(NestCrateError):
    """No file has this digest."""

    code = "file_missing"
    title = "There is no such file"


class AudioStore:
    """Put bytes, get them back by digest. A file is either whole or not there."""

    def __init__(self, url: str) -> None:
        self._files: Any
        self._files, self._root = fsspec.core.url_to_fs(url)
        self._local = "file" in getattr(self._files, "protocol", ())

    def path(self, digest: str) -> str:
        """Where the file of a digest lies in the store."""
        if not _DIGEST.match(digest):
            raise FileMissing(f"digest={digest[:80]!r} is no SHA-256 in hexadecimal")
        return f"{self._root}/{digest[:2]}/{digest[2:4]}/{digest}.wav"

    def put(self, data: bytes) -> str:
        """Store bytes and answer their digest; the same bytes are stored once.

        Written under a temporary name, flushed to the disk, then renamed.

        Raises
        ------
        StorageError
            with nothing left behind.
        """
        digest = hashlib.sha256(data).hexdigest()
        path = self.path(digest)
        temporary = f"{self._root}/incoming/{uuid.uuid4().hex}"
        try:
            if self._files.exists(path):
                self._renew(path)
                return digest
            self._files.makedirs(f"{self._root}/incoming", exist_ok=True)
            self._files.makedirs(path.rsplit("/", 1)[0], exist_ok=True)
            with self._files.open(temporary, "wb") as file:
                file.write(data)
                file.flush()
                if self._local:
                    os.fsync(file.fileno())
            self._files.mv(temporary, path)
        except OSError as error:
            self._remove_quietly(temporary)
            reason = error.strerror or "the store does not answer"
            raise StorageError(f"The audio file could not be stored: {reason}") from error
        return digest

    def require_writable(self) -> None:
        """``StorageError`` where nothing can be stored; said before anybody is let in."""
        place = f"{self._root}/incoming/{uuid.uuid4().hex}"
        try:
            self._files.makedirs(f"{self._root}/incoming", exist_ok=True)
            self._files.pipe_file(place, b"probe")
            self._files.rm_file(place)
        except OSError as error:
            reason = error.strerror or str(error) or "it does not answer"
            raise StorageError(f"Nothing can be written to {self._root}: {reason}") from error

    def _renew(self, path: str) -> None:
        """Date a file to now: it may have been an orphan, and its rows are on the way."""
        if self._local:
            os.utime(path)

    def get(self, digest: str) -> bytes:
        """The bytes of a digest; ``FileMissing`` where there are none."""
        path = self.path(digest)
        try:
            return bytes(self._files.cat_file(path))
        except FileNotFoundError as error:
            raise FileMissing(f"no file {digest}") from error

    def exists(self, digest: str) -> bool:
        return bool(self._files.exists(self.path(digest)))

    def remove(self, digest: str) -> None:
        """Remove a file that nothing points to any more."""
        self._remove_quietly(self.path(digest))

    def digests(self, *, older_than_s: float = 0.0) -> set[str]:
        """The digests of all stored files, or of those older than so many seconds."""
        if not self._files.exists(self._root):
            return set()
        latest = datetime.now(UTC) - timedelta(seconds=older_than_s)
        found = set()
        for path in self._files.find(self._root):
            digest = path.rsplit("/", 1)[-1].removesuffix(".wav")
            if _DIGEST.match(digest) and self._files.modified(path) <= latest:
                found.add(digest)
        return found

    def remove_if_older(self, digest: str, than_s: float) -> bool:
        """Remove a file that nothing pointed to, unless it was put again meanwhile."""
        path = self.path(digest)
        latest = datetime.now(UTC) - timedelta(seconds=than_s)
        if not self._files.exists(path) or self._files.modified(path) > latest:
            return False
        self._remove_quietly(path)
        return True

    def _remove_quietly(self, path: str) -> None:
        try:
            if self._files.exists(path):
                self._files.rm(path)
        except OSError:
            # What could not be removed is an orphan; the next sweep finds it.
            return
