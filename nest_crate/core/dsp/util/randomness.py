"""All randomness: a counter-based generator keyed by seed, part and hit.

Philox: Salmon, Moraes, Dror, Shaw, "Parallel Random Numbers: As Easy as 1, 2, 3" (2011).
"""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray

__all__ = ["uniform_numbers"]


# Numbers that one step of the counter gives.
_EACH = 4


def uniform_numbers(
    count: int, *, seed: int, part: str, hit_number: int, skip: int = 0
) -> NDArray[np.float64]:
    """Uniform numbers from -1 to 1, always the same for the same key.

    Parameters
    ----------
    seed
        of the sound.
    part
        id of the layer or mover, with its use (``body.noise``), so that streams differ.
    hit_number
        0 where every hit shall have the same numbers.
    skip
        how many numbers of the row come before the first that is wanted.
    """
    text = f"{seed}/{part}/{hit_number}".encode()
    key = np.frombuffer(hashlib.sha256(text).digest()[:16], dtype="<u8").astype(np.uint64)
    generator = np.random.Philox(key=key)
    generator.advance(skip // _EACH)
    raw = generator.random_raw(count + skip % _EACH)[skip % _EACH :]
    # The raw stream is taken, not Generator methods, whose streams may change between versions.
    # 53 bits fill a double's fraction exactly.
    return np.asarray((raw >> np.uint64(11)) * 2.0**-52 - 1.0, dtype=np.float64)
