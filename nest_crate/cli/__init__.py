"""The command line: one file a command."""

from __future__ import annotations

import click

from nest_crate import __version__
from nest_crate.cli.backup import backup
from nest_crate.cli.batch import batch_command
from nest_crate.cli.doctor import doctor
from nest_crate.cli.export_contract import export_contract
from nest_crate.cli.measure import measure_command
from nest_crate.cli.render import render_command
from nest_crate.cli.restore import restore_command
from nest_crate.cli.start import start
from nest_crate.cli.warm import warm
from nest_crate.core.allocation import keep_freed_memory

__all__ = ["main"]


@click.group()
@click.version_option(__version__, prog_name="Nest Crate")
def main() -> None:
    """Nest Crate: synthesize one-shot sounds and keep them as sample libraries."""
    keep_freed_memory()


for _command in (
    render_command,
    batch_command,
    warm,
    export_contract,
    start,
    backup,
    restore_command,
    doctor,
    measure_command,
):
    main.add_command(_command)
