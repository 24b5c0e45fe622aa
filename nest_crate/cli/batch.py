"""Runs a batch plan into a folder."""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import click

from nest_crate.cli.documents import recordings_for
from nest_crate.core.engine import ENGINE_VERSION, cpu_family
from nest_crate.core.errors import DocumentError, FieldProblem, NestCrateError
from nest_crate.core.families import Family, load_batch, member_name
from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.jobs.plan_runs import MadeFile, made_files, opened_workers, pieces_of

__all__ = ["batch_command"]


@click.command("batch")
@click.argument("plan", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("-o", "--output", type=click.Path(file_okay=False, path_type=Path), required=True)
@click.option("--scheduler", help="Address of a Dask scheduler; default: processes here.")
@click.option("--workers", type=click.IntRange(1, 512), help="Processes here; default: processors.")
@click.option(
    "--recordings",
    type=click.Path(exists=True, file_okay=False, path_type=Path),
    help="A folder with the recordings that the sounds use, under any names.",
)
def batch_command(
    plan: Path,
    output: Path,
    scheduler: str | None,
    workers: int | None,
    recordings: Path | None,
) -> None:
    """Run a batch plan into a folder: a WAV file a member, and manifest.json.

    PLAN is a plan with its sounds in it, as the program exports it. No server or database is
    needed. Members that are there already stay, so that a run can be gone on with.
    """
    try:
        data = json.loads(plan.read_bytes())
        family = _family(data)
        used = {one for sound in data["sounds"] for one in recordings_in(sound["document"])}
        heard = recordings_for(used, {}, recordings)
        output.mkdir(parents=True, exist_ok=True)
        rows = _run(family, data, heard, output, scheduler, workers or os.cpu_count() or 1)
        _write_manifest(family, rows, output)
    except NestCrateError as error:
        raise click.ClickException(error.message) from error
    except (ValueError, OSError) as error:
        raise click.ClickException(str(error)) from error
    failed = [one for one in rows.values() if one["error"]]
    click.echo(f"{len(rows) - len(failed)} members in {output}")
    for one in failed[:10]:
        click.echo(f"  {one['number']}: {one['error']}", err=True)
    if failed:
        raise click.exceptions.Exit(1)


def _family(data: object) -> Family:
    plan = load_batch(data)
    sounds: dict[str, Sound] = {}
    for index, one in enumerate(plan.sounds):
        if one.document is None:
            words = "the sound is not in the plan; export the plan from the program"
            raise DocumentError([FieldProblem(f"sounds.{index}.document", words, "missing")])
        sounds[one.id] = load_sound(one.document)
    return Family(plan, sounds)


def _run(
    family: Family,
    data: dict[str, Any],
    recordings: Mapping[str, Any],
    output: Path,
    scheduler: str | None,
    workers: int,
) -> dict[int, dict[str, Any]]:
    """Members by number as the manifest lists them, each written as it is made."""
    names = _names(family)
    digest = hashlib.sha256(json.dumps(data, sort_keys=True).encode()).hexdigest()
    rows = _there(output, digest)
    wanted = [
        [number for number in piece if number not in rows] for piece in pieces_of(family.count)
    ]
    pieces = [piece for piece in wanted if piece]
    if not pieces:
        return rows
    with (
        opened_workers(scheduler, workers) as client,
        click.progressbar(length=family.count, label="Members", show_pos=True) as bar,
    ):
        bar.update(len(rows))
        for files in made_files(client, data, recordings, pieces):
            for file in files:
                rows[file.number] = _written(output, names[file.number], file)
            _keep_rows(output, digest, rows)
            bar.update(len(files))
    return rows


def _names(family: Family) -> dict[int, str]:
    """File names by number; what would be the same gets the number behind it."""
    found: dict[int, str] = {}
    taken: set[str] = set()
    for member in family.members():
        sound = family.sounds[member.sound].name
        name = member_name(
            family.plan.members.name,
            member,
            sound=sound,
            family=family.plan.name,
            number=member.number,
        )
        name = "".join(one if one.isalnum() or one in " ._-#" else "_" for one in name)
        if name.lower() in taken:
            name = f"{name} {member.number}"
        taken.add(name.lower())
        found[member.number] = f"{name}.wav"
    return found


def _written(output: Path, name: str, file: MadeFile) -> dict[str, Any]:
    row = {"number": file.number, "file": name, "error": file.words, "flags": list(file.flags)}
    if file.words:
        return {**row, "file": ""}
    # Under another name first, so that a file that is there is whole.
    part = output / f".{name}.part"
    part.write_bytes(file.data)
    part.rename(output / name)
    return {**row, "sha256": file.digest, "figures": file.figures}


_PROGRESS = ".members.json"


def _there(output: Path, digest: str) -> dict[int, dict[str, Any]]:
    """What an earlier run of the same plan left."""
    kept = output / _PROGRESS
    if not kept.exists():
        return {}
    found = json.loads(kept.read_text())
    rows = found["members"] if found["plan"] == digest else []
    return {row["number"]: row for row in rows if row["file"] and (output / row["file"]).exists()}


def _keep_rows(output: Path, digest: str, rows: Mapping[int, dict[str, Any]]) -> None:
    part = output / f"{_PROGRESS}.part"
    part.write_text(json.dumps({"plan": digest, "members": list(rows.values())}))
    part.rename(output / _PROGRESS)


def _write_manifest(family: Family, rows: Mapping[int, dict[str, Any]], output: Path) -> None:
    listed = []
    for member in family.members(sorted(rows)):
        facts = {
            "sound": family.sounds[member.sound].name,
            "axes": member.axes,
            "values": member.values,
            "hit": member.hit.model_dump(mode="json"),
            "sample_rate": member.sample_rate,
        }
        listed.append({**rows[member.number], **facts})
    manifest = {
        "family": family.plan.name,
        "seed": family.plan.seed,
        "engine_version": ENGINE_VERSION,
        "cpu_family": cpu_family(),
        "members": listed,
    }
    text = json.dumps(manifest, indent=1, ensure_ascii=False)
    (output / "manifest.json").write_text(text + "\n")
    (output / _PROGRESS).unlink(missing_ok=True)
