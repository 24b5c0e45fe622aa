"""Libraries in addresses: by their number or their key, ``/api/libraries/glasshouse/releases``."""

from __future__ import annotations

from typing import Any

from flask import Flask
from werkzeug.routing import BaseConverter

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.people.libraries import library_id_of, require_library
from nest_crate.web.infra.context import current_account, services

__all__ = ["install_library_addresses"]


class _LibraryConverter(BaseConverter):
    """A number, or a key; which of them exists is looked up later."""

    regex = r"[A-Za-z0-9-]{1,80}"


def install_library_addresses(app: Flask) -> None:
    """Routes say ``<library:library_id>``; views get the library's number."""
    app.url_map.converters["library"] = _LibraryConverter

    @app.url_value_preprocessor
    def number(_endpoint: str | None, values: dict[str, Any] | None) -> None:
        given = (values or {}).get("library_id")
        if values is None or not isinstance(given, str):
            return
        values["library_id"] = int(given) if _is_number(given) else _number_of(given)


def _is_number(text: str) -> bool:
    return text.isascii() and text.isdigit() and len(text) <= 15


def _number_of(key: str) -> int:
    account = current_account()
    with services().database.session() as session:
        try:
            found = library_id_of(session, key)
            require_library(session, account, found)
        except NotFound as error:
            # One that may not be seen looks like one that is not there.
            raise NotFound(f"There is no library with the key {key!r}") from error
    return found
