"""Whether a request carries what only somebody signed in can have, by its headers alone.

It is asked before the body is read, in the loop that reads all requests, so it must be quick: a
cookie is known by its signature. Whether its session still stands is asked later, as always.
"""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie

from flask import Flask
from flask.sessions import SecureCookieSessionInterface
from itsdangerous import BadSignature

from nest_crate.catalogue.db.errors import DatabaseGone, NotSignedIn
from nest_crate.catalogue.people.keys import account_of_token
from nest_crate.web.infra.context import Services

__all__ = ["carries_sign_in"]


def carries_sign_in(app: Flask, headers: dict[str, str]) -> bool:
    """By the headers of a request, named as CGI does without ``HTTP_``."""
    held: Services = app.extensions["nest_crate"]
    kind, _, token = headers.get("AUTHORIZATION", "").partition(" ")
    if kind == "Bearer":
        return _is_token(held, token.strip())
    return bool(held.settings.auto_sign_in) or _is_signed(app, headers.get("COOKIE", ""))


def _is_token(held: Services, token: str) -> bool:
    try:
        with held.database.session() as session:
            account_of_token(session, token)
    except (NotSignedIn, DatabaseGone):
        return False
    return True


def _is_signed(app: Flask, cookie: str) -> bool:
    serializer = SecureCookieSessionInterface().get_signing_serializer(app)
    try:
        sent = SimpleCookie(cookie).get(app.config["SESSION_COOKIE_NAME"])
        kept = serializer.loads(sent.value) if sent is not None and serializer else {}
    except (CookieError, BadSignature):
        return False
    return "_user_id" in kept
