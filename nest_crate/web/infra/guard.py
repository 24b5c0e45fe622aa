"""What stands before every request: where it comes from, and what its key is good for.

Forged requests: browsers say where a request comes from (Fetch Metadata, W3C; Origin, RFC 6454).
What changes something with a cookie must come from this server's own pages.
"""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Flask, request
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_login import current_user

from nest_crate.catalogue.db.errors import NotAllowed

__all__ = ["install_guard", "limiter"]

_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
# These ask by POST, for what is asked is long, and change no document, sample or library.
_ASKING = frozenset(
    {
        "samples.search",
        "samples.all_ids",
        "samples.listed",
        "blind_tests.list_tests",
        "comparisons.audio",
        "comparisons.compare",
        "comparisons.names",
        "comparisons.typical",
        "exports.plan",
        "presence.look",
        "releases.ask_for_format",
    }
)

# What an account keeps beside all libraries.
_PERSONAL = frozenset({"session", "people", "jobs", "works", "chains", "shapes"})

limiter = Limiter(get_remote_address, storage_uri="memory://", default_limits=[])


def install_guard(app: Flask) -> None:
    """Refuse forged requests, and changes by tokens that may only read."""
    limiter.init_app(app)

    @app.before_request
    def refuse() -> None:
        if not request.path.startswith("/api/"):
            return
        token = request.headers.get("Authorization", "").startswith("Bearer ")
        if token and request.blueprint in _PERSONAL and _opens_one_library():
            raise NotAllowed("This token is for one library, not for what the account keeps itself")
        if request.method in _SAFE:
            return
        # A token is sent on purpose, never by a browser of its own accord.
        if not token and _comes_from_elsewhere():
            raise NotAllowed("This request comes from another site's page")
        if token and request.endpoint not in _ASKING and _only_reads():
            raise NotAllowed("This token is read-only")
        if request.is_json and request.content_length:
            # What is no JSON, or nested without an end, is refused as that: 400.
            request.get_json()


def _only_reads() -> bool:
    account = getattr(current_user, "account", None)
    return account is not None and account.scope != "write"


def _opens_one_library() -> bool:
    account = getattr(current_user, "account", None)
    return account is not None and account.only_library is not None


def _comes_from_elsewhere() -> bool:
    site = request.headers.get("Sec-Fetch-Site")
    if site is not None:
        return site not in ("same-origin", "none")
    origin = request.headers.get("Origin")
    return origin is not None and urlsplit(origin).netloc != request.host
