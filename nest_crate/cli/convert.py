"""Writes audio files in another format."""

from __future__ import annotations

from pathlib import Path
from typing import cast

import click

from nest_crate.cli.audio_files import AUDIO_FILES, decoded, files_in
from nest_crate.cli.results import AS_JSON, Results, with_progress
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.engine import SAMPLE_RATES
from nest_crate.core.formats.file_formats import FILE_FORMATS, FileFormat, audio_file, ending_of
from nest_crate.core.formats.tagged import Mark, SoundFacts
from nest_crate.storage.decoder import DecodedFile

__all__ = ["convert_command"]

_LENGTH_OF_DAY = len("2026-11-27")


@click.command("convert")
@AUDIO_FILES
@click.option(
    "--format", "file_format", type=click.Choice(FILE_FORMATS), default="wav24", show_default=True
)
@click.option(
    "--rate",
    type=click.Choice([str(r) for r in SAMPLE_RATES]),
    help="Samples a second; default: the file's own.",
)
@click.option("--dither/--no-dither", default=True, help="Triangular dither, at 16 bit.")
@AS_JSON
@click.option(
    "-o",
    "--output",
    type=click.Path(file_okay=False, path_type=Path),
    required=True,
    help="A folder.",
)
def convert_command(
    files: tuple[Path, ...],
    file_format: str,
    rate: str | None,
    dither: bool,
    as_json: bool,
    output: Path,
) -> None:
    """Convert audio files, with the words, loops and root notes that they hold.

    FILES are WAV, AIFF, FLAC, Ogg or MP3, or folders of these; what lies in a folder keeps its
    place below it.
    """
    kind = cast(FileFormat, file_format)
    results = Results(as_json=as_json)
    taken: set[Path] = set()

    def one(path: Path) -> None:
        made, samples = decoded(path)
        to = int(rate) if rate else made.sample_rate
        signal = resample(samples, made.sample_rate, to)
        data = audio_file(signal, to, kind, _facts(path, made), dither=dither)
        place = output / _below(path, files).with_suffix(f".{ending_of(kind)}")
        if place in taken:
            raise click.ClickException(f"another file goes to {place} already")
        if place.exists() and place.samefile(path):
            raise click.ClickException("the file would be written over itself")
        taken.add(place)
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(data)
        entry = {"file": str(path), "made": str(place), "sample_rate": to}
        results.add(entry, f"{path} -> {place}")

    for path in with_progress(files_in(files), "Files"):
        results.attempt(str(path), lambda path=path: one(path))  # type: ignore[misc]
    results.end()


def _below(path: Path, given: tuple[Path, ...]) -> Path:
    """Where a file lies within the folder that was given."""
    for one in given:
        if one.is_dir() and path.is_relative_to(one):
            return path.relative_to(one)
    return Path(path.name)


def _facts(path: Path, made: DecodedFile) -> SoundFacts:
    return SoundFacts(
        title=made.title or path.stem,
        description=made.comment,
        author=made.author,
        licence=made.licence,
        category=made.genre,
        tags=made.tags,
        root_note=made.root_note,
        root_cent=made.root_cent,
        tempo_bpm=made.tempo_bpm,
        loop_start_s=made.loop_start_s,
        loop_end_s=made.loop_end_s,
        variation_group=made.variation_group,
        variation=made.variation,
        follows_key=made.follows_key,
        key=made.key,
        date=made.date if len(made.date) == _LENGTH_OF_DAY else "",
        source_reference=made.reference,
        marks=tuple(Mark(at_s, label) for at_s, label in made.marks),
        ixml=made.ixml,
    )
