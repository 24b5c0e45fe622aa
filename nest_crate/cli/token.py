"""Tokens for programs."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.cli.connection import connected, with_connection
from nest_crate.cli.found import library_number
from nest_crate.cli.results import AS_JSON, Results

__all__ = ["token_command"]


@click.group("token")
def token_command() -> None:
    """Tokens for programs, such as a game's build: make, list, remove."""


@token_command.command("make")
@click.argument("name")
@click.option("--library", help="The one library that it opens; default: all.")
@click.option("--scope", type=click.Choice(("read", "write")), default="read", show_default=True)
@click.option("--days", type=int, default=90, show_default=True, help="How long it lasts.")
@with_connection
@AS_JSON
def make(
    name: str,
    library: str | None,
    scope: str,
    days: int,
    server: str | None,
    data: Path,
    handle: str | None,
    as_json: bool,
) -> None:
    """Make a token and print it; it is shown only now."""
    results = Results(as_json=as_json)
    with connected(server, data, handle) as connection:
        only = None if library is None else library_number(connection, library)
        body = {"name": name, "scope": scope, "days": days, "library_id": only}
        made = connection.json("POST", "/api/session/tokens", json=body)
    results.add(made, made["secret"])
    results.end()


@token_command.command("list")
@with_connection
@AS_JSON
def list_tokens(server: str | None, data: Path, handle: str | None, as_json: bool) -> None:
    """List the account's tokens."""
    results = Results(as_json=as_json)
    with connected(server, data, handle) as connection:
        own = "command" if server is None else None
        for one in connection.json("GET", "/api/session/tokens")["tokens"]:
            # The one that this command works with ends with it.
            if one["name"] == own:
                continue
            opens = "all" if one["library_id"] is None else f"library {one['library_id']}"
            line = f"{one['id']:>5}  {one['name']:<30}  {one['scope']:<6}  {opens:<12}"
            results.add(one, f"{line}  until {one['expires'][:10]}")
    results.end()


@token_command.command("remove")
@click.argument("token", type=int)
@with_connection
@AS_JSON
def remove(token: int, server: str | None, data: Path, handle: str | None, as_json: bool) -> None:
    """Remove a token by its number; what uses it is shut out at once."""
    results = Results(as_json=as_json)
    with connected(server, data, handle) as connection:
        connection.json("DELETE", f"/api/session/tokens/{token}")
    results.add({"removed": token}, f"Token {token} opens nothing any more")
    results.end()
