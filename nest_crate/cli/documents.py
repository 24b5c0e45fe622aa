"""Sound documents that commands are given: files, folders, archives, ``-`` for standard input."""

from __future__ import annotations

import hashlib
import json
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import click

from nest_crate.catalogue.sounds.files import opened_sound_file
from nest_crate.cli.given_paths import files_below
from nest_crate.core.engine import Audio
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import Sound, load_sound_text
from nest_crate.core.sound.recordings import recordings_in

__all__ = ["DOCUMENTS", "RECORDINGS", "OpenedSound", "opened", "paths_in", "recordings_for"]

_KINDS = (".json", ".zip")

DOCUMENTS = click.argument(
    "documents",
    nargs=-1,
    required=True,
    type=click.Path(exists=True, path_type=Path, allow_dash=True),
)
RECORDINGS = click.option(
    "--recordings",
    type=click.Path(exists=True, file_okay=False, path_type=Path),
    help="A folder with the recordings that the sounds use, under any names.",
)


@dataclass(frozen=True)
class OpenedSound:
    """A document as it stands in its file, what it means, and the recordings it uses."""

    document: dict[str, Any]
    sound: Sound
    recordings: dict[str, Audio]


def paths_in(documents: Sequence[Path]) -> list[Path]:
    """The documents in files and folders, each once, in order of their names within a folder."""
    return files_below(documents, _KINDS, "sound documents (.json or .zip)")


def opened(path: Path, recordings: Path | None) -> OpenedSound:
    """A document with its recordings, from its archive or from a folder.

    Raises
    ------
    NestCrateError, OSError
        saying what is wrong with it.
    click.ClickException
        naming recordings that are missing.
    """
    if str(path) == "-":
        return _understood(sys.stdin.read(), {}, recordings)
    with opened_sound_file(path) as (text, inside):
        return _understood(text, inside, recordings)


def _understood(text: str | bytes, inside: dict[str, Path], folder: Path | None) -> OpenedSound:
    sound = load_sound_text(text)
    document = json.loads(text)
    return OpenedSound(document, sound, recordings_for(recordings_in(document), inside, folder))


def recordings_for(
    wanted: set[str], inside: dict[str, Path], folder: Path | None
) -> dict[str, Audio]:
    """The recordings that a sound uses, by their digests, from its archive and from a folder.

    Raises
    ------
    click.ClickException
        naming what is missing.
    """
    found = dict(inside)
    for path in sorted(folder.rglob("*")) if folder is not None and wanted - found.keys() else ():
        if path.is_file():
            with path.open("rb") as content:
                found.setdefault(hashlib.file_digest(content, "sha256").hexdigest(), path)
    missing = sorted(wanted - found.keys())
    if missing:
        where = "give their folder with --recordings" if folder is None else f"not in {folder}"
        raise click.ClickException(
            f"{len(missing)} recordings of the sound are missing ({missing[0][:12]}...): {where}"
        )
    return {digest: Audio(*decode_wav(found[digest].read_bytes())) for digest in wanted}
