"""How the process keeps memory between renders."""

from __future__ import annotations

import ctypes

__all__ = ["keep_freed_memory"]

# Numbers of glibc's malloc.h.
_TRIM_THRESHOLD, _TOP_PAD, _MMAP_THRESHOLD = -1, -2, -3
_KEPT_BYTES = 256_000_000
_PAD_BYTES = 16_000_000
_LARGEST_BYTES = 32_000_000


def keep_freed_memory() -> bool:
    """Keep up to 256 MB of freed memory in the process instead of giving it back each time.

    A render makes and frees arrays of about a megabyte at every step. By default glibc returns them
    to the system, which then fills every page again: up to half of a light processor's time.

    Returns
    -------
    Whether it was set; where there is no glibc, nothing changes.
    """
    try:
        mallopt = ctypes.CDLL(None).mallopt
    except (AttributeError, OSError):
        return False
    wanted = {
        _MMAP_THRESHOLD: _LARGEST_BYTES,
        _TRIM_THRESHOLD: _KEPT_BYTES,
        _TOP_PAD: _PAD_BYTES,
    }
    return all(mallopt(number, value) == 1 for number, value in wanted.items())
