"""The columns of the index: read from the database, kept up to date."""

from __future__ import annotations

import json
import math
import threading
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.models import Sample, SoundRevision, Take, utc_now
from nest_crate.catalogue.search.query import RANGES
from nest_crate.catalogue.search.words import words_of
from nest_crate.core.analysis.features import FEATURE_COUNT

__all__ = ["CODED", "LOG", "Codes", "Rows", "SampleColumns"]

Rows = NDArray[np.int64]

# What was committed late carries an earlier time; it is looked for again for so long.
_OVERLAP = timedelta(seconds=60)
_AT_ONCE = 5000
# Before the name of a number, the column of its logarithm.
LOG = "log "
# A word in the name says more than one among tags, and that more than one in a description.
_NAME, _TAG, _TEXT = 4.0, 3.0, 1.0
CODED = ("category", "subcategory", "status", "note")
_NUMBERS = (*(name for name in RANGES if name != "root_hz"), "rating", "low_share_db")
_COLUMNS = (
    Sample.id,
    Sample.library_id,
    Sample.name,
    Sample.category,
    Sample.subcategory,
    Sample.tags,
    Sample.description,
    Sample.status,
    Sample.note,
    Sample.fundamental_hz,
    Sample.variation_group,
    Sample.created_by_id,
    Sample.channels,
    Sample.length_s,
    Sample.brightness_hz,
    Sample.decay_s,
    Sample.loudness_lufs,
    Sample.noisiness,
    Sample.rating,
    Sample.low_share_db,
    Sample.features,
    Sample.created,
    Sample.changed,
    Sample.deleted,
    SoundRevision.sound_id,
)


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
        self._lock = threading.RLock()
        self._count = 0
        self._row_of: dict[int, int] = {}
        self._read_at: datetime | None = None
        self._codes: dict[str, Codes] = {}
        self._columns: dict[str, NDArray[Any]] = {}
        self._names: list[str] = []
        self._groups: list[str] = []
        self._row_words: list[dict[str, float]] = []
        self._row_tags: list[tuple[str, ...]] = []
        self._by_word: dict[str, dict[int, float]] = {}
        self._by_tag: dict[str, set[int]] = {}
        # Made when they are first asked for after a change.
        self._tag_rows: dict[str, Rows] = {}
        self._name_ranks: Rows | None = None
        self._newest: Rows = np.zeros(0, dtype=np.int64)
        self._reserve(1024)

    def refresh(self, session: Session) -> int:
        """Read what changed since the last time; answers how many rows were read."""
        with self._lock:
            now = utc_now()
            if self._read_at is None:
                read = self._read(session, None)
            else:
                since = self._read_at - _OVERLAP
                recent = select(Sample.id, Sample.changed).where(Sample.changed > since)
                news = [row.id for row in session.execute(recent) if not self._knows(row)]
                parts = range(0, len(news), _AT_ONCE)
                read = sum(self._read(session, news[at : at + _AT_ONCE]) for at in parts)
            self._read_at = now
            return read

    def _knows(self, row: Any) -> bool:
        at = self._row_of.get(row.id)
        return at is not None and self._columns["changed"][at] == row.changed.timestamp()

    def _read(self, session: Session, ids: list[int] | None) -> int:
        """Take over rows, all of them where no ids are named."""
        query = (
            select(*_COLUMNS)
            .outerjoin(Take, Take.id == Sample.take_id)
            .outerjoin(SoundRevision, SoundRevision.id == Take.revision_id)
        )
        if ids is not None:
            query = query.where(Sample.id.in_(ids))
        read = 0
        for row in session.execute(query.execution_options(yield_per=_AT_ONCE)):
            self._put(row)
            read += 1
        return read

    def forget(self, sample_ids: Iterable[int]) -> None:
        """Leave out samples whose rows are gone for good."""
        with self._lock:
            for identifier in sample_ids:
                row = self._row_of.get(identifier)
                if row is not None:
                    self._columns["gone"][row] = True

    def _reserve(self, size: int) -> None:
        kinds: dict[str, Any] = {
            "id": np.int64,
            "library_id": np.int32,
            "maker": np.int32,
            "channels": np.int8,
            "sound_id": np.int32,
            "root_hz": np.float32,
            "created": np.float64,
            "changed": np.float64,
            "deleted": np.bool_,
            "gone": np.bool_,
            **dict.fromkeys(CODED, np.int32),
            **dict.fromkeys(_NUMBERS, np.float32),
            **{f"{LOG}{name}": np.float32 for name, logarithmic in RANGES.items() if logarithmic},
        }
        for name, kind in kinds.items():
            old = self._columns.get(name)
            made = np.zeros(size, dtype=kind)
            if old is not None:
                made[: old.size] = old
            self._columns[name] = made
        vectors = np.zeros((size, FEATURE_COUNT), dtype=np.float32)
        if "features" in self._columns:
            vectors[: self._columns["features"].shape[0]] = self._columns["features"]
        self._columns["features"] = vectors

    def _put(self, row: Any) -> None:
        """Take over one row."""
        columns, changed = self._columns, row.changed.timestamp()
        at = self._row_of.get(row.id)
        if at is None:
            at = self._count
            if at == columns["id"].size:
                self._reserve(2 * at)
                columns = self._columns
            self._count += 1
            self._row_of[row.id] = at
            self._names.append("")
            self._groups.append("")
            self._row_words.append({})
            self._row_tags.append(())
        columns["id"][at] = row.id
        columns["library_id"][at] = row.library_id
        columns["maker"][at] = row.created_by_id
        columns["channels"][at] = row.channels
        columns["sound_id"][at] = row.sound_id or 0
        columns["root_hz"][at] = row.fundamental_hz or np.nan
        columns["created"][at] = row.created.timestamp()
        columns["changed"][at] = changed
        columns["deleted"][at] = row.deleted is not None
        columns["gone"][at] = False
        for name in CODED:
            codes = self._codes.setdefault(name, Codes())
            columns[name][at] = codes.of(getattr(row, name) or "")
        for name in _NUMBERS:
            columns[name][at] = getattr(row, name)
        for name, logarithmic in RANGES.items():
            if logarithmic:
                value = float(columns[name][at])
                columns[f"{LOG}{name}"][at] = math.log(value) if value > 0.0 else np.nan
        vector = np.frombuffer(row.features, dtype=np.float32)
        columns["features"][at] = vector if vector.size == FEATURE_COUNT else 0.0
        if self._names[at] != row.name.lower():
            self._names[at] = row.name.lower()
            self._name_ranks = None
        self._groups[at] = row.variation_group
        self._put_words(at, row)

    def _put_words(self, at: int, row: Any) -> None:
        for word in self._row_words[at]:
            self._by_word[word].pop(at, None)
        for tag in self._row_tags[at]:
            self._by_tag[tag].discard(at)
            self._tag_rows.pop(tag, None)
        tags = json.loads(row.tags) if isinstance(row.tags, str) else row.tags
        weights: dict[str, float] = {}
        texts = [
            (_TEXT, row.description),
            (_TAG, f"{row.category} {row.subcategory} {' '.join(tags)} {row.variation_group}"),
            (_NAME, row.name),
        ]
        for weight, text in texts:
            weights |= dict.fromkeys(words_of(text), weight)
        for word, weight in weights.items():
            self._by_word.setdefault(word, {})[at] = weight
        for tag in tags:
            self._by_tag.setdefault(tag, set()).add(at)
            self._tag_rows.pop(tag, None)
        self._row_words[at], self._row_tags[at] = weights, tuple(tags)

    def _rows_of_tag(self, tag: str) -> Rows:
        rows = self._tag_rows.get(tag)
        if rows is None:
            kept = self._by_tag.get(tag, ())
            rows = self._tag_rows[tag] = np.fromiter(kept, np.int64, len(kept))
        return rows

    def _newest_ranks(self) -> Rows:
        """The place of each row among all, the newest first."""
        if self._newest.size != self._count:
            used = slice(0, self._count)
            order = np.lexsort((self._columns["id"][used], -self._columns["created"][used]))
            self._newest = np.empty(self._count, dtype=np.int64)
            self._newest[order] = np.arange(self._count)
        return self._newest

    def _ranks(self) -> Rows:
        """The place of each row among all in the order of their names."""
        if self._name_ranks is None or self._name_ranks.size < self._count:
            _, ranks = np.unique(np.array(self._names), return_inverse=True)
            self._name_ranks = np.asarray(ranks, dtype=np.int64)
        return self._name_ranks
