"""The render workers as a web process sees them."""

from __future__ import annotations

import select
import socket
import time
from collections.abc import Callable, Generator
from contextlib import closing

from nest_crate.core.cancellation import Cancelled
from nest_crate.jobs.rendering.errors import RenderersAway, RenderFailed, unpacked
from nest_crate.jobs.rendering.frames import Frame, FrameReader, send_frame
from nest_crate.jobs.rendering.requests import RenderRequest

__all__ = ["Renderers"]

_LOOKS_EVERY_MS = 50
# The dispatcher is started again where it died; so long one waits for it.
_RETURNS_WITHIN_S = 20.0
_RECEIVED_AT_ONCE = 1 << 18


def _nobody_left() -> bool:
    return False


class Renderers:
    """Asks for renders over the dispatcher's socket; safe for many threads.

    Recordings that sounds refer to are read from the store at ``audio_url``.
    """

    def __init__(self, path: str, audio_url: str) -> None:
        self._path, self._audio_url = path, audio_url

    def ask(
        self, request: RenderRequest, left: Callable[[], bool] = _nobody_left
    ) -> Generator[Frame, None, None]:
        """The parts of the answer as they are made. Closing the iterator cancels what is left.

        Parameters
        ----------
        left
            whether the asker has gone; looked at while waiting.

        Raises
        ------
        RenderersBusy, RenderersAway, RenderTooLarge, Cancelled, Replaced, DocumentError
            and what else the task raises for its users.
        RenderFailed
            where a worker made a mistake, or ended twice over this.
        """
        for attempt in (1, 2):
            came = False
            for frame in self._asked(request, left):
                if frame.head.get("end"):
                    return
                came = True
                yield frame
            # The worker ended, and another one may do it; not where half of it was given already.
            if came or attempt == 2:
                raise RenderFailed("A render worker ended over this sound")

    def one(self, request: RenderRequest, left: Callable[[], bool] = _nobody_left) -> Frame:
        """The answer of a task that gives one part."""
        (frame,) = self.ask(request, left)
        return frame

    def _asked(
        self, request: RenderRequest, left: Callable[[], bool]
    ) -> Generator[Frame, None, None]:
        """Frames up to the end, or until the worker ended."""
        with closing(self._connected()) as connection:
            send_frame(connection, request.frame(self._audio_url))
            reader = FrameReader()
            poll = select.poll()
            poll.register(connection, select.POLLIN)
            while True:
                if not poll.poll(_LOOKS_EVERY_MS):
                    if left():
                        raise Cancelled("Nobody waits for this any more")
                    continue
                try:
                    data = connection.recv(_RECEIVED_AT_ONCE)
                except ConnectionError:
                    return
                if not data:
                    return
                for frame in reader.feed(data):
                    if "error" in frame.head:
                        raise unpacked(frame.head["error"])
                    yield frame

    def _connected(self) -> socket.socket:
        deadline = time.monotonic() + _RETURNS_WITHIN_S
        while True:
            connection = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
            try:
                connection.connect(self._path)
            except OSError as error:
                connection.close()
                if time.monotonic() > deadline:
                    words = (
                        "The render workers do not answer. They are started again by themselves."
                    )
                    raise RenderersAway(words) from error
                time.sleep(0.1)
            else:
                return connection
