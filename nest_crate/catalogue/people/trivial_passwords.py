"""Passwords that guessers try first: leaked words with a tail, keys in a row.

Length says more than rules for characters; beyond it only these are refused.
"""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path

__all__ = ["is_trivial"]

_ROWS = (
    "01234567890123456789",
    "abcdefghijklmnopqrstuvwxyz",
    "qwertyuiopasdfghjklzxcvbnm",
    "qwertzuiopasdfghjklyxcvbnm",
    "azertyuiopqsdfghjklmwxcvbn",
    "1qaz2wsx3edc4rfv5tgb6yhn7ujm",
    "1q2w3e4r5t6y7u8i9o0p",
)
_FEWEST_CHARACTERS = 4
_TAIL = re.compile(r"[^a-z]+$")
_HEAD = re.compile(r"^[^a-z]+")
_READ_AS = str.maketrans("013457@$!", "oleastasi")


@cache
def _words() -> frozenset[str]:
    text = (Path(__file__).parent / "trivial_passwords.txt").read_text()
    return frozenset(line for line in text.split() if line)


def is_trivial(password: str) -> bool:
    """Whether it is a common word with something in front or behind, such a word twice, keys in a
    row either way, or made of very few characters."""
    plain = password.lower()
    if len(set(plain)) < _FEWEST_CHARACTERS:
        return True
    if any(plain in row or plain[::-1] in row for row in _ROWS):
        return True
    bare = _HEAD.sub("", _TAIL.sub("", plain))
    return any(_is_word(one) for one in (bare, bare.translate(_READ_AS)))


def _is_word(bare: str) -> bool:
    half = bare[: len(bare) // 2]
    return bare in _words() or (half * 2 == bare and half in _words())
