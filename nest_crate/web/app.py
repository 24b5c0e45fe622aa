"""The application factory."""

from __future__ import annotations

import secrets
from datetime import timedelta
from pathlib import Path

from flask import Response, request
from flask_openapi3 import Info
from werkzeug.middleware.proxy_fix import ProxyFix

from nest_crate import __version__
from nest_crate.catalogue.db.database import Database
from nest_crate.core.sound import MAX_DOCUMENT_BYTES
from nest_crate.settings import Settings
from nest_crate.web import (
    comparing,
    families,
    people,
    releases,
    samples,
    sounds,
    tryouts,
    upkeep,
    work,
)
from nest_crate.web.contract import DescribedApp
from nest_crate.web.docs import serve_docs
from nest_crate.web.front_end import serve_front_end
from nest_crate.web.infra.context import install_sign_in, open_services
from nest_crate.web.infra.guard import install_guard
from nest_crate.web.infra.hosts import install_hosts
from nest_crate.web.infra.json_bodies import bound_json
from nest_crate.web.infra.library_addresses import install_library_addresses
from nest_crate.web.infra.packing import pack_answers
from nest_crate.web.infra.problems import register_problems, request_problem

__all__ = ["create_app"]

_HEADERS = {
    "Content-Security-Policy": "default-src 'self'; img-src 'self' data: blob:; "
    "object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=(), payment=(), usb=(), "
    "midi=(self)",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}

_ONE_YEAR = "max-age=31536000; includeSubDomains"


def create_app(settings: Settings) -> DescribedApp:
    """The web application over one database and one store."""
    app = DescribedApp(
        __name__,
        info=Info(title="Nest Crate", version=__version__),
        validation_error_callback=request_problem,
        static_folder=None,
    )
    app.config.update(
        SECRET_KEY=settings.secret_key or secrets.token_hex(32),
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SECURE=settings.secure_cookies,
        SESSION_COOKIE_NAME="nest_crate_session",
        PERMANENT_SESSION_LIFETIME=timedelta(days=settings.session_days),
        # Room for a document of the largest size with a hit beside it.
        MAX_CONTENT_LENGTH=2 * MAX_DOCUMENT_BYTES,
    )
    bound_json(app)
    pack_answers(app)
    app.extensions["nest_crate"] = open_services(settings, Database(settings.database_url))
    if settings.trusted_proxies:
        count = settings.trusted_proxies
        app.wsgi_app = ProxyFix(  # type: ignore[method-assign]
            app.wsgi_app, x_for=count, x_proto=count, x_host=count
        )
    install_hosts(app, settings)
    install_sign_in(app)
    install_guard(app)
    register_problems(app)
    install_library_addresses(app)
    for room in (sounds, samples, comparing, tryouts, families, releases, people, work, upkeep):
        for api in room.APIS:
            app.register_api(api)
    serve_docs(app, Path(settings.docs_folder))
    serve_front_end(app, Path(settings.static_folder))

    @app.after_request
    def add_headers(response: Response) -> Response:
        for name, value in _HEADERS.items():
            response.headers.setdefault(name, value)
        if settings.secure_cookies:
            response.headers.setdefault("Strict-Transport-Security", _ONE_YEAR)
        if request.path.startswith("/api/"):
            # What somebody may see stays out of caches that others use.
            response.headers.setdefault("Cache-Control", "private, no-store")
        return response

    return app
