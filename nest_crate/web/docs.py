"""The documentation as pages under ``/docs``, built from ``docs/`` when the app is set up."""

from __future__ import annotations

import base64
import hashlib
import re
from pathlib import Path

from flask import Flask, Response, redirect, send_from_directory
from werkzeug.wrappers import Response as AnyResponse

__all__ = ["serve_docs"]

_INLINE = re.compile(r"<script>(.*?)</script>", re.DOTALL)


def _policy(page: str) -> str:
    """What a page may load: the site's own files, and the scripts that stand in it."""
    digests = {hashlib.sha256(script.encode()).digest() for script in _INLINE.findall(page)}
    scripts = " ".join(f"'sha256-{base64.b64encode(one).decode()}'" for one in sorted(digests))
    return (
        f"default-src 'self'; script-src 'self' {scripts}; style-src 'self' 'unsafe-inline'; "
        "img-src 'self' data:; object-src 'none'; base-uri 'self'; frame-ancestors 'none'"
    )


def serve_docs(app: Flask, folder: Path) -> None:
    """Serve the built pages in a folder."""

    @app.route("/docs")
    @app.route("/docs/")
    def docs_start() -> AnyResponse:
        return redirect("/docs/index.html")

    @app.route("/docs/<path:path>")
    def docs_page(path: str) -> Response:
        response = send_from_directory(folder, path)
        if path.endswith(".html"):
            page = (folder / path).read_text(encoding="utf-8")
            response.headers["Content-Security-Policy"] = _policy(page)
        return response
