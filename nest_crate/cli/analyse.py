"""Measures audio files."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.cli.audio_files import AUDIO_FILES, decoded, files_in
from nest_crate.cli.results import AS_JSON, Results, with_progress
from nest_crate.core.analysis.measures.figures import Measures, measure

__all__ = ["analyse_command"]


@click.command("analyse")
@AUDIO_FILES
@AS_JSON
def analyse_command(files: tuple[Path, ...], as_json: bool) -> None:
    """Measure audio files: length, peaks, loudness, pitch, stereo.

    FILES are WAV, AIFF, FLAC, Ogg or MP3, or folders of these.
    """
    results = Results(as_json=as_json)

    def one(path: Path) -> None:
        made, samples = decoded(path)
        found = measure(samples, made.sample_rate)
        entry = {"file": str(path), "sample_rate": made.sample_rate, **found.as_dict()}
        results.add(entry, f"{path}: {_line(found)}")

    for path in with_progress(files_in(files), "Files"):
        results.attempt(str(path), lambda path=path: one(path))  # type: ignore[misc]
    results.end()


def _line(found: Measures) -> str:
    channels = "mono" if found.channels == 1 else "stereo"
    pitch = "no pitch"
    if found.fundamental_hz is not None:
        pitch = f"{found.note} {found.cents:+.0f} ct ({found.fundamental_hz:.1f} Hz)"
    return (
        f"{found.length_s:.3f} s, {channels}, {found.loudness_lufs:.1f} LUFS, "
        f"true peak {found.true_peak_db:.1f} dB, {pitch}"
    )
