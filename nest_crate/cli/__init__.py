"""The command line: one file a command."""

from __future__ import annotations

import click

from nest_crate import __version__
from nest_crate.cli.lazy_group import LazyGroup
from nest_crate.core.allocation import keep_freed_memory

__all__ = ["main"]


class _Commands(LazyGroup):
    places = {  # noqa: RUF012 - read alone
        "analyse": "analyse:analyse_command",
        "backup": "backup:backup",
        "batch": "batch:batch_command",
        "checks": "checks:checks_command",
        "completion": "completion:completion_command",
        "convert": "convert:convert_command",
        "doctor": "doctor:doctor",
        "export": "export:export_command",
        "export-contract": "export_contract:export_contract",
        "fix": "checks:fix_command",
        "import": "import_files:import_command",
        "measure": "measure:measure_command",
        "pull": "pull:pull_command",
        "release": "release:release_command",
        "render": "render:render_command",
        "restore": "restore:restore_command",
        "schema": "schema:schema_command",
        "search": "search:search_command",
        "serve": "serve:serve_command",
        "start": "start:start",
        "token": "token:token_command",
        "user": "user:user_command",
        "warm": "warm:warm",
    }


@click.group(cls=_Commands)
@click.version_option(__version__, prog_name="Nest Crate")
def main() -> None:
    """Nest Crate: synthesize one-shot sounds and keep them as sample libraries."""
    keep_freed_memory()
