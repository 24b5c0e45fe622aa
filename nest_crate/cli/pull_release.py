"""Pulls a release of a library into a folder, as a game's build does, and verifies it.

    NEST_CRATE_TOKEN=... python tools/pull_release.py ADDRESS LIBRARY FOLDER [--number 1.0.0]
        [--format flac24] [--rate 48000] [--channels mono] [--loudness -23] [--template ...] [--sfz]

LIBRARY is the library's key or number. In another format the release is made by the server once,
and kept: every build gets the same bytes.

Needs nothing but Python. Files that are there already are not fetched again; what an earlier
release left and this one does not hold is removed; nothing else in the folder is touched.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import os
import sys
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path, PurePosixPath
from typing import Any

_KEPT = ".nest-crate-release.json"
_PATIENCE_S = 120.0
_FORMATS = ("wav16", "wav24", "wav32", "flac16", "flac24", "ogg", "aiff16", "aiff24")
_PLAN = ("file_format", "sample_rate", "channels", "loudness_lufs", "template", "sfz")


class PullError(Exception):
    """What ends a build, in a plain sentence."""


# Of an address, a token, the tag of what is there, and a body.
Fetch = Callable[..., "bytes | None"]


def fetch(
    url: str, token: str, tag: str | None = None, body: dict[str, Any] | None = None
) -> bytes | None:
    """The bytes at an address, or what it answers to a body; None where they are those of the
    tag."""
    headers = {"Authorization": f"Bearer {token}"}
    if tag:
        headers["If-None-Match"] = f'"{tag}"'
    if body is not None:
        headers["Content-Type"] = "application/json"
    data = None if body is None else json.dumps(body).encode()
    try:
        request = urllib.request.Request(url, data=data, headers=headers)
        with urllib.request.urlopen(request, timeout=_PATIENCE_S) as answer:
            return bytes(answer.read())
    except urllib.error.HTTPError as error:
        if error.code == 304:
            return None
        try:
            said = json.loads(error.read())["detail"]
        except (ValueError, KeyError):
            said = f"the server answered {error.code}"
        raise PullError(said) from error
    except OSError as error:
        raise PullError(f"{url} cannot be reached: {error}") from error


def place(folder: Path, path: str) -> Path:
    """Where a file of the release lies; never outside the folder, whatever the manifest says."""
    parts = PurePosixPath(path).parts
    if not parts or path.startswith("/") or ".." in parts or "\\" in path or ":" in path:
        raise PullError(f"the manifest names {path!r}, which is no place in the folder")
    return folder.joinpath(*parts)


def sum_of(file: Path) -> str:
    return hashlib.sha256(file.read_bytes()).hexdigest() if file.is_file() else ""


def write_whole(file: Path, data: bytes) -> None:
    """Replace the file in one step: a reader finds the old file or the new one."""
    file.parent.mkdir(parents=True, exist_ok=True)
    temporary = file.with_name(f"{file.name}.part")
    temporary.write_bytes(data)
    temporary.replace(file)


def kept_manifest(folder: Path) -> dict[str, Any]:
    """The manifest of the release that was pulled last; empty where there is none."""
    try:
        kept = json.loads((folder / _KEPT).read_text())
    except (OSError, ValueError):
        return {}
    return kept if isinstance(kept, dict) else {}


def pull(
    address: str,
    library: str,
    folder: Path,
    number: str,
    token: str,
    plan: dict[str, Any] | None = None,
    fetch: Fetch = fetch,
) -> str:
    """Bring a folder to a release, in the format of a plan where there is one; answers what was
    done. ``fetch`` is for a server that is reached in another way."""
    base = f"{address.rstrip('/')}/api/libraries/{library}/releases"
    kept = kept_manifest(folder)
    old = {row["path"]: row["sha256"] for row in kept.get("files", [])}
    whole = all(sum_of(place(folder, path)) == digest for path, digest in old.items())
    wanted_at = f"{base}/{number}"
    if plan:
        made = json.loads(fetch(f"{wanted_at}/formats", token, body=plan) or b"{}")
        wanted_at = f"{base}/{made['number']}/formats/{made['digest']}"
    sent = fetch(wanted_at, token, kept.get("digest") if whole else None)
    if sent is None:
        return f"{kept['number']}: nothing new"
    manifest = json.loads(sent)
    wanted = {row["path"]: row["sha256"] for row in manifest["files"]}
    fetched = 0
    for path, digest in wanted.items():
        file = place(folder, path)
        if sum_of(file) == digest:
            continue
        data = fetch(f"{base}/{manifest['number']}/files/{digest}", token) or b""
        if hashlib.sha256(data).hexdigest() != digest:
            raise PullError(f"{path} did not arrive as it was released")
        write_whole(file, data)
        fetched += 1
    gone = [place(folder, path) for path in old if path not in wanted]
    for file in gone:
        file.unlink(missing_ok=True)
    write_whole(folder / _KEPT, json.dumps(manifest).encode())
    removed = f", {len(gone)} removed" if gone else ""
    return f"{manifest['number']}: {len(wanted)} files, {fetched} fetched{removed}"


def main() -> int:
    parser = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    parser.add_argument("address", help="as http://127.0.0.1:8460")
    parser.add_argument("library", help="the library's key or number")
    parser.add_argument("folder", type=Path)
    parser.add_argument("--number", default="latest", help="as 1.0.0; the highest where left out")
    parser.add_argument("--format", dest="file_format", choices=_FORMATS)
    parser.add_argument("--rate", dest="sample_rate", type=int, help="samples a second")
    parser.add_argument("--channels", choices=("as_is", "mono", "stereo"))
    parser.add_argument("--loudness", dest="loudness_lufs", type=float, help="LUFS of every file")
    parser.add_argument("--template", help="folders and names, as {category}/{name}")
    parser.add_argument("--sfz", action="store_true", default=None, help="with instruments")
    given = parser.parse_args()
    plan = {name: value for name in _PLAN if (value := getattr(given, name)) is not None}
    if plan:
        # What is not asked for stays as it was released.
        plan = {"file_format": "wav24", "sample_rate": 0} | plan
    token = os.environ.get("NEST_CRATE_TOKEN", "")
    try:
        print(pull(given.address, given.library, given.folder, given.number, token, plan))
    except PullError as error:
        print(f"Nothing was released into the build: {error}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
