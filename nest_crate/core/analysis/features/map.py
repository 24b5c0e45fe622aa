"""A flat map of many sounds on which near means alike.

Zheng, Pawar, Goodman, "Graph Drawing by Stochastic Gradient Descent" (IEEE TVCG 25, 2018): pairs
are brought to their distance one after the other, with steps that shrink. Beyond some number of
sounds a part is placed so, and each other one among its nearest of these.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["flat_map"]

_MOST_PLACED = 1200
_ROUNDS = 20
_NEAREST = 4
# The last steps move a pair by a tenth of what is missing.
_LAST_STEP = 0.1


def flat_map(vectors: NDArray[np.float32]) -> NDArray[np.float64]:
    """Places (rows, 2) from 0 to 1 of vectors (rows, features); the same for the same vectors."""
    count = vectors.shape[0]
    if count < 2:
        return np.full((count, 2), 0.5)
    wanted = np.asarray(vectors, dtype=np.float64)
    placed = np.unique(np.linspace(0, count - 1, min(count, _MOST_PLACED)).round().astype(int))
    core = wanted[placed]
    start = _flattened(core)
    places = start.copy()
    distances = _distances(core, core)
    order = np.random.Generator(np.random.Philox(1)).permutation(
        placed.size * (placed.size - 1) // 2
    )
    _relax(places, distances, order, _ROUNDS, _LAST_STEP)
    if placed.size < count:
        places = _among_nearest(wanted, core, places)
    low, high = places.min(axis=0), places.max(axis=0)
    # One scale for both ways, so that distances stay comparable; the narrow way in the middle.
    size = max(float((high - low).max()), 1e-9)
    return np.asarray((places - (low + high) / 2.0) / size + 0.5)


def _flattened(vectors: NDArray[np.float64]) -> NDArray[np.float64]:
    """The two directions in which vectors differ most (principal components)."""
    centred = vectors - vectors.mean(axis=0)
    _, _, directions = np.linalg.svd(centred, full_matrices=False)
    # A direction's sign is a matter of the library's version; the largest part is made positive.
    for row in directions[:2]:
        row *= np.sign(row[np.argmax(np.abs(row))]) or 1.0
    flat = np.zeros((vectors.shape[0], 2))
    used = min(2, directions.shape[0])
    flat[:, :used] = centred @ directions[:used].T
    # What lies at one place is taken a little apart, or it could never part.
    around = np.arange(flat.shape[0]) * 2.399963
    flat += 1e-4 * np.stack([np.cos(around), np.sin(around)], axis=1)
    return flat


def _distances(a: NDArray[np.float64], b: NDArray[np.float64]) -> NDArray[np.float64]:
    square = (a**2).sum(axis=1)[:, None] + (b**2).sum(axis=1)[None, :] - 2.0 * a @ b.T
    return np.asarray(np.sqrt(np.maximum(square, 0.0)))


def _among_nearest(
    vectors: NDArray[np.float64], core: NDArray[np.float64], places: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Each vector at the weighted mean of its nearest placed ones."""
    out = np.empty((vectors.shape[0], 2))
    for begin in range(0, vectors.shape[0], 2000):
        far = _distances(vectors[begin : begin + 2000], core)
        near = np.argpartition(far, min(_NEAREST, core.shape[0] - 1), axis=1)[:, :_NEAREST]
        weight = 1.0 / (np.take_along_axis(far, near, axis=1) ** 2 + 1e-3)
        weight /= weight.sum(axis=1, keepdims=True)
        out[begin : begin + 2000] = (weight[:, :, None] * places[near]).sum(axis=1)
    return out


@njit(cache=True, nogil=True)
def _relax(places, distances, order, rounds, last_step):  # type: ignore[no-untyped-def]
    """Algorithm 1: each pair (by its number in ``order``) moved towards its distance, in place."""
    count = places.shape[0]
    least, most = 1e18, 0.0
    for i in range(count):
        for j in range(i):
            d = max(distances[i, j], 1e-3)
            least, most = min(least, d), max(most, d)
    first, last = most * most, last_step * least * least
    for turn in range(rounds):
        rate = first * (last / first) ** (turn / max(1, rounds - 1))
        for at in range(order.shape[0]):
            # Pair number k of a triangle: rows before row i hold i (i - 1) / 2 pairs.
            k = order[at]
            i = int((1.0 + np.sqrt(1.0 + 8.0 * k)) / 2.0)
            while i * (i - 1) // 2 > k:
                i -= 1
            while i * (i + 1) // 2 <= k:
                i += 1
            j = k - i * (i - 1) // 2
            d = max(distances[i, j], 1e-3)
            step = min(1.0, rate / (d * d))
            x, y = places[i, 0] - places[j, 0], places[i, 1] - places[j, 1]
            far = np.sqrt(x * x + y * y)
            if far < 1e-12:
                continue
            move = step * (far - d) / (2.0 * far)
            places[i, 0] -= move * x
            places[i, 1] -= move * y
            places[j, 0] += move * x
            places[j, 1] += move * y
