"""Categories and subcategories, from a CSV that a team can replace."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from nest_crate.catalogue.people.accounts import field_error
from nest_crate.core.errors import FormatError

__all__ = ["Vocabulary", "load_vocabulary"]

_OWN = Path(__file__).with_name("vocabulary.csv")
_COLUMNS = ("category", "subcategory", "words")
_LONGEST = 40


@dataclass(frozen=True)
class Vocabulary:
    """Subcategories by category, both in the file's order, and words that hint at one."""

    categories: dict[str, tuple[str, ...]]
    hints: dict[str, tuple[str, str]]

    def require(self, category: str, subcategory: str) -> None:
        """``DocumentError`` at the field, where the vocabulary has no such words."""
        if category and category not in self.categories:
            known = ", ".join(self.categories)
            raise field_error("category", f"{category!r} is not in the vocabulary: {known}")
        if subcategory and subcategory not in self.categories.get(category, ()):
            known = ", ".join(self.categories.get(category, ())) or "none without a category"
            raise field_error("subcategory", f"{subcategory!r} is not of {category!r}: {known}")

    def of_genre(self, genre: str) -> tuple[str, str] | None:
        """What a file's genre says, as "category / subcategory"; None in words of others."""
        parts = [one.strip().lower() for one in genre.split("/")]
        category, subcategory = parts[0], parts[1] if len(parts) > 1 else ""
        if category not in self.categories:
            return None
        return category, subcategory if subcategory in self.categories[category] else ""

    def guess(self, name: str) -> tuple[str, str]:
        """Category and subcategory that a name's words hint at; empty where none does."""
        for word in reversed(name.lower().replace("_", " ").replace("-", " ").split()):
            if word in self.hints:
                return self.hints[word]
        return "", ""


@lru_cache(maxsize=8)
def load_vocabulary(path: str = "") -> Vocabulary:
    """The vocabulary of a CSV file with the columns category, subcategory, words; ours without.

    Raises
    ------
    FormatError
        naming the line that is wrong.
    """
    file = Path(path) if path else _OWN
    try:
        text = file.read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        raise FormatError(f"The vocabulary {file} cannot be read: {error}") from error
    rows = csv.DictReader(text.splitlines())
    if tuple(rows.fieldnames or ()) != _COLUMNS:
        raise FormatError(f"{file}, line 1: the columns are {', '.join(_COLUMNS)}")
    categories: dict[str, list[str]] = {}
    hints: dict[str, tuple[str, str]] = {}
    for number, row in enumerate(rows, 2):
        category = (row["category"] or "").strip().lower()
        subcategory = (row["subcategory"] or "").strip().lower()
        if not category or max(len(category), len(subcategory)) > _LONGEST:
            raise FormatError(f"{file}, line {number}: a category has 1 to {_LONGEST} letters")
        known = categories.setdefault(category, [])
        if subcategory and subcategory not in known:
            known.append(subcategory)
        for word in (row["words"] or "").lower().split():
            hints.setdefault(word, (category, subcategory))
    if not categories:
        raise FormatError(f"{file}: the vocabulary holds no category")
    return Vocabulary({key: tuple(value) for key, value in categories.items()}, hints)
