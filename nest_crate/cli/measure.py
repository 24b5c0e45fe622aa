"""Measures samples again."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.catalogue.db.database import migrate
from nest_crate.catalogue.samples.measurement import measure_again
from nest_crate.cli.data_folder import DATA, opened_data

__all__ = ["measure_command"]


@click.command("measure")
@DATA
@click.option("--all", "everything", is_flag=True, help="Also samples measured by this version.")
def measure_command(data: Path, everything: bool) -> None:
    """Measure samples again whose figures an earlier version measured."""
    with opened_data(data) as (database, store):
        migrate(database.engine)
        count, problems = measure_again(database, store, everything=everything)
    for problem in problems:
        click.echo(problem)
    click.echo(f"{count} samples measured")
    if problems:
        raise click.ClickException(f"{len(problems)} could not be read")
