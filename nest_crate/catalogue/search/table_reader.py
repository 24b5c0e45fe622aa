"""The columns of the index, read from the database and kept up to date."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import numpy as np
from sqlalchemy import case, func, select, text
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import Sample, SoundRevision, Take, utc_now
from nest_crate.catalogue.search.columns import SEVERAL_NOTES, SampleColumns, microseconds

__all__ = ["TableReader"]

# What was committed late carries an earlier time; it is looked for again for so long.
_OVERLAP = timedelta(seconds=60)
_AT_ONCE = 5000
_EPOCH_US = int(np.datetime64("2000-01-01", "us").astype(np.int64))
_COLUMNS = (
    Sample.id,
    Sample.library_id,
    Sample.name,
    Sample.category,
    Sample.subcategory,
    Sample.tags,
    Sample.description,
    Sample.status,
    case((Sample.several_notes, SEVERAL_NOTES), else_=Sample.note).label("note"),
    Sample.fundamental_hz,
    Sample.variation_group,
    Sample.folder,
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


class TableReader:
    """Keeps columns up to date with the table of samples."""

    def __init__(self, held: SampleColumns) -> None:
        self._held = held
        self._read_at: datetime | None = None

    def refresh(self, session: Session) -> int:
        """Read what changed since the last time; answers how many rows were read."""
        with self._held.lock:
            now = utc_now()
            if self._read_at is None:
                read = self._read(session, None)
            else:
                since = self._read_at - _OVERLAP
                recent = select(Sample.id, Sample.changed).where(Sample.changed > since)
                news = [row.id for row in session.execute(recent) if not self._knows(row)]
                read = self._read(session, news)
            self._read_at = now
            return read

    def check(self, session: Session) -> int:
        """Find what ``refresh`` cannot: rows that were written with times of long ago, or are gone.

        Two sums over one index of the database say whether anything differs at all. Answers how
        many rows did.
        """
        if self._read_at is None:
            return 0
        since = func.timestampdiff(text("MICROSECOND"), "2000-01-01", Sample.changed)
        count, total = session.execute(select(func.count(), func.sum(since))).one()
        with self._held.lock:
            here = ~self._held.columns["gone"][: self._held.count]
            known = self._held.columns["changed"][: self._held.count][here] - _EPOCH_US
            # Sums of 64 bits run over, both alike.
            if known.size == count and int(known.view(np.uint64).sum()) == int(total or 0) % 2**64:
                return 0
        rows = session.execute(select(Sample.id, Sample.changed)).all()
        with self._held.lock:
            there = {row.id for row in rows}
            lost = [one for one in self._held.row_of if one not in there and not self._is_gone(one)]
            at = np.array([self._held.row_of[one] for one in lost], dtype=np.int64)
            self._held.columns["gone"][at] = True
            others = [row.id for row in rows if not self._knows(row) or self._is_gone(row.id)]
            return len(lost) + self._read(session, others, even_older=True)

    def _knows(self, row: Any) -> bool:
        at = self._held.row_of.get(row.id)
        return at is not None and int(self._held.columns["changed"][at]) == microseconds(
            row.changed
        )

    def _is_gone(self, identifier: int) -> bool:
        at = self._held.row_of.get(identifier)
        return at is not None and bool(self._held.columns["gone"][at])

    def _read(self, session: Session, ids: list[int] | None, *, even_older: bool = False) -> int:
        """Take over rows, all of them where no ids are named."""
        query = (
            select(*_COLUMNS)
            .outerjoin(Take, Take.id == Sample.take_id)
            .outerjoin(SoundRevision, SoundRevision.id == Take.revision_id)
            .execution_options(yield_per=_AT_ONCE)
        )
        parts = (
            [None] if ids is None else [ids[n : n + _AT_ONCE] for n in range(0, len(ids), _AT_ONCE)]
        )
        read = 0
        for part in parts:
            found = session.execute(query if part is None else query.where(Sample.id.in_(part)))
            for rows in found.partitions():
                read += self._held.put(rows, even_older)
        return read
