"""One web process: takes connections from a socket that it shares with its like."""

from __future__ import annotations

import signal
import socket
import threading
from collections.abc import Callable

from nest_crate.jobs.parentage import end_with_parent
from nest_crate.server.front_door import Door, door_server
from nest_crate.server.upkeep import repeat
from nest_crate.settings import Settings
from nest_crate.web import create_app
from nest_crate.web.infra.carried import carries_sign_in
from nest_crate.web.infra.context import Services

__all__ = ["index_keeper", "serve_web"]

_CHECK_EVERY_S = 60.0
# Threads wait for the database and for render workers, hardly ever for a processor.
_THREADS = 64


def index_keeper(held: Services) -> Callable[[], object]:
    """Reads all samples the first time, so that the first search finds them there, and looks each
    time whether any was missed."""

    def keep_index() -> None:
        with held.database.session() as session:
            held.index.refresh(session)
            held.index.check(session)

    return keep_index


def serve_web(port: socket.socket, settings: Settings) -> None:
    """Serve on a listening socket until SIGTERM."""
    end_with_parent()
    app = create_app(settings)
    held = app.extensions["nest_crate"]
    door = Door(
        knows=lambda headers: carries_sign_in(app, headers),
        trusted_proxies=settings.trusted_proxies,
    )
    server = door_server(app, door, port, threads=_THREADS)
    keeper = index_keeper(held)
    threading.Thread(target=repeat, args=(keeper, _CHECK_EVERY_S), daemon=True).start()

    def end(*_: object) -> None:
        raise SystemExit

    signal.signal(signal.SIGTERM, end)
    server.run()
