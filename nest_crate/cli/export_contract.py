"""Writes what other programs rely on."""

from __future__ import annotations

import json
from pathlib import Path

import click

from nest_crate.core.families.kinds import batch_declarations, batch_schema
from nest_crate.core.sound.kinds import declarations
from nest_crate.core.sound.schema import sound_schema
from nest_crate.core.tryout.kinds import tryout_declarations, tryout_schema
from nest_crate.settings import Settings
from nest_crate.web import create_app

__all__ = ["export_contract"]


@click.command("export-contract")
@click.option("--folder", type=click.Path(file_okay=False, path_type=Path), default=Path("docs"))
def export_contract(folder: Path) -> None:
    """Write the OpenAPI document, the JSON Schemas and the declarations."""
    folder.mkdir(parents=True, exist_ok=True)
    app = create_app(Settings())
    for name, content in (
        ("openapi.json", app.api_doc),
        ("sound.schema.json", sound_schema()),
        ("tryout.schema.json", tryout_schema()),
        ("batch.schema.json", batch_schema()),
        (
            "declarations.json",
            {**declarations(), "tryouts": tryout_declarations(), "batches": batch_declarations()},
        ),
    ):
        text = json.dumps(content, indent=2, ensure_ascii=False, sort_keys=False)
        (folder / name).write_text(text + "\n")
