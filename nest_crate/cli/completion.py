"""Prints what shells need to complete commands."""

from __future__ import annotations

import click
from click.shell_completion import get_completion_class

__all__ = ["completion_command"]


@click.command("completion")
@click.argument("shell", type=click.Choice(["bash", "zsh", "fish"]))
def completion_command(shell: str) -> None:
    """Print what a shell needs to complete commands and options.

    For instance, in ~/.bashrc: eval "$(nest-crate completion bash)"
    """
    made = get_completion_class(shell)
    if made is None:
        raise click.ClickException(f"{shell} is not known")
    root = click.get_current_context().find_root().command
    click.echo(made(root, {}, "nest-crate", "_NEST_CRATE_COMPLETE").source())
