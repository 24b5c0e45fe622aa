"""Renders a sound document to a file."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from nest_crate.core.engine import SAMPLE_RATES, RenderSettings, render
from nest_crate.core.errors import NestCrateError
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import load_sound_text
from nest_crate.core.units import parse_note

__all__ = ["render_command"]


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
@click.option("-o", "--output", type=click.Path(dir_okay=False, path_type=Path), required=True)
def render_command(
    document: Path,
    note: str | None,
    velocity: int | None,
    hold_s: float | None,
    hit_number: int | None,
    rate: str,
    sample_format: Any,
    output: Path,
) -> None:
    """Render a sound document to a WAV file, the same samples as a take of it."""
    try:
        sound = load_sound_text(document.read_bytes())
        wanted = {"velocity": velocity, "hold_s": hold_s, "number": hit_number}
        wanted["note"] = None if note is None else parse_note(note)
        hit = sound.hit.model_copy(update={k: v for k, v in wanted.items() if v is not None})
        audio = render(sound, hit, RenderSettings(sample_rate=int(rate)))
        output.write_bytes(
            encode_wav(audio.samples, audio.sample_rate, sample_format=sample_format)
        )
    except NestCrateError as error:
        raise click.ClickException(error.message) from error
    except (ValueError, OSError) as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{output}: {audio.length_s:.3f} s at {rate} Hz, ends by {audio.end_reason}")
