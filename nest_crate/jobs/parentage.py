"""A process that ends with the one that started it, however that ended."""

from __future__ import annotations

import os
import threading
import time

__all__ = ["end_with_parent"]

_LOOKS_EVERY_S = 0.1


def end_with_parent() -> None:
    """From now on: at once, without ceremony. What is asked for in order comes as a signal."""
    parent = os.getppid()

    def look() -> None:
        while os.getppid() == parent:
            time.sleep(_LOOKS_EVERY_S)
        os._exit(1)

    threading.Thread(target=look, name="parentage", daemon=True).start()
