"""Small things that the web processes of one machine share while they run."""

from __future__ import annotations

import os
import re
import secrets
import time
from contextlib import suppress
from pathlib import Path

__all__ = ["SharedFiles"]

_NAME = re.compile(r"^[\w.-]{1,100}$", re.ASCII)
_KEPT_S = 3600.0


class SharedFiles:
    """Values by name in a folder that only this account reads; each is whole or not there.

    What is older than an hour goes as others come.
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._swept = 0.0

    def put(self, name: str, value: bytes) -> None:
        path = self._path(name)
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        self._sweep()
        making = self._folder / f".{secrets.token_hex(8)}"
        making.write_bytes(value)
        os.replace(making, path)

    def get(self, name: str) -> bytes | None:
        try:
            return self._path(name).read_bytes()
        except FileNotFoundError:
            return None

    def remove(self, name: str) -> None:
        self._path(name).unlink(missing_ok=True)

    def _path(self, name: str) -> Path:
        if not _NAME.match(name) or name.startswith("."):
            raise ValueError(f"name={name!r} is no plain name")
        return self._folder / name

    def _sweep(self) -> None:
        now = time.time()
        if now - self._swept < _KEPT_S / 4:
            return
        self._swept = now
        for path in self._folder.iterdir():
            with suppress(FileNotFoundError):
                if now - path.stat().st_mtime > _KEPT_S:
                    path.unlink()
