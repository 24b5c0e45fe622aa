"""Files of an archive unpacked apart from the web process, with limits of size, time and memory.

The other process is ``unpacker_child.py``.
"""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from nest_crate.storage.apart import run_apart

__all__ = ["unpacked"]

_TIME_S = 65.0
_BROKEN = "The archive is damaged"
_HEAVY = "The archive takes more time or memory to read than is allowed"


@contextmanager
def unpacked(archive: Path, names: list[str]) -> Iterator[dict[str, Path]]:
    """Those of the named files that an archive holds, as files that last as long as the block.

    Raises
    ------
    FormatError
        where the archive is damaged, or they are too large together.
    """
    with tempfile.TemporaryDirectory(prefix="nest-crate-") as place:
        folder = Path(place)
        if not names:
            yield {}
            return
        found = run_apart(
            "unpacker_child.py",
            str(archive.resolve()),
            place,
            *names,
            folder=folder,
            time_s=_TIME_S,
            broken=_BROKEN,
            heavy=_HEAVY,
        )
        yield {name: folder / number for name, number in found["written"].items()}
