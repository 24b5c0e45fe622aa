"""Files that are sent: read to a temporary place, removed afterwards."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from flask import request
from flask_openapi3 import FileStorage
from pydantic import BaseModel

from nest_crate.storage import StorageError

__all__ = ["FileForm", "make_room", "uploaded"]

# What a form adds to a file of the largest size.
_LARGEST_BYTES = 200_000_000 + 100_000


class FileForm(BaseModel):
    file: FileStorage


@contextmanager
def uploaded(given: FileStorage) -> Iterator[tuple[str, Path]]:
    """A file that was sent: its name without folder and ending, and where it lies for now."""
    name = (given.filename or "Recording").replace("\\", "/").rsplit("/", 1)[-1]
    with tempfile.TemporaryDirectory(prefix="nest-crate-") as folder, closing(given):
        path = Path(folder) / "sent"
        try:
            given.save(path)
        except OSError as error:
            reason = error.strerror or "no room"
            raise StorageError(f"The file could not be taken: {reason}") from error
        yield name.rsplit(".", 1)[0], path


def make_room() -> None:
    """Audio files are larger than anything else that is sent."""
    if request.mimetype == "multipart/form-data":
        request.max_content_length = _LARGEST_BYTES
