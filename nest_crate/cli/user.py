"""Accounts from the command line: for operators, and where nobody can sign in."""

from __future__ import annotations

import json
import secrets
import sys
from pathlib import Path

import click
from sqlalchemy import select

from nest_crate.catalogue.db.models import Account
from nest_crate.catalogue.people.accounts import (
    account_by_handle,
    create_account,
    renew_password,
)
from nest_crate.catalogue.people.libraries import create_library
from nest_crate.cli.data_folder import DATA, opened_data
from nest_crate.cli.results import AS_JSON
from nest_crate.core.errors import NestCrateError

__all__ = ["user_command"]

_PASSWORD = click.option(
    "--password-stdin",
    is_flag=True,
    help="Read the password from standard input; else it is made.",
)


@click.group("user")
def user_command() -> None:
    """Accounts: list, add, a new password, administrators."""


@user_command.command("list")
@DATA
@AS_JSON
def list_users(data: Path, as_json: bool) -> None:
    """List all accounts."""
    with opened_data(data) as (database, _), database.session() as session:
        rows = session.scalars(select(Account).order_by(Account.handle)).all()
        found = [
            {
                "handle": row.handle,
                "name": row.name,
                "administrator": row.administrator,
                "closed": row.disabled,
            }
            for row in rows
        ]
    if as_json:
        click.echo(json.dumps(found, indent=1, ensure_ascii=False))
        return
    for one in found:
        marks = [word for word in ("administrator", "closed") if one[word]]
        click.echo("  ".join([f"{one['handle']:<20}", f"{one['name']:<30}", *marks]).rstrip())


@user_command.command("add")
@click.argument("handle")
@click.option("--name", required=True, help="As others see it.")
@click.option("--administrator", is_flag=True, help="May manage accounts.")
@click.option("--library", help="A first library of their own, by its name.")
@_PASSWORD
@DATA
def add_user(
    handle: str,
    name: str,
    administrator: bool,
    library: str | None,
    password_stdin: bool,
    data: Path,
) -> None:
    """Add an account."""
    password = _password(password_stdin)
    try:
        with opened_data(data) as (database, _), database.session() as session:
            made = create_account(
                session, handle=handle, name=name, password=password, administrator=administrator
            )
            if library:
                create_library(session, made, name=library)
    except NestCrateError as error:
        raise click.ClickException(error.message) from error
    _say(made.handle, None if password_stdin else password)


@user_command.command("password")
@click.argument("handle")
@click.option("--administrator", is_flag=True, help="Make the account an administrator too.")
@_PASSWORD
@DATA
def new_password(handle: str, administrator: bool, password_stdin: bool, data: Path) -> None:
    """Give an account a new password, for instance where no administrator can sign in any more.

    It ends all sessions of the account, and opens it again where it was closed.
    """
    password = _password(password_stdin)
    try:
        with opened_data(data) as (database, _), database.session() as session:
            account = account_by_handle(session, handle)
            row = session.get_one(Account, account.id)
            row.disabled = False
            row.administrator = row.administrator or administrator
            session.flush()
            renew_password(session, account.id, password)
    except NestCrateError as error:
        raise click.ClickException(error.message) from error
    _say(account.handle, None if password_stdin else password)


def _password(from_stdin: bool) -> str:
    if from_stdin:
        return sys.stdin.readline().rstrip("\r\n")
    return secrets.token_urlsafe(12)


def _say(handle: str, made: str | None) -> None:
    click.echo(f"{handle}: done" if made is None else f"{handle}: the password is  {made}")
