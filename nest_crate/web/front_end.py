"""The built front end: its files, and for every other address the page that shows it."""

from __future__ import annotations

import json
import os
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

from flask import Flask, Response, send_file
from werkzeug.exceptions import NotFound as PageNotFound
from werkzeug.security import safe_join

from nest_crate.web.infra.packing import send_packed

__all__ = ["serve_front_end"]

# A stand-in for a device, which ships beside the program.
_SIMULATED_MIDI = Path(__file__).parents[2] / "tools" / "simulated-midi.js"

# Written by the build: which files each screen consists of.
_FILES = "screens.json"
_FIRST_SCREEN = "bench"
_FOR_STRANGERS = ("shared",)
_LONGEST_NUMBER = 18


def serve_front_end(app: Flask, folder: Path) -> None:
    """Serve the build in a folder."""

    @app.route("/tools/simulated-midi.js")
    def simulated_midi() -> Response:
        return send_file(_SIMULATED_MIDI)

    @app.route("/", defaults={"path": ""})
    @app.route("/<path:path>")
    def front_end(path: str) -> Response:
        if path.startswith(("api/", "openapi/")):
            raise PageNotFound()
        # Joined so that nothing outside the folder is even looked for.
        inside = safe_join(str(folder), path) if path else None
        # Not by ``Path.is_file``, which fails where a name is longer than file systems allow.
        if inside is not None and os.path.isfile(inside):
            response = send_packed(folder, path)
            if path.startswith("assets/"):
                response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return response
        # Every other address belongs to the front end's own router.
        response = send_packed(folder, "index.html")
        response.headers["Cache-Control"] = "no-cache"
        for link in _needed(folder, path):
            response.headers.add("Link", link)
        return response


def _needed(folder: Path, path: str) -> Iterator[str]:
    """Links (RFC 8288) to what an address will ask for: a browser fetches all of it at once, in
    place of one thing after another as it finds out about them."""
    screen, _, rest = path.partition("/")
    screen = screen or _FIRST_SCREEN
    scripts = _scripts_of(folder, screen)
    for file in scripts:
        yield f"</{file}>; rel=modulepreload"
    if scripts and screen not in _FOR_STRANGERS:
        answers = ["session", "declarations"]
        if screen == "bench" and rest.isdecimal() and len(rest) <= _LONGEST_NUMBER:
            answers += [f"sounds/{int(rest)}", "libraries", "sounds"]
        for answer in answers:
            yield f"</api/{answer}>; rel=preload; as=fetch; crossorigin"


def _scripts_of(folder: Path, screen: str) -> tuple[str, ...]:
    """The scripts of a screen, which a browser would else find out about one after another."""
    manifest = folder / _FILES
    if not manifest.is_file():
        return ()
    return _all_scripts(manifest, manifest.stat().st_mtime_ns).get(screen, ())


@lru_cache(maxsize=2)
def _all_scripts(manifest: Path, written: int) -> dict[str, tuple[str, ...]]:
    """By screen, of a manifest as it was written at that time."""
    entries = json.loads(manifest.read_text(encoding="utf-8"))
    found = {}
    for name, entry in entries.items():
        if entry.get("isDynamicEntry"):
            needed = [entry, *(entries[one] for one in entry.get("imports", ()))]
            found[Path(name).parent.name] = tuple(one["file"] for one in needed)
    return found
