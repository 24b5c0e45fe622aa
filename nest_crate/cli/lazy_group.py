"""A group whose commands are imported when they are run: a server's parts take seconds."""

from __future__ import annotations

from importlib import import_module

import click

__all__ = ["LazyGroup"]


class LazyGroup(click.Group):
    """Commands by name as ``module:attribute`` within this folder.

    The way is that of click's documentation ("Lazily Loading Subcommands").
    """

    places: dict[str, str]

    def list_commands(self, ctx: click.Context) -> list[str]:
        """All commands, by name."""
        return sorted([*super().list_commands(ctx), *self.places])

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """One command; None where there is none of that name."""
        place = self.places.get(cmd_name)
        if place is None:
            return super().get_command(ctx, cmd_name)
        module, _, attribute = place.partition(":")
        command: click.Command = getattr(import_module(f"nest_crate.cli.{module}"), attribute)
        return command
