"""What views work with: database, store, memories, and the account at work."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from pathlib import Path
from typing import cast

from cachetools import LRUCache
from flask import Flask, Request, current_app, request, session
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import DatabaseGone, NotFound, NotSignedIn
from nest_crate.catalogue.people.accounts import CurrentAccount, account_by_handle
from nest_crate.catalogue.people.keys import account_of_token
from nest_crate.catalogue.people.secrets import secret_digest
from nest_crate.catalogue.people.sign_ins import account_signed_in, begin_sign_in, sign_ins_of
from nest_crate.catalogue.people.vocabularies import Vocabularies
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
    "session_secret",
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
    vocabularies: Vocabularies
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
        vocabularies=Vocabularies(settings.vocabulary),
        settings=settings,
    )


def services() -> Services:
    """The services of the running application."""
    return cast(Services, current_app.extensions["nest_crate"])


class _SignedIn(UserMixin):  # type: ignore[misc]
    """``get_id`` is what the cookie holds: the secret of a session that lies in the database."""

    def __init__(self, account: CurrentAccount, secret: str = "") -> None:
        self.account = account
        self.secret = secret

    def get_id(self) -> str:
        return self.secret


def current_account() -> CurrentAccount:
    """The account that makes this request; ``NotSignedIn`` where nobody is signed in."""
    if not current_user.is_authenticated:
        raise NotSignedIn("Sign in first")
    return cast(CurrentAccount, current_user.account)


def session_secret() -> str:
    """What the cookie of this request holds; empty where it came without one."""
    return str(getattr(current_user, "secret", ""))


def open_session(database: Session, account: CurrentAccount) -> None:
    """Sign an account in on this browser."""
    secret = begin_sign_in(
        database,
        account.id,
        days=services().settings.session_days,
        device=request.headers.get("User-Agent", ""),
        address=request.remote_addr or "",
    )
    session.clear()
    session.permanent = True
    login_user(_SignedIn(account, secret))


def close_session() -> None:
    """Sign out on this browser; what its cookie held opens nothing any more."""
    secret = session_secret()
    if secret:
        with services().database.session() as database:
            account = current_account()
            for one in sign_ins_of(database, account):
                if one.secret_digest == secret_digest(secret):
                    database.delete(one)
    logout_user()
    session.clear()


class _Seen:
    """Accounts that were signed in not long ago, for while the database is away."""

    def __init__(self) -> None:
        self._accounts: LRUCache[str, CurrentAccount] = LRUCache(1000)
        self._lock = threading.Lock()

    def note(self, key: str, account: CurrentAccount) -> None:
        with self._lock:
            self._accounts[key] = account

    def forget(self, key: str) -> None:
        with self._lock:
            self._accounts.pop(key, None)

    def again(self, key: str, away: DatabaseGone) -> CurrentAccount:
        """The account that was seen; else what is wrong with the database is raised."""
        with self._lock:
            account = self._accounts.get(key)
        if account is None:
            raise away
        return account


def install_sign_in(app: Flask) -> None:
    """Sessions by cookie, tokens by header; else the account of ``auto_sign_in``, if any."""
    manager = LoginManager(app)

    # Who was seen before may go on rendering while the database is away; what reads or saves
    # asks the database anyway.
    seen = _Seen()

    @manager.user_loader
    def load(secret: str) -> _SignedIn | None:
        try:
            with services().database.session() as database:
                account = account_signed_in(database, secret)
        except NotSignedIn:
            seen.forget(secret)
            return None
        except DatabaseGone as away:
            account = seen.again(secret, away)
        else:
            seen.note(secret, account)
        return _SignedIn(account, secret)

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
                account = account_by_handle(database, handle)
        except NotFound:
            return None
        except DatabaseGone as away:
            account = seen.again(handle, away)
        else:
            seen.note(handle, account)
        return _SignedIn(account)
