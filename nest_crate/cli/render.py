"""Renders sound documents to files."""

from __future__ import annotations

import hashlib
import itertools
import re
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import cast

import click

from nest_crate.cli.documents import DOCUMENTS, RECORDINGS, OpenedSound, opened, paths_in
from nest_crate.cli.hit_ranges import NOTES, NUMBERS
from nest_crate.cli.results import AS_JSON, Results, with_progress
from nest_crate.core.engine import SAMPLE_RATES, Audio, RenderSettings, render
from nest_crate.core.formats.file_formats import FILE_FORMATS, FileFormat, audio_file, ending_of
from nest_crate.core.formats.tagged import SoundFacts
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.units import note_name

__all__ = ["render_command"]

BEATS_A_BAR = 4
_OLD_FORMATS: dict[str, FileFormat] = {"pcm16": "wav16", "pcm24": "wav24", "float32": "wav32"}
_PLAIN_WAV = {made: old for old, made in _OLD_FORMATS.items()}
_STREAM = Path("-")


@dataclass(frozen=True)
class _Wanted:
    notes: tuple[int, ...]
    velocities: tuple[int, ...]
    numbers: tuple[int, ...]
    hold_s: float | None
    loop_bars: int | None
    rate: int
    file_format: FileFormat
    output: Path

    def hits_of(self, sound: Sound) -> list[Hit]:
        """One for each note, velocity and number; the sound's own where none is given."""
        own = sound.hit
        change: dict[str, object] = {}
        if self.hold_s is not None:
            change["hold_s"] = self.hold_s
        if self.loop_bars is not None:
            change["loop_s"] = self.loop_bars * BEATS_A_BAR * 60.0 / sound.tempo_bpm
        wanted = itertools.product(
            self.notes or (own.note,),
            self.velocities or (own.velocity,),
            self.numbers or (own.number,),
        )
        return [
            own.model_copy(update={**change, "note": note, "velocity": velocity, "number": number})
            for note, velocity, number in wanted
        ]


@click.command("render")
@DOCUMENTS
@click.option("--note", "notes", type=NOTES, default=(), help="Such as G1, C1,E1 or C1..C3/12.")
@click.option("--velocity", "velocities", type=NUMBERS(1, 127), default=(), help="1 to 127.")
@click.option("--hold", "hold_s", type=click.FloatRange(0.0, 60.0), help="Seconds.")
@click.option(
    "--hit-number",
    "numbers",
    type=NUMBERS(1, 100_000),
    default=(),
    help="What chance draws by; 1..8 are eight hits in a row.",
)
@click.option("--rate", type=click.Choice([str(r) for r in SAMPLE_RATES]), default="48000")
@click.option(
    "--format",
    "file_format",
    type=click.Choice([*FILE_FORMATS, *_OLD_FORMATS]),
    default="wav24",
    show_default=True,
)
@click.option(
    "--loop-bars",
    type=click.IntRange(1, 64),
    help="So many bars of a held sound as a loop that closes, with its loop points in the file.",
)
@RECORDINGS
@AS_JSON
@click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path, allow_dash=True),
    required=True,
    help="A file; a folder where several are rendered; - for standard output.",
)
def render_command(
    documents: tuple[Path, ...],
    notes: tuple[int, ...],
    velocities: tuple[int, ...],
    hold_s: float | None,
    numbers: tuple[int, ...],
    rate: str,
    file_format: str,
    loop_bars: int | None,
    recordings: Path | None,
    as_json: bool,
    output: Path,
) -> None:
    """Render sound documents to audio files, the same samples as takes of them.

    DOCUMENTS are sounds as JSON, archives in which the program exports a sound with its recordings,
    folders of these, or - for standard input.
    """
    kind = _OLD_FORMATS.get(file_format) or cast(FileFormat, file_format)
    wanted = _Wanted(notes, velocities, numbers, hold_s, loop_bars, int(rate), kind, output)
    results = Results(as_json=as_json)
    paths = paths_in(documents)
    many = len(paths) > 1 or any(len(one) > 1 for one in (notes, velocities, numbers))
    if many and output == _STREAM:
        raise click.UsageError("only one hit of one sound goes to standard output")
    if many and output.suffix and not output.is_dir():
        raise click.UsageError(f"several files go into a folder; {output} is named like a file")
    if output == _STREAM and as_json:
        raise click.UsageError("standard output holds the audio; leave --json out")
    taken: set[str] = set()

    def one(path: Path) -> None:
        found = opened(path, recordings)
        settings = RenderSettings(sample_rate=wanted.rate, recordings=found.recordings)
        for hit, place in _places(wanted, found, taken, many=many or output.is_dir()):
            audio = render(found.sound, hit, settings)
            data = _file(wanted, found.sound, hit, audio)
            _write(place, data)
            if place != _STREAM:
                entry = _entry(path, place, hit, audio, data)
                ends = f"{audio.length_s:.3f} s at {rate} Hz, ends by {audio.end_reason}"
                results.add(entry, f"{place}: {ends}")

    for path in with_progress(paths, "Sounds"):
        results.attempt(str(path), lambda path=path: one(path))  # type: ignore[misc]
    results.end()


def _places(
    wanted: _Wanted, found: OpenedSound, taken: set[str], *, many: bool
) -> Iterator[tuple[Hit, Path]]:
    """Each hit with the file it goes to, named by the sound and what is varied."""
    hits = wanted.hits_of(found.sound)
    if not many:
        yield hits[0], wanted.output
        return
    for hit in hits:
        name = re.sub(r"[^\w #().-]+", "_", found.sound.name).strip(" .") or "sound"
        name += f" {note_name(hit.note)}" if len(wanted.notes) > 1 else ""
        name += f" v{hit.velocity}" if len(wanted.velocities) > 1 else ""
        name += f" {hit.number:02d}" if len(wanted.numbers) > 1 else ""
        plain, turn = name, 1
        while name.lower() in taken:
            turn += 1
            name = f"{plain} ({turn})"
        taken.add(name.lower())
        yield hit, wanted.output / f"{name}.{ending_of(wanted.file_format)}"


def _file(wanted: _Wanted, sound: Sound, hit: Hit, audio: Audio) -> bytes:
    samples, rate = audio.samples, audio.sample_rate
    if hit.loop_s <= 0.0 and wanted.file_format in _PLAIN_WAV:
        # Nothing but the samples, as takes are kept.
        plain = cast("object", _PLAIN_WAV[wanted.file_format])
        return encode_wav(samples, rate, sample_format=plain)  # type: ignore[arg-type]
    facts = SoundFacts(title=sound.name, root_note=hit.note, tempo_bpm=sound.tempo_bpm)
    if hit.loop_s > 0.0:
        # From its first frame to its last.
        facts = SoundFacts(
            **{**vars(facts), "loop_start_s": 0.0, "loop_end_s": audio.length_s},
        )
    return audio_file(samples, rate, wanted.file_format, facts, dither=True)


def _write(place: Path, data: bytes) -> None:
    if place == _STREAM:
        sys.stdout.buffer.write(data)
        return
    place.parent.mkdir(parents=True, exist_ok=True)
    place.write_bytes(data)


def _entry(path: Path, place: Path, hit: Hit, audio: Audio, data: bytes) -> dict[str, object]:
    return {
        "document": str(path),
        "file": str(place),
        "note": note_name(hit.note),
        "velocity": hit.velocity,
        "hold_s": hit.hold_s,
        "number": hit.number,
        "sample_rate": audio.sample_rate,
        "channels": int(audio.samples.shape[0]),
        "length_s": audio.length_s,
        "ends_by": audio.end_reason,
        "sha256": hashlib.sha256(data).hexdigest(),
    }
