"""Commands that talk to a server, or to a data folder as a server would: the same requests."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, TypeVar

import click
import httpx

from nest_crate.cli.data_folder import opened_settings

__all__ = ["LIBRARY", "Connection", "connected", "with_connection"]

Command = TypeVar("Command", bound=Callable[..., Any])

_TOKEN = "NEST_CRATE_TOKEN"
_PATIENCE_S = 300.0

LIBRARY = click.option(
    "--library", required=True, help="The library's key or number, as glasshouse-clockworks."
)
_OPTIONS = (
    click.option(
        "--server",
        envvar="NEST_CRATE_SERVER",
        help=f"A server's address; the token is read from {_TOKEN}.",
    ),
    click.option(
        "--data",
        type=click.Path(file_okay=False, path_type=Path),
        default=Path("var"),
        help="Without --server: the data folder to work on.",
    ),
    click.option(
        "--as",
        "handle",
        envvar="NEST_CRATE_ACCOUNT",
        help="Without --server: the account to work as.",
    ),
)


def with_connection(command: Command) -> Command:
    """The options that say what a command talks to."""
    for option in reversed(_OPTIONS):
        command = option(command)
    return command


class Connection:
    """Requests to the API; what is refused is said in the server's words."""

    def __init__(self, client: httpx.Client) -> None:
        self._client = client

    def json(self, method: str, path: str, **options: Any) -> Any:
        """What a request answers, read as JSON."""
        answer = self._asked(method, path, **options)
        return answer.json() if answer.content else None

    def status_and_json(self, method: str, path: str, **options: Any) -> tuple[int, Any]:
        """As ``json``, with the status."""
        answer = self._asked(method, path, **options)
        return answer.status_code, answer.json()

    def bytes_of(
        self, path: str, *, tag: str | None = None, body: dict[str, Any] | None = None
    ) -> bytes | None:
        """The bytes at an address, or what it answers to a body; None where they are those of the
        tag."""
        headers = {"If-None-Match": f'"{tag}"'} if tag else {}
        method = "GET" if body is None else "POST"
        answer = self._asked(method, path, headers=headers, json=body)
        return None if answer.status_code == httpx.codes.NOT_MODIFIED else answer.content

    def _asked(self, method: str, path: str, **options: Any) -> httpx.Response:
        try:
            answer = self._client.request(method, path, **options)
        except httpx.HTTPError as error:
            raise click.ClickException(
                f"{self._client.base_url} does not answer: {error}"
            ) from error
        if answer.status_code >= httpx.codes.BAD_REQUEST:
            raise click.ClickException(_problem(answer))
        return answer


def _problem(answer: httpx.Response) -> str:
    """What was wrong, with the field where it was one."""
    try:
        problem = answer.json()
        fields = [f"{one['path']}: {one['message']}" for one in problem.get("problems") or ()]
        return "; ".join(fields) or str(problem["detail"])
    except (ValueError, KeyError, TypeError, AttributeError):
        return f"the server answered {answer.status_code}"


@contextmanager
def connected(server: str | None, data: Path, handle: str | None) -> Iterator[Connection]:
    """A connection to a server, or to a folder's data in this process.

    Raises
    ------
    click.ClickException
        where there is no token, no data, or no such account.
    """
    if server:
        token = os.environ.get(_TOKEN, "")
        if not token:
            raise click.ClickException(f"A server wants a token; put it in {_TOKEN}")
        with _client(token, base_url=server.rstrip("/")) as client:
            yield Connection(client)
        return
    with _own_server(data, handle) as client:
        yield Connection(client)


def _client(token: str, **options: Any) -> httpx.Client:
    headers = {"Authorization": f"Bearer {token}"}
    return httpx.Client(headers=headers, timeout=_PATIENCE_S, **options)


@contextmanager
def _own_server(data: Path, handle: str | None) -> Iterator[httpx.Client]:
    """The web application over a data folder, asked without a network."""
    # A server's parts take seconds to import; those who name a server go without.
    from sqlalchemy import select

    from nest_crate.catalogue.db.database import Database
    from nest_crate.catalogue.db.models import Account, ApiToken
    from nest_crate.catalogue.people.accounts import account_by_handle
    from nest_crate.catalogue.people.keys import make_token
    from nest_crate.core.errors import NestCrateError
    from nest_crate.web.app import create_app

    with opened_settings(data) as settings, tempfile.TemporaryDirectory() as run:
        database = Database(settings.database_url)
        with database.session() as session:
            handles = list(session.scalars(select(Account.handle).where(~Account.disabled)))
            if handle is None and len(handles) != 1:
                raise click.ClickException(f"Say as whom with --as: {', '.join(sorted(handles))}")
            try:
                account = account_by_handle(session, handle or handles[0])
            except NestCrateError as error:
                raise click.ClickException(error.message) from error
            token, secret = make_token(session, account, name="command", scope="write", days=1)
            token_id = token.id
        app = create_app(settings.model_copy(update={"run_folder": run}))
        try:
            transport = httpx.WSGITransport(app=app)
            with _client(secret, base_url="http://127.0.0.1", transport=transport) as client:
                yield client
        finally:
            with database.session() as session:
                kept = session.get(ApiToken, token_id)
                if kept is not None:
                    session.delete(kept)
            database.engine.dispose()
            app.extensions["nest_crate"].database.engine.dispose()
