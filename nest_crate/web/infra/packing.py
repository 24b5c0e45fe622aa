"""Smaller answers for slow lines: text is packed (RFC 9110, content codings br and gzip).

What the app's build wrote is packed there already, as hard as can be; what the API answers is
packed as it is sent. Packing an answer tells somebody who reads the encrypted line how well it
packs. That is of use to them only where they can have requests sent in another's name, which the
session's cookie (SameSite=Strict) rules out.
"""

from __future__ import annotations

import zlib
from collections.abc import Iterator
from pathlib import Path

from flask import Flask, Response, request, send_from_directory
from flask_compress import Compress

__all__ = ["pack_answers", "packed_pieces", "packs_gzip", "send_packed"]

_TEXT = [
    "application/json",
    "application/problem+json",
    "application/yaml",
    "text/css",
    "text/csv",
    "text/html",
    "text/javascript",
    "text/plain",
    "image/svg+xml",
]
# The endings that the build gives, best first.
_ENDINGS = {"br": ".br", "gzip": ".gz"}
_LEAST_BYTES = 1000
# Beyond these it takes longer than it saves on a line that is slow at all.
_BROTLI_QUALITY, _GZIP_LEVEL = 4, 6


def pack_answers(app: Flask) -> None:
    """Have text that the app answers packed as the client accepts it."""
    app.config.update(
        COMPRESS_MIMETYPES=_TEXT,
        COMPRESS_ALGORITHM=["br", "gzip"],
        COMPRESS_ALGORITHM_STREAMING=["br", "gzip"],
        COMPRESS_BR_LEVEL=_BROTLI_QUALITY,
        COMPRESS_LEVEL=_GZIP_LEVEL,
        COMPRESS_MIN_SIZE=_LEAST_BYTES,
    )
    Compress(app)


def send_packed(folder: Path, path: str) -> Response:
    """A file of the app's build, in the smallest form that lies beside it and that the client
    accepts."""
    for coding, ending in _ENDINGS.items():
        if _accepts(coding) and (folder / f"{path}{ending}").is_file():
            response = send_from_directory(folder, f"{path}{ending}", mimetype=_kind(path))
            response.headers["Content-Encoding"] = coding
            break
    else:
        response = send_from_directory(folder, path)
    response.vary.add("Accept-Encoding")
    return response


def _kind(path: str) -> str:
    """The media type of a file that was packed, which its last ending hides."""
    kinds = {".js": "text/javascript", ".css": "text/css", ".svg": "image/svg+xml"}
    return kinds.get(Path(path).suffix, "text/html")


def packs_gzip() -> bool:
    """Whether the client reads gzip."""
    return _accepts("gzip")


def _accepts(coding: str) -> bool:
    return request.accept_encodings.quality(coding) > 0


def packed_pieces(pieces: Iterator[bytes]) -> Iterator[bytes]:
    """Pieces of one answer as gzip, each whole at the other end as soon as it was sent."""
    packer = zlib.compressobj(_GZIP_LEVEL, zlib.DEFLATED, zlib.MAX_WBITS | 16)
    for piece in pieces:
        yield packer.compress(piece) + packer.flush(zlib.Z_SYNC_FLUSH)
    yield packer.flush()
