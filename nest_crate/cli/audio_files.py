"""Audio files that commands are given: single ones and folders."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import click

from nest_crate.cli.given_paths import files_below
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage.decoder import DecodedFile, decode_file

__all__ = ["AUDIO_FILES", "decoded", "files_in"]

_KINDS = (".wav", ".wave", ".aif", ".aiff", ".flac", ".ogg", ".mp3")

AUDIO_FILES = click.argument(
    "files", nargs=-1, required=True, type=click.Path(exists=True, path_type=Path)
)


def files_in(given: Sequence[Path]) -> list[Path]:
    """The audio files in files and folders, each once."""
    return files_below(given, _KINDS, "audio files")


def decoded(path: Path) -> tuple[DecodedFile, Signal]:
    """A file as it is decoded for imports, and its samples.

    Raises
    ------
    FormatError
        where it cannot be read.
    """
    made = decode_file(path)
    return made, decode_wav(made.data)[0]
