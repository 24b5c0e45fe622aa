"""Searching for an account: what it may see, one page of rows, the names that facets need."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import Account, Library, Sample, SavedSearch
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library, visible_library_ids
from nest_crate.catalogue.samples.takes import WITH_LINEAGE, require_sample
from nest_crate.catalogue.search import Found, SampleIndex, SampleQuery
from nest_crate.core.analysis.features.map import flat_map

__all__ = [
    "LibraryMap",
    "Page",
    "found_ids",
    "keep_search",
    "library_map",
    "remove_search",
    "search_samples",
    "searches_of",
]


@dataclass(frozen=True)
class Page:
    """What was found, the samples of this page in order, and names of libraries and makers."""

    found: Found
    samples: list[Sample]
    names: dict[str, dict[str, str]]


def search_samples(
    session: Session,
    account: CurrentAccount,
    index: SampleIndex,
    query: SampleQuery,
    *,
    offset: int,
    limit: int,
) -> Page:
    """One page of what an account finds in the libraries that it may see."""
    if query.like is not None:
        require_sample(session, account, query.like)
    index.refresh(session)
    found = index.search(query, visible_library_ids(session, account), offset=offset, limit=limit)
    rows = session.scalars(
        select(Sample)
        .where(Sample.id.in_(found.ids))
        # A page shows no features.
        .options(*WITH_LINEAGE, defer(Sample.features))
    ).all()
    by_id = {one.id: one for one in rows}
    samples = [by_id[one] for one in found.ids if one in by_id]
    return Page(found, samples, _names(session, found))


def found_ids(
    session: Session, account: CurrentAccount, index: SampleIndex, query: SampleQuery, *, most: int
) -> list[int]:
    """The ids of all that an account finds, in order, ``most`` of them at most."""
    if query.like is not None:
        require_sample(session, account, query.like)
    index.refresh(session)
    return index.ids(query, visible_library_ids(session, account))[:most]


def _names(session: Session, found: Found) -> dict[str, dict[str, str]]:
    libraries = [int(one) for one in found.choices.get("library", {})]
    makers = [int(one) for one in found.choices.get("maker", {})]
    library_rows = session.execute(
        select(Library.id, Library.name).where(Library.id.in_(libraries))
    )
    maker_rows = session.execute(select(Account.id, Account.name).where(Account.id.in_(makers)))
    return {
        "library": {str(key): name for key, name in library_rows},
        "maker": {str(key): name for key, name in maker_rows},
    }


@dataclass(frozen=True)
class LibraryMap:
    """Samples of a library by id, with places (rows, 2) from 0 to 1 where near means alike, and
    what is drawn of each."""

    ids: list[int]
    places: NDArray[np.float64]
    categories: list[str]
    lengths_s: list[float]


def library_map(
    session: Session, account: CurrentAccount, index: SampleIndex, library_id: int
) -> LibraryMap:
    """All samples of a library on a map."""
    require_library(session, account, library_id)
    index.refresh(session)
    ids = sorted(index.ids(SampleQuery(libraries=[library_id]), [library_id]))
    places = flat_map(index.vectors(ids)) if ids else np.zeros((0, 2))
    return LibraryMap(ids, places, *index.drawn(ids))


def searches_of(session: Session, account: CurrentAccount) -> list[SavedSearch]:
    """The account's saved searches by name."""
    query = select(SavedSearch).where(SavedSearch.account_id == account.id)
    return list(session.scalars(query.order_by(SavedSearch.name)))


def keep_search(
    session: Session, account: CurrentAccount, *, name: str, query: SampleQuery
) -> SavedSearch:
    """Keep a search under a name; the same name replaces the earlier one."""
    own = SavedSearch.account_id == account.id
    kept = session.scalar(select(SavedSearch).where(own, SavedSearch.name == name.strip()))
    if kept is None:
        kept = SavedSearch(account_id=account.id, name=name.strip())
        session.add(kept)
    kept.query = query.model_dump(mode="json", exclude_defaults=True)
    session.flush()
    return kept


def remove_search(session: Session, account: CurrentAccount, search_id: int) -> None:
    """Forget a saved search."""
    kept = session.get(SavedSearch, search_id)
    if kept is None or kept.account_id != account.id:
        raise NotFound(f"There is no search {search_id}")
    session.delete(kept)
