"""Checks sound documents, and applies what the checks offer."""

from __future__ import annotations

import json
import sys
from dataclasses import replace
from pathlib import Path
from typing import Any

import click

from nest_crate.cli.documents import DOCUMENTS, RECORDINGS, OpenedSound, opened, paths_in
from nest_crate.cli.results import AS_JSON, Results, with_progress
from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.checks.remarks import Remark
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.engine import RenderSettings, render_with_trace
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.core.sound.edits import with_edits

__all__ = ["checks_command", "fix_command"]

_GRAVE = {"bad": ("bad",), "warn": ("bad", "warn"), "never": ()}
# Each fix may bring the next remark to light.
_MOST_ROUNDS = 20


def _remarks(found: OpenedSound) -> list[Remark]:
    settings = RenderSettings(recordings=found.recordings)
    rendering = render_with_trace(found.sound, None, settings)
    measures = measure(rendering.audio.samples, rendering.audio.sample_rate)
    return check_sound(found.sound, rendering, measures)


@click.command("checks")
@DOCUMENTS
@click.option(
    "--fail-on",
    type=click.Choice(list(_GRAVE)),
    default="bad",
    show_default=True,
    help="From which remarks on the command ends with 1.",
)
@RECORDINGS
@AS_JSON
def checks_command(
    documents: tuple[Path, ...], fail_on: str, recordings: Path | None, as_json: bool
) -> None:
    """Check sounds as the Bench does: level, clicks, tuning, layers that do nothing, tails.

    DOCUMENTS are sounds as JSON, archives, folders of these, or - for standard input.
    """
    results = Results(as_json=as_json)

    def one(path: Path) -> None:
        remarks = _remarks(opened(path, recordings))
        shown = [one for one in remarks if one.severity != "good"]
        lines = [f"{path}: {len(shown) or 'no'} remarks"]
        lines += [f"  {one.severity}: {one.text}" for one in shown]
        entry = {"document": str(path), "remarks": [one.as_dict() for one in remarks]}
        results.add(entry, "\n".join(lines))
        grave = [one for one in remarks if one.severity in _GRAVE[fail_on]]
        if grave:
            raise click.ClickException("; ".join(one.code for one in grave))

    for path in with_progress(paths_in(documents), "Sounds"):
        results.attempt(str(path), lambda path=path: one(path))  # type: ignore[misc]
    results.end()


@click.command("fix")
@click.argument("document", type=click.Path(exists=True, path_type=Path, allow_dash=True))
@click.option(
    "--code", "codes", multiple=True, help="A remark to fix, as checks --json names it; else all."
)
@RECORDINGS
@click.option(
    "-o",
    "--output",
    type=click.Path(dir_okay=False, path_type=Path, allow_dash=True),
    required=True,
    help="Where the fixed document goes; - for standard output.",
)
def fix_command(
    document: Path, codes: tuple[str, ...], recordings: Path | None, output: Path
) -> None:
    """Apply the first fix of each remark to a sound, and check it again until none is left."""
    results = Results(as_json=False)

    def one() -> None:
        found = opened(document, recordings)
        found = replace(found, document=dump_sound(found.sound))
        done: list[str] = []
        for _ in range(_MOST_ROUNDS):
            remark = _to_fix(_remarks(found), codes, done)
            if remark is None:
                break
            edits = [(edit.path, edit.value) for edit in remark.fixes[0].edits]
            made = with_edits(found.document, edits)
            found = replace(found, document=made, sound=load_sound(made))
            done.append(remark.code)
            click.echo(f"{remark.code}: {remark.fixes[0].label}", err=True)
        _write(output, found.document)

    results.attempt(str(document), one)
    results.end()


def _to_fix(remarks: list[Remark], codes: tuple[str, ...], done: list[str]) -> Remark | None:
    for one in remarks:
        wanted = not codes or one.code in codes
        # What a fix does not end is not tried for ever.
        if one.severity != "good" and one.fixes and wanted and done.count(one.code) < 3:
            return one
    return None


def _write(output: Path, document: dict[str, Any]) -> None:
    text = json.dumps(document, indent=1, ensure_ascii=False) + "\n"
    if str(output) == "-":
        sys.stdout.write(text)
    else:
        output.write_text(text, encoding="utf-8")
