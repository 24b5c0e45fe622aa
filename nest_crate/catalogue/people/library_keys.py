"""Keys of libraries: their names in addresses, in scripts of builds and on the command line."""

from __future__ import annotations

import re
from collections.abc import Container

from anyascii import anyascii

__all__ = ["LONGEST_KEY", "free_key", "is_key"]

LONGEST_KEY = 60
# A key has a letter, so that it is never read as a number.
_KEY = re.compile(r"(?=.*[a-z])[a-z0-9]+(-[a-z0-9]+)*")


def is_key(text: str) -> bool:
    """Whether a text can be a key: small letters, digits and single hyphens between them."""
    return len(text) <= LONGEST_KEY and _KEY.fullmatch(text) is not None


def free_key(name: str, taken: Container[str]) -> str:
    """A key like a name that is not taken yet: *Glasshouse Größen* gives ``glasshouse-grossen``."""
    words = re.findall(r"[a-z0-9]+", str(anyascii(name)).lower())
    plain = "-".join(words)[: LONGEST_KEY - 6].strip("-")
    if not is_key(plain):
        plain = f"library-{plain}".strip("-")
    number, key = 1, plain
    while key in taken:
        number += 1
        key = f"{plain}-{number}"
    return key
