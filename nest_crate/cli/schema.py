"""Prints what documents are, for other programs."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import click

from nest_crate.core.families.kinds import batch_schema
from nest_crate.core.sound.kinds import declarations
from nest_crate.core.sound.schema import sound_schema
from nest_crate.core.tryout.kinds import tryout_schema

__all__ = ["schema_command"]

_SCHEMAS: dict[str, Callable[[], dict[str, Any]]] = {
    "sound": sound_schema,
    "tryout": tryout_schema,
    "batch": batch_schema,
    "declarations": declarations,
}


@click.command("schema")
@click.argument("kind", type=click.Choice(list(_SCHEMAS)), default="sound")
def schema_command(kind: str) -> None:
    """Print the JSON Schema of a kind of document, or what every number of a sound is."""
    click.echo(json.dumps(_SCHEMAS[kind](), indent=1, ensure_ascii=False))
