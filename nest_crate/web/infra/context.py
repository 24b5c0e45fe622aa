"""What views work with: database, store, memories, and the account at work."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import cast

from flask import Flask, Request, current_app, session
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import DatabaseGone, NotFound, NotSignedIn
from nest_crate.catalogue.people.accounts import CurrentAccount, account_by_handle, account_by_id
from nest_crate.catalogue.people.keys import account_of_token
from nest_crate.catalogue.people.vocabulary import Vocabulary, load_vocabulary
from nest_crate.catalogue.search import SampleIndex
from nest_crate.jobs.rendering.client import Renderers
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore
from nest_crate.storage.stored_recordings import StoredRecordings
from nest_crate.web.infra.shared_files import SharedFiles

__all__ = [
    "Services",
    "close_session",
    "current_account",
    "install_sign_in",
    "open_services",
    "open_session",
    "services",
]


@dataclass(frozen=True)
class Services:
    """One of each, made by ``open_services``."""

    database: Database
    store: AudioStore
    recordings: StoredRecordings
    renderers: Renderers
    shared: SharedFiles
    index: SampleIndex
    vocabulary: Vocabulary
    settings: Settings


def open_services(settings: Settings, database: Database) -> Services:
    """Services over a database and the settings' store, with nothing remembered yet."""
    store = AudioStore(settings.audio_url)
    return Services(
        database=database,
        store=store,
        recordings=StoredRecordings(store),
        renderers=Renderers(settings.render_socket, settings.audio_url),
        shared=SharedFiles(Path(settings.run_folder) / "shared"),
        index=SampleIndex(),
        vocabulary=load_vocabulary(settings.vocabulary),
        settings=settings,
    )


def services() -> Services:
    """The services of the running application."""
    return cast(Services, current_app.extensions["nest_crate"])


class _SignedIn(UserMixin):  # type: ignore[misc]
    """``get_id`` is what a session holds: the account and its stamp, which ends with a new
    password."""

    def __init__(self, account: CurrentAccount) -> None:
        self.account = account

    def get_id(self) -> str:
        return f"{self.account.id}.{self.account.session_stamp}"


def current_account() -> CurrentAccount:
    """The account that makes this request; ``NotSignedIn`` where nobody is signed in."""
    if not current_user.is_authenticated:
        raise NotSignedIn("Sign in first")
    return cast(CurrentAccount, current_user.account)


def open_session(account: CurrentAccount) -> None:
    """Sign an account in on this browser."""
    session.clear()
    session.permanent = True
    login_user(_SignedIn(account))


def close_session() -> None:
    """Sign out on this browser."""
    logout_user()
    session.clear()


def install_sign_in(app: Flask) -> None:
    """Sessions by cookie, tokens by header; else the account of ``auto_sign_in``, if any."""
    manager = LoginManager(app)

    # Who was seen before may go on rendering while the database is away; what reads or saves
    # asks the database anyway.
    seen: dict[str, CurrentAccount] = {}

    @manager.user_loader
    def load(kept: str) -> _SignedIn | None:
        identifier, _, stamp = kept.partition(".")
        try:
            with services().database.session() as database:
                account = account_by_id(database, int(identifier))
        except (NotFound, ValueError):
            seen.pop(kept, None)
            return None
        except DatabaseGone:
            if kept not in seen:
                raise
            return _SignedIn(seen[kept])
        if account.session_stamp != stamp:
            seen.pop(kept, None)
            return None
        seen[kept] = account
        return _SignedIn(account)

    @manager.request_loader
    def sign_in(request: Request) -> _SignedIn | None:
        kind, _, token = request.headers.get("Authorization", "").partition(" ")
        if kind == "Bearer":
            with services().database.session() as database:
                return _SignedIn(account_of_token(database, token.strip()))
        handle = services().settings.auto_sign_in
        if not handle:
            return None
        try:
            with services().database.session() as database:
                user = _SignedIn(account_by_handle(database, handle))
        except NotFound:
            return None
        login_user(user)
        return user
