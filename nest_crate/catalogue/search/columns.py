"""The columns of the index, put together row by row."""

from __future__ import annotations

import json
import threading
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nest_crate.catalogue.search.query import RANGES
from nest_crate.catalogue.search.words import words_of
from nest_crate.core.analysis.features.features import FEATURE_COUNT

__all__ = ["CODED", "LOG", "SEVERAL_NOTES", "Codes", "Rows", "SampleColumns", "microseconds"]

Rows = NDArray[np.int64]

# Before the name of a number, the column of its logarithm.
LOG = "log "
# A word in the name says more than one among tags, and that more than one in a description.
_NAME, _TAG, _TEXT = 4.0, 3.0, 1.0
# What stands for the note of a sample that holds several.
SEVERAL_NOTES = "several"
CODED = ("category", "subcategory", "status", "note", "folder")
_NUMBERS = (*(name for name in RANGES if name != "root_hz"), "rating", "low_share_db")

_NO_VECTOR = np.zeros(FEATURE_COUNT, dtype=np.float32)


def microseconds(moment: datetime) -> int:
    """A moment without a zone as a whole number."""
    return int(np.datetime64(moment, "us").astype(np.int64))


def _vector(stored: bytes) -> NDArray[np.float32]:
    whole = len(stored) == _NO_VECTOR.nbytes
    return np.frombuffer(stored, dtype=np.float32) if whole else _NO_VECTOR


@dataclass
class Codes:
    """Texts by number, so that a column of them is an array."""

    texts: list[str] = field(default_factory=list)
    numbers: dict[str, int] = field(default_factory=dict)

    def of(self, text: str) -> int:
        if text not in self.numbers:
            self.numbers[text] = len(self.texts)
            self.texts.append(text)
        return self.numbers[text]


class SampleColumns:
    """The rows of all samples, column by column, and their words and tags."""

    def __init__(self) -> None:
        self.lock = threading.RLock()
        self.count = 0
        self.row_of: dict[int, int] = {}
        self.codes: dict[str, Codes] = {}
        self.columns: dict[str, NDArray[Any]] = {}
        self.names: list[str] = []
        self.groups: list[str] = []
        self.row_words: list[dict[str, float]] = []
        self.row_tags: list[tuple[str, ...]] = []
        self.by_word: dict[str, dict[int, float]] = {}
        self.by_tag: dict[str, set[int]] = {}
        # Made when they are first asked for after a change.
        self.tag_rows: dict[str, Rows] = {}
        self.name_ranks: Rows | None = None
        self.newest: Rows = np.zeros(0, dtype=np.int64)
        self.reserve(1024)

    def reserve(self, size: int) -> None:
        kinds: dict[str, Any] = {
            "id": np.int64,
            "library_id": np.int32,
            "maker": np.int32,
            "channels": np.int8,
            "sound_id": np.int32,
            "root_hz": np.float32,
            "created": np.int64,
            "changed": np.int64,
            "deleted": np.bool_,
            "gone": np.bool_,
            **dict.fromkeys(CODED, np.int32),
            **dict.fromkeys(_NUMBERS, np.float32),
            **{f"{LOG}{name}": np.float32 for name, logarithmic in RANGES.items() if logarithmic},
        }
        for name, kind in kinds.items():
            old = self.columns.get(name)
            made = np.zeros(size, dtype=kind)
            if old is not None:
                made[: old.size] = old
            self.columns[name] = made
        vectors = np.zeros((size, FEATURE_COUNT), dtype=np.float32)
        if "features" in self.columns:
            vectors[: self.columns["features"].shape[0]] = self.columns["features"]
        self.columns["features"] = vectors

    def place(self, identifier: int) -> int:
        """The row of a sample, a new one where it has none yet."""
        at = self.row_of.get(identifier)
        if at is None:
            at = self.row_of[identifier] = self.count
            self.count += 1
            self.names.append("")
            self.groups.append("")
            self.row_words.append({})
            self.row_tags.append(())
        return at

    def put(self, rows: Sequence[Any], even_older: bool) -> int:
        """Take over rows; who read earlier than another thread does not bring back what was."""
        if not even_older:
            rows = [row for row in rows if not self.is_newer(row)]
        if not rows:
            return 0
        places = np.array([self.place(row.id) for row in rows])
        while self.columns["id"].size < self.count:
            self.reserve(2 * self.columns["id"].size)
        columns = self.columns
        fields = dict(zip(rows[0]._fields, zip(*rows, strict=True), strict=True))
        columns["id"][places] = fields["id"]
        columns["library_id"][places] = fields["library_id"]
        columns["maker"][places] = fields["created_by_id"]
        columns["channels"][places] = fields["channels"]
        columns["sound_id"][places] = [one or 0 for one in fields["sound_id"]]
        columns["root_hz"][places] = [one or np.nan for one in fields["fundamental_hz"]]
        for name in ("created", "changed"):
            columns[name][places] = np.array(fields[name], "datetime64[us]").astype(np.int64)
        columns["deleted"][places] = [one is not None for one in fields["deleted"]]
        columns["gone"][places] = False
        for name in CODED:
            codes = self.codes.setdefault(name, Codes())
            columns[name][places] = [codes.of(one or "") for one in fields[name]]
        for name in _NUMBERS:
            columns[name][places] = fields[name]
        with np.errstate(divide="ignore", invalid="ignore"):
            for name in (name for name, logarithmic in RANGES.items() if logarithmic):
                values = columns[name][places].astype(np.float64)
                columns[f"{LOG}{name}"][places] = np.where(values > 0.0, np.log(values), np.nan)
        columns["features"][places] = [_vector(one) for one in fields["features"]]
        for at, row in zip(places.tolist(), rows, strict=True):
            if self.names[at] != row.name.lower():
                self.names[at] = row.name.lower()
                self.name_ranks = None
            self.groups[at] = row.variation_group
            self.put_words(at, row)
        return len(rows)

    def is_newer(self, row: Any) -> bool:
        at = self.row_of.get(row.id)
        return at is not None and int(self.columns["changed"][at]) > microseconds(row.changed)

    def put_words(self, at: int, row: Any) -> None:
        for word in self.row_words[at]:
            self.by_word[word].pop(at, None)
        for tag in self.row_tags[at]:
            self.by_tag[tag].discard(at)
            self.tag_rows.pop(tag, None)
        tags = json.loads(row.tags) if isinstance(row.tags, str) else row.tags
        weights: dict[str, float] = {}
        kinds = (row.category, row.subcategory, *tags, row.variation_group, row.folder)
        texts = [(_TEXT, row.description), (_TAG, " ".join(kinds)), (_NAME, row.name)]
        for weight, said in texts:
            weights |= dict.fromkeys(words_of(said), weight)
        for word, weight in weights.items():
            self.by_word.setdefault(word, {})[at] = weight
        for tag in tags:
            self.by_tag.setdefault(tag, set()).add(at)
            self.tag_rows.pop(tag, None)
        self.row_words[at], self.row_tags[at] = weights, tuple(tags)

    def rows_of_tag(self, tag: str) -> Rows:
        rows = self.tag_rows.get(tag)
        if rows is None:
            kept = self.by_tag.get(tag, ())
            rows = self.tag_rows[tag] = np.fromiter(kept, np.int64, len(kept))
        return rows

    def newest_ranks(self) -> Rows:
        """The place of each row among all, the newest first."""
        if self.newest.size != self.count:
            used = slice(0, self.count)
            order = np.lexsort((self.columns["id"][used], -self.columns["created"][used]))
            self.newest = np.empty(self.count, dtype=np.int64)
            self.newest[order] = np.arange(self.count)
        return self.newest

    def ranks(self) -> Rows:
        """The place of each row among all in the order of their names."""
        if self.name_ranks is None or self.name_ranks.size < self.count:
            _, ranks = np.unique(np.array(self.names), return_inverse=True)
            self.name_ranks = np.asarray(ranks, dtype=np.int64)
        return self.name_ranks
