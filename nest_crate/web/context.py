"""What views work with: database, store, memories, and the account at work."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import cast

from flask import Flask, current_app
from flask_login import LoginManager, UserMixin, current_user, login_user

from nest_crate.catalogue.accounts import CurrentAccount, account_by_handle, account_by_id
from nest_crate.catalogue.database import Database
from nest_crate.catalogue.errors import DatabaseGone, NotAllowed, NotFound
from nest_crate.catalogue.recordings import StoredRecordings
from nest_crate.core.engine import RenderSettings, StageMemory
from nest_crate.core.engine.settings import Quality
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore

__all__ = ["Services", "current_account", "install_sign_in", "render_settings", "services"]


class FileMemory:
    """Auditions by digest, ready to be fetched; the least recently used go first."""

    def __init__(self, limit_bytes: int) -> None:
        self._limit_bytes = limit_bytes
        self._files: OrderedDict[str, bytes] = OrderedDict()
        self._bytes = 0
        self._lock = threading.Lock()

    def put(self, digest: str, data: bytes) -> None:
        with self._lock:
            if digest not in self._files:
                self._bytes += len(data)
            self._files[digest] = data
            self._files.move_to_end(digest)
            while self._bytes > self._limit_bytes and len(self._files) > 1:
                _, oldest = self._files.popitem(last=False)
                self._bytes -= len(oldest)

    def get(self, digest: str) -> bytes | None:
        with self._lock:
            return self._files.get(digest)


@dataclass(frozen=True)
class Services:
    """One of each, made by ``create_app``."""

    database: Database
    store: AudioStore
    recordings: StoredRecordings
    stages: StageMemory
    auditions: FileMemory


def services() -> Services:
    """The services of the running application."""
    return cast(Services, current_app.extensions["nest_crate"])


def render_settings(sample_rate: int = 48000, quality: Quality = "final") -> RenderSettings:
    """Settings of a render that may refer to stored recordings."""
    return RenderSettings(
        sample_rate=sample_rate, quality=quality, recordings=services().recordings
    )


class _SignedIn(UserMixin):  # type: ignore[misc]
    def __init__(self, account: CurrentAccount) -> None:
        self.account = account

    def get_id(self) -> str:
        return str(self.account.id)


def current_account() -> CurrentAccount:
    """The account that makes this request; ``NotAllowed`` where nobody is signed in."""
    if not current_user.is_authenticated:
        raise NotAllowed("Sign in first")
    return cast(CurrentAccount, current_user.account)


def install_sign_in(app: Flask, settings: Settings) -> None:
    """Sessions by cookie; without one, the account of ``auto_sign_in`` is signed in."""
    manager = LoginManager(app)

    # Who was seen before may go on rendering while the database is away; what reads or saves
    # asks the database anyway.
    seen: dict[str, CurrentAccount] = {}

    @manager.user_loader
    def load(identifier: str) -> _SignedIn | None:
        try:
            with services().database.session() as session:
                seen[identifier] = account_by_id(session, int(identifier))
        except (NotFound, ValueError):
            seen.pop(identifier, None)
            return None
        except DatabaseGone:
            if identifier not in seen:
                raise
        return _SignedIn(seen[identifier])

    @manager.request_loader
    def sign_in(_request: object) -> _SignedIn | None:
        if not settings.auto_sign_in:
            return None
        try:
            with services().database.session() as session:
                user = _SignedIn(account_by_handle(session, settings.auto_sign_in))
        except NotFound:
            return None
        login_user(user)
        return user
