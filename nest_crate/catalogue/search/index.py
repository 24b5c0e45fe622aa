"""The samples of all libraries as arrays in memory, kept up to date from the database.

Counting facets over a hundred thousand rows takes a database a second or so; over arrays it takes
a few milliseconds. The database stays the truth: before each search what changed since is read,
and every minute the two are held against each other.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from nest_crate.catalogue.search.columns import CODED, LOG, Codes, Rows, SampleColumns
from nest_crate.catalogue.search.query import RANGES, Found, RangeFacet, SampleQuery
from nest_crate.catalogue.search.table_reader import TableReader
from nest_crate.catalogue.search.words import likely_words, words_of
from nest_crate.core.analysis.features.features import feature_distances

__all__ = ["SampleIndex"]

Mask = NDArray[np.bool_]

_RANGE_PARTS = 24
_MOST_COUNTED = 60


class SampleIndex:
    """One for a process; every call may come from another thread."""

    def __init__(self) -> None:
        self._held = SampleColumns()
        self._reader = TableReader(self._held)

    def refresh(self, session: Session) -> int:
        """Read what changed since the last time; answers how many rows were read."""
        return self._reader.refresh(session)

    def check(self, session: Session) -> int:
        """Find what ``refresh`` cannot; answers how many rows differed."""
        return self._reader.check(session)

    def search(
        self, query: SampleQuery, visible: Sequence[int], *, offset: int = 0, limit: int = 100
    ) -> Found:
        """One page of what a query finds in the libraries that may be seen."""
        with self._held.lock:
            fixed, score, read_as = self._fixed(query, visible)
            masks = self._masks(query)
            total = fixed.copy()
            for mask in masks.values():
                total &= mask
            rows = np.flatnonzero(total)
            order = self._ordered(rows, query, score, offset + limit)
            page = self._held.columns["id"][order[offset : offset + limit]]
            return Found(
                ids=page.tolist(),
                total=int(rows.size),
                choices=self._choices(fixed, masks),
                ranges=self._ranges(fixed, masks),
                read_as=read_as,
            )

    def ids(self, query: SampleQuery, visible: Sequence[int]) -> list[int]:
        """The ids of all that a query finds, in order."""
        with self._held.lock:
            fixed, score, _ = self._fixed(query, visible)
            for mask in self._masks(query).values():
                fixed &= mask
            order = self._ordered(np.flatnonzero(fixed), query, score, None)
            return [int(one) for one in self._held.columns["id"][order]]

    def state_of(self, library_id: int) -> str:
        """What differs as soon as a sample of a library is added, changed or binned."""
        with self._held.lock:
            used = slice(0, self._held.count)
            columns = self._held.columns
            here = (columns["library_id"][used] == library_id) & ~columns["gone"][used]
            changed = columns["changed"][used][here]
            return f"{changed.size}-{int(changed.max(initial=0))}"

    def vectors(self, sample_ids: Sequence[int]) -> NDArray[np.float32]:
        """Feature vectors (rows, FEATURE_COUNT) of samples."""
        with self._held.lock:
            rows = [self._held.row_of[one] for one in sample_ids]
            return np.asarray(self._held.columns["features"][rows])

    def drawn(self, sample_ids: Sequence[int]) -> tuple[list[str], list[float]]:
        """Categories and lengths in seconds of samples."""
        with self._held.lock:
            rows = [self._held.row_of[one] for one in sample_ids]
            texts = self._held.codes.setdefault("category", Codes()).texts
            codes = self._held.columns["category"][rows].tolist()
            return [texts[one] for one in codes], self._held.columns["length_s"][rows].tolist()

    def median(
        self, name: str, *, libraries: Sequence[int], category: str, subcategory: str
    ) -> tuple[float, int]:
        """The median of a number over the samples of a kind, and how many there are."""
        (_, middle, _), count = self.quartiles(
            name, libraries=libraries, category=category, subcategory=subcategory
        )
        return middle, count

    def quartiles(
        self, name: str, *, libraries: Sequence[int], category: str, subcategory: str
    ) -> tuple[tuple[float, float, float], int]:
        """A number's quartiles over the samples of a kind, and how many of them have it. Without a
        subcategory they are of the whole category."""
        with self._held.lock:
            used = slice(0, self._held.count)
            of = np.ones(self._held.count, dtype=np.bool_)
            kind = [("category", category)]
            if subcategory:
                kind.append(("subcategory", subcategory))
            for column, text in kind:
                code = self._held.codes.setdefault(column, Codes()).numbers.get(text, -1)
                of &= self._held.columns[column][used] == code
            of &= ~self._held.columns["deleted"][used] & ~self._held.columns["gone"][used]
            of &= _among(self._held.columns["library_id"][used], libraries)
            values = self._held.columns[name][used][of]
        values = values[np.isfinite(values)]
        if values.size == 0:
            return (0.0, 0.0, 0.0), 0
        low, middle, high = (float(one) for one in np.percentile(values, (25, 50, 75)))
        return (low, middle, high), int(values.size)

    def _fixed(
        self, query: SampleQuery, visible: Sequence[int]
    ) -> tuple[Mask, NDArray[np.float32], dict[str, list[str]]]:
        """What is no facet: may be seen, bin or not, words; with the words' score by row."""
        used = slice(0, self._held.count)
        columns = self._held.columns
        mask = _among(columns["library_id"][used], visible) & ~columns["gone"][used]
        mask &= columns["deleted"][used] == query.binned
        if query.sound_id is not None:
            mask &= columns["sound_id"][used] == query.sound_id
        if query.group:
            mask &= np.array([one == query.group for one in self._held.groups], dtype=np.bool_)
        score = np.zeros(self._held.count, dtype=np.float32)
        read_as: dict[str, list[str]] = {}
        for typed in words_of(query.words)[:12]:
            fits = likely_words(typed, self._held.by_word)
            if fits and typed not in fits and not any(one.startswith(typed) for one in fits):
                read_as[typed] = sorted(fits, key=lambda one: -fits[one])[:3]
            best = np.zeros(self._held.count, dtype=np.float32)
            for word, fit in fits.items():
                places = self._held.by_word[word]
                at = np.fromiter(places.keys(), dtype=np.int64, count=len(places))
                weight = np.fromiter(places.values(), dtype=np.float32, count=len(places))
                best[at] = np.maximum(best[at], fit * weight)
            mask &= best > 0.0
            score += best
        return mask, score, read_as

    def _masks(self, query: SampleQuery) -> dict[str, Mask]:
        """One mask for each facet that is chosen."""
        used = slice(0, self._held.count)
        columns = self._held.columns
        masks: dict[str, Mask] = {}
        chosen: dict[str, Sequence[str]] = {
            "category": query.categories,
            "subcategory": query.subcategories,
            "status": query.statuses,
            "note": query.notes,
            "folder": query.folders,
        }
        for name, texts in chosen.items():
            if texts:
                codes = self._held.codes.setdefault(name, Codes())
                wanted = [codes.numbers.get(one, -1) for one in texts]
                masks[name] = np.isin(columns[name][used], wanted)
        if query.libraries:
            masks["library"] = _among(columns["library_id"][used], query.libraries)
        if query.makers:
            masks["maker"] = _among(columns["maker"][used], query.makers)
        if query.channels:
            masks["channels"] = np.isin(columns["channels"][used], query.channels)
        for tag in query.tags:
            mask = masks.setdefault("tag", np.ones(self._held.count, dtype=np.bool_))
            with_tag = np.zeros(self._held.count, dtype=np.bool_)
            with_tag[self._held.rows_of_tag(tag)] = True
            mask &= with_tag
        for name, (low, high) in query.ranges.items():
            values = columns[name][used]
            # A number that is not there (no pitch) lies in no range.
            mask = np.isfinite(values)
            if low is not None:
                mask &= values >= np.float32(low) * (1 - 1e-6 * np.sign(low))
            if high is not None:
                mask &= values <= np.float32(high) * (1 + 1e-6 * np.sign(high))
            masks[name] = mask
        return masks

    def _ordered(
        self, rows: Rows, query: SampleQuery, score: NDArray[np.float32], end: int | None
    ) -> Rows:
        """Rows in the order that is asked for, the first ``end`` of them at least."""
        columns = self._held.columns
        key: NDArray[Any]
        if query.like is not None and query.like in self._held.row_of:
            vectors = columns["features"][: self._held.count]
            wanted = vectors[self._held.row_of[query.like]]
            # To pick out most of the rows would take longer than the others' distances.
            most = 2 * rows.size > self._held.count
            key = (
                feature_distances(vectors, wanted)[rows]
                if most
                else feature_distances(vectors[rows], wanted)
            )
            # The sample itself comes first, also where others have all of its features.
            key[rows == self._held.row_of[query.like]] = -1.0
            return np.asarray(rows[_first(key, end)])
        newest = self._held.newest_ranks()[rows]
        if query.sort == "newest" or (query.sort == "best" and not query.words.strip()):
            key = newest
        elif query.sort == "best":
            # Ranks lie below a million times the least that scores differ by.
            key = newest - 1e9 * score[rows].astype(np.float64)
        elif query.sort == "name":
            key = self._held.ranks()[rows]
        else:
            key = columns[query.sort][rows]
            order = np.lexsort((newest, key))
            return np.asarray(rows[order[::-1] if query.descending else order])
        if query.sort != "best" and query.descending:
            key = -key
        return np.asarray(rows[_first(key, end)])

    def _choices(self, fixed: Mask, masks: dict[str, Mask]) -> dict[str, dict[str, int]]:
        """Counts by value of each facet."""
        found: dict[str, dict[str, int]] = {}
        used = slice(0, self._held.count)
        for name in CODED:
            rows = self._without(fixed, masks, name)
            codes = self._held.codes.setdefault(name, Codes())
            counts = np.bincount(self._held.columns[name][used][rows], minlength=len(codes.texts))
            found[name] = _most({t: int(n) for t, n in zip(codes.texts, counts, strict=True)})
        for name, column in (("library", "library_id"), ("maker", "maker"), ("channels", None)):
            rows = self._without(fixed, masks, name)
            values = self._held.columns[column or name][used][rows]
            counts = np.bincount(values)
            found[name] = _most({str(k): int(counts[k]) for k in np.flatnonzero(counts)})
        # Tags add to each other: what is counted has those chosen already.
        inside = self._without(fixed, masks, "")
        found["tag"] = _most(
            {
                tag: int(np.count_nonzero(inside[self._held.rows_of_tag(tag)]))
                for tag, at in self._held.by_tag.items()
                if at
            }
        )
        return found

    def _ranges(self, fixed: Mask, masks: dict[str, Mask]) -> dict[str, RangeFacet]:
        found: dict[str, RangeFacet] = {}
        for name, logarithmic in RANGES.items():
            rows = self._without(fixed, masks, name)
            # Numbers with a logarithmic scale are kept as logarithms.
            values = self._held.columns[f"{LOG}{name}" if logarithmic else name][
                : self._held.count
            ][rows]
            values = values[np.isfinite(values)]
            if not values.size:
                continue
            low, high = float(values.min()), float(values.max())
            parts = _RANGE_PARTS if high > low else 1
            places = (values - low) * (parts / max(high - low, 1e-9))
            counts = np.bincount(np.minimum(places.astype(np.int64), parts - 1), minlength=parts)
            ends = (math.exp(low), math.exp(high)) if logarithmic else (low, high)
            found[name] = RangeFacet(
                low=ends[0], high=ends[1], logarithmic=logarithmic, counts=counts.tolist()
            )
        return found

    @staticmethod
    def _without(fixed: Mask, masks: dict[str, Mask], name: str) -> Mask:
        """What is found without one facet's own choice."""
        rows = fixed
        for other, mask in masks.items():
            if other != name:
                rows = rows & mask
        return rows


def _among(values: NDArray[Any], wanted: Sequence[int]) -> Mask:
    """Which whole numbers from 0 on are among some; far quicker than sorting both."""
    table = np.zeros(int(values.max(initial=0)) + 1, dtype=np.bool_)
    table[[one for one in wanted if 0 <= one < table.size]] = True
    return np.asarray(table[values])


def _first(key: NDArray[Any], end: int | None) -> Rows:
    """The order of keys, the first ``end`` of them at least, the rest left out."""
    if end is None or key.size < 4 * end:
        return np.asarray(np.argsort(key, kind="stable"))
    # All that are as near as the last, so that like ones keep their order from page to page.
    near = np.flatnonzero(key <= np.partition(key, end - 1)[end - 1])
    return np.asarray(near[np.argsort(key[near], kind="stable")])


def _most(counts: dict[str, int]) -> dict[str, int]:
    """The largest counts, without what is empty or not there."""
    there = [(text, count) for text, count in counts.items() if count and text]
    return dict(sorted(there, key=lambda one: (-one[1], one[0]))[:_MOST_COUNTED])
