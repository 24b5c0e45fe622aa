"""Renders a sound document to a file."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

import click

from nest_crate.catalogue.sounds.files import opened_sound_file
from nest_crate.core.engine import SAMPLE_RATES, Audio, RenderSettings, render
from nest_crate.core.errors import NestCrateError
from nest_crate.core.formats.broadcast_wav import broadcast_wav
from nest_crate.core.formats.tagged import SoundFacts
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.sound import Hit, Sound, load_sound_text
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.core.units import parse_note

__all__ = ["recordings_for", "render_command"]

BEATS_A_BAR = 4


@click.command("render")
@click.argument("document", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--note", help="A note name such as G1; default: the sound's own note.")
@click.option("--velocity", type=click.IntRange(1, 127))
@click.option("--hold", "hold_s", type=click.FloatRange(0.0, 60.0), help="Seconds.")
@click.option("--hit-number", type=click.IntRange(1))
@click.option("--rate", type=click.Choice([str(r) for r in SAMPLE_RATES]), default="48000")
@click.option(
    "--format", "sample_format", type=click.Choice(["pcm16", "pcm24", "float32"]), default="pcm24"
)
@click.option(
    "--loop-bars",
    type=click.IntRange(1, 64),
    help="So many bars of a held sound as a loop that closes, with its loop points in the file.",
)
@click.option(
    "--recordings",
    type=click.Path(exists=True, file_okay=False, path_type=Path),
    help="A folder with the recordings that the sound uses, under any names.",
)
@click.option("-o", "--output", type=click.Path(dir_okay=False, path_type=Path), required=True)
def render_command(
    document: Path,
    note: str | None,
    velocity: int | None,
    hold_s: float | None,
    hit_number: int | None,
    rate: str,
    sample_format: Any,
    loop_bars: int | None,
    recordings: Path | None,
    output: Path,
) -> None:
    """Render a sound document to a WAV file, the same samples as a take of it.

    DOCUMENT is a sound as JSON, or the archive in which the program exports a sound with its
    recordings.
    """
    try:
        with opened_sound_file(document) as (text, inside):
            sound = load_sound_text(text)
            used = recordings_for(recordings_in(json.loads(text)), inside, recordings)
        wanted = {"velocity": velocity, "hold_s": hold_s, "number": hit_number}
        wanted["note"] = None if note is None else parse_note(note)
        wanted["loop_s"] = loop_bars and loop_bars * BEATS_A_BAR * 60.0 / sound.tempo_bpm
        hit = sound.hit.model_copy(update={k: v for k, v in wanted.items() if v is not None})
        settings = RenderSettings(sample_rate=int(rate), recordings=used)
        audio = render(sound, hit, settings)
        if hit.loop_s > 0.0:
            data = _loop_file(sound, hit, audio, sample_format)
        else:
            data = encode_wav(audio.samples, audio.sample_rate, sample_format=sample_format)
        output.write_bytes(data)
    except NestCrateError as error:
        raise click.ClickException(error.message) from error
    except (ValueError, OSError) as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{output}: {audio.length_s:.3f} s at {rate} Hz, ends by {audio.end_reason}")


def _loop_file(sound: Sound, hit: Hit, audio: Audio, numbers: Any) -> bytes:
    """A WAV file that says where it loops: from its first frame to its last."""
    facts = SoundFacts(
        title=sound.name,
        root_note=hit.note,
        tempo_bpm=sound.tempo_bpm,
        loop_start_s=0.0,
        loop_end_s=audio.length_s,
    )
    return broadcast_wav(audio.samples, audio.sample_rate, numbers=numbers, facts=facts)


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
