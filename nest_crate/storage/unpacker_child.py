"""The process that unpacks files of an archive: ``unpacker_child.py ARCHIVE OUT NAME...``.

Writes those of the named files that the archive holds to OUT as ``0``, ``1``, ..., and prints which
they are as one line of JSON. It is run by its path and loads little.
"""

from __future__ import annotations

import json
import resource
import shutil
import struct
import sys
import zipfile
import zlib
from pathlib import Path
from typing import Any

_MOST_BYTES = 400_000_000
_MEMORY_BYTES = 600_000_000
_TIME_S = 60
_DAMAGED = "The archive is damaged"
_TOO_MUCH = "The archive contains more than a sound needs"


def _unpack(archive: Path, out: Path, names: list[str]) -> dict[str, Any]:
    written: dict[str, str] = {}
    left = _MOST_BYTES
    try:
        with zipfile.ZipFile(archive) as opened:
            held = {one.filename: one for one in opened.infolist()}
            for name in names:
                if name not in held:
                    continue
                left -= held[name].file_size
                if left < 0:
                    return {"problem": _TOO_MUCH}
                # Read until the size it says, never further: names and sizes may be anybody's.
                with opened.open(held[name]) as source, (out / str(len(written))).open("wb") as to:
                    shutil.copyfileobj(source, to, 1 << 20)
                written[name] = str(len(written))
    except MemoryError:
        return {"problem": _TOO_MUCH}
    except (
        zipfile.BadZipFile,
        zlib.error,
        struct.error,
        EOFError,
        OSError,
        ValueError,
        NotImplementedError,
        RuntimeError,
    ):
        return {"problem": _DAMAGED}
    return {"written": written}


def _main() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (_TIME_S, _TIME_S + 5))
    resource.setrlimit(resource.RLIMIT_FSIZE, (_MOST_BYTES, _MOST_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    print(json.dumps(_unpack(Path(sys.argv[1]), Path(sys.argv[2]), sys.argv[3:])))


if __name__ == "__main__":
    _main()
