"""Under which names the server is reached.

A page elsewhere may give its own name this machine's address (DNS rebinding), and a browser then
takes the server for that page's own. Such a request names the page's host, so only known names are
answered. An address in figures is nobody's name, and is taken.
"""

from __future__ import annotations

import ipaddress
import socket
from urllib.parse import urlsplit

from flask import Flask, request

from nest_crate.core.errors import NestCrateError
from nest_crate.settings import Settings

__all__ = ["UnknownHost", "install_hosts", "is_known"]


class UnknownHost(NestCrateError):
    """The request names a host that is none of this server's."""

    code = "unknown_host"
    title = "Unknown address"


def is_known(host: str, names: frozenset[str]) -> bool:
    """Whether a Host header (RFC 9110, 7.2) is one of the names, this machine's, or figures."""
    try:
        name = urlsplit(f"//{host}").hostname or ""
    except ValueError:
        return False
    if name in names:
        return True
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


def install_hosts(app: Flask, settings: Settings) -> None:
    """Refuse what was sent to another name."""
    given = {one.strip().lower() for one in settings.hosts.split(",") if one.strip()}
    names = frozenset({"localhost", socket.gethostname().lower(), *given})

    @app.before_request
    def refuse() -> None:
        if not is_known(request.host, names):
            raise UnknownHost(
                f"{request.host[:100]} is no name of this server. "
                "Its operator can add it to NEST_CRATE_HOSTS."
            )
