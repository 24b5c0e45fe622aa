"""Compiles every kernel once."""

from __future__ import annotations

import click

__all__ = ["warm"]


@click.command()
@click.option("--part", default=0, hidden=True)
@click.option("--parts", default=1, hidden=True)
def warm(part: int, parts: int) -> None:
    """Compile every kernel once, so that nobody waits at the first use."""
    from nest_crate.warmup import warm_kernels

    warm_kernels(part, parts)
