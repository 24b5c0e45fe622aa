"""Words of names, tags and descriptions, and which of them a typed word may mean.

Edit distance with neighbouring letters swapped: Damerau, "A technique for computer detection and
correction of spelling errors" (CACM 7, 1964), in its restricted form.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable

from rapidfuzz.distance import OSA

__all__ = ["edit_distance", "likely_words", "words_of"]

_WORD = re.compile(r"[^\W_]+(?:#[^\W_]*)?", re.UNICODE)
# How well a word of the catalogue fits a typed one.
_EXACT, _BEGINS, _ONE_OFF, _TWO_OFF = 1.0, 0.7, 0.45, 0.25
_LONG_WORD = 7
_SHORT_WORD = 4


def words_of(text: str) -> list[str]:
    """The words of a text in small letters without accents, in order."""
    plain = text.lower()
    if not plain.isascii():
        parts = unicodedata.normalize("NFKD", plain)
        plain = "".join(one for one in parts if not unicodedata.combining(one))
    return _WORD.findall(plain)


def edit_distance(a: str, b: str, most: int) -> int:
    """How many letters differ, are missing, too many or swapped; ``most + 1`` where more."""
    return int(OSA.distance(a, b, score_cutoff=most))


def likely_words(typed: str, known: Iterable[str]) -> dict[str, float]:
    """Known words that a typed one may mean, with how well they fit.

    One that is there, or begins so, is meant; only where none is are typos forgiven: one letter
    from four on, two from seven on.
    """
    known = list(known)
    sure = {
        word: _EXACT if word == typed else _BEGINS * (0.5 + 0.5 * len(typed) / len(word))
        for word in known
        if word.startswith(typed)
    }
    if sure or len(typed) < _SHORT_WORD:
        return sure
    most = 2 if len(typed) >= _LONG_WORD else 1
    found: dict[str, float] = {}
    for word in known:
        # What is typed may be the beginning of a longer word, with a typo in it.
        begin = word[: len(typed) + 1] if len(word) > len(typed) + 1 else word
        off = min(edit_distance(typed, word, most), 1 + edit_distance(typed, begin[:-1], most - 1))
        if off <= most:
            found[word] = _ONE_OFF if off <= 1 else _TWO_OFF
    return found
