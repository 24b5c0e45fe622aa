"""What many answers have in common."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from flask import Response, stream_with_context

from nest_crate.storage.archives import zip_pieces

__all__ = ["archive", "attachment", "moment"]


def moment(when: Any) -> str:
    """A time as it is answered: UTC."""
    return f"{when.isoformat()}Z"


def attachment(response: Response, name: str, ending: str) -> None:
    """Have an answer saved under a plain name."""
    plain = re.sub(r"[^\w\- .]+", "", name, flags=re.ASCII).strip(" .") or "sample"
    response.headers["Content-Disposition"] = f'attachment; filename="{plain}.{ending}"'


def archive(files: Iterator[tuple[str, bytes]], name: str) -> Response:
    """An archive of files as an answer that is sent while it is made."""
    response = Response(stream_with_context(zip_pieces(files)), mimetype="application/zip")
    response.headers["Content-Disposition"] = f'attachment; filename="{name}.zip"'
    response.headers["Cache-Control"] = "private, no-store"
    return response
