"""Categories and subcategories, from a CSV: ours, the server's, or a library's own."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from nest_crate.catalogue.people.accounts import field_error
from nest_crate.core.errors import FormatError

__all__ = ["LONGEST_VOCABULARY", "Vocabulary", "load_vocabulary", "parse_vocabulary"]

_OWN = Path(__file__).with_name("vocabulary.csv")
_COLUMNS = ("category", "subcategory", "words")
_LONGEST = 40
_MOST_ROWS = 2000
LONGEST_VOCABULARY = 200_000
"""Characters of a CSV."""


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

    def knows(self, category: str, subcategory: str) -> bool:
        """Whether it has these words; none at all are known too."""
        if not category:
            return not subcategory
        return category in self.categories and (
            not subcategory or subcategory in self.categories[category]
        )

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

    def rows(self) -> Iterator[tuple[str, str, tuple[str, ...]]]:
        """Category, subcategory and the words that hint at them, in order."""
        for category, subcategories in self.categories.items():
            for subcategory in ("", *subcategories):
                place = (category, subcategory)
                words = tuple(word for word, at in self.hints.items() if at == place)
                if subcategory or words or not subcategories:
                    yield category, subcategory, words

    def as_csv(self) -> str:
        """The file that ``parse_vocabulary`` reads the same from."""
        written = io.StringIO()
        rows = csv.writer(written, lineterminator="\n")
        rows.writerow(_COLUMNS)
        for category, subcategory, words in self.rows():
            rows.writerow([category, subcategory, " ".join(words)])
        return written.getvalue()


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
    try:
        return parse_vocabulary(text)
    except FormatError as error:
        raise FormatError(f"{file}, {error.message}") from error


@lru_cache(maxsize=64)
def parse_vocabulary(text: str) -> Vocabulary:
    """The vocabulary that a CSV says. Words are separated by spaces.

    Raises
    ------
    FormatError
        naming the line that is wrong.
    """
    rows = csv.DictReader(text.removeprefix("\ufeff").splitlines())
    try:
        header = tuple((one or "").strip().lower() for one in rows.fieldnames or ())
        listed = list(rows)
    except csv.Error as error:
        raise FormatError(f"line {rows.line_num}: {error}") from error
    if header != _COLUMNS:
        raise FormatError(f"line 1: the columns are {', '.join(_COLUMNS)}")
    if len(listed) > _MOST_ROWS:
        raise FormatError(f"line {_MOST_ROWS + 2}: a vocabulary has {_MOST_ROWS} rows at most")
    categories: dict[str, list[str]] = {}
    hints: dict[str, tuple[str, str]] = {}
    for number, row in enumerate(listed, 2):
        category, subcategory, words = (_cell(value) for value in list(row.values())[:3])
        if None in row:
            raise FormatError(f"line {number}: there are more than three columns")
        if not category or max(len(category), len(subcategory)) > _LONGEST:
            raise FormatError(f"line {number}: a category has 1 to {_LONGEST} letters")
        known = categories.setdefault(category, [])
        if subcategory and subcategory not in known:
            known.append(subcategory)
        for word in words.split():
            hints.setdefault(word, (category, subcategory))
    if not categories:
        raise FormatError("line 2: the vocabulary holds no category")
    return Vocabulary({key: tuple(value) for key, value in categories.items()}, hints)


def _cell(value: object) -> str:
    """A cell as it is compared: without spaces around it, in small letters."""
    return " ".join(str(value or "").split()).lower()
