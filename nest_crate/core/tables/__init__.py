"""The wavetables that come with the program."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.formats.wav import decode_wav

__all__ = ["STOCK_CYCLE", "stock_cycles", "stock_names"]

STOCK_CYCLE = 1024


@lru_cache(maxsize=1)
def stock_names() -> tuple[str, ...]:
    """Names of the tables, in the order of the alphabet."""
    files = resources.files(__name__).iterdir()
    return tuple(sorted(one.name[:-4] for one in files if one.name.endswith(".wav")))


def stock_cycles(name: str) -> NDArray[np.float64]:
    """The cycles of a table, shape (frames, STOCK_CYCLE).

    Raises
    ------
    LookupError
        where there is none of that name.
    """
    if name not in stock_names():
        raise LookupError(f"no wavetable is called {name!r}")
    samples, _ = decode_wav(resources.files(__name__).joinpath(f"{name}.wav").read_bytes())
    return np.ascontiguousarray(samples[0].reshape(-1, STOCK_CYCLE))
