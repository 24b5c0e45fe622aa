"""Results of blind tests, kept with a library so that a team can vote."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.comparing.sides import FoundSide
from nest_crate.catalogue.db.errors import NotPossible
from nest_crate.catalogue.db.shared_models import BlindTest
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import require_library

__all__ = ["blind_tests_of", "keep_ranking", "keep_trials"]

_MOST_TRIALS = 200
_MOST_LISTED = 100


def _library(sides: Sequence[FoundSide]) -> int:
    """The library that keeps results: that of the first side which is in one."""
    for one in sides:
        if one.library_id is not None:
            return one.library_id
    raise NotPossible("Results are kept with a library; none of the sides is in one yet")


def _key(sides: Sequence[FoundSide]) -> str:
    return hashlib.sha256(" | ".join(one.key for one in sides).encode()).hexdigest()


def keep_trials(
    session: Session,
    account: CurrentAccount,
    sides: Sequence[FoundSide],
    answers: Sequence[tuple[int, int]],
) -> BlindTest:
    """Keep an A/B/X test: for each trial which of the two sides X was, and which was said.

    Raises
    ------
    NotPossible
        where there are more than two sides, or none is in a library.
    DocumentError
        at ``answers``.
    """
    if len(sides) != 2:
        raise NotPossible("An A/B/X test is of two sides")
    if not 1 <= len(answers) <= _MOST_TRIALS:
        raise field_error("answers", f"a test has 1 to {_MOST_TRIALS} trials")
    test = _made(session, account, sides, "abx")
    test.trials = len(answers)
    test.correct = sum(was == said for was, said in answers)
    return test


def keep_ranking(
    session: Session, account: CurrentAccount, sides: Sequence[FoundSide], ranking: Sequence[int]
) -> BlindTest:
    """Keep a blind ranking: the places of the sides, the best first.

    Raises
    ------
    NotPossible
        where no side is in a library.
    DocumentError
        at ``ranking``, where it does not name each side once.
    """
    if sorted(ranking) != list(range(len(sides))):
        raise field_error("ranking", "it names each side once, from 0 on")
    test = _made(session, account, sides, "ranking")
    test.ranking = list(ranking)
    return test


def _made(
    session: Session, account: CurrentAccount, sides: Sequence[FoundSide], kind: str
) -> BlindTest:
    library_id = _library(sides)
    require_library(session, account, library_id, "test.make")
    test = BlindTest(
        library_id=library_id,
        account_id=account.id,
        key=_key(sides),
        names=[f"{one.name} ({one.detail})" for one in sides],
        kind=kind,
        trials=0,
        correct=0,
        ranking=[],
    )
    session.add(test)
    session.flush()
    session.refresh(test)
    return test


def blind_tests_of(
    session: Session, account: CurrentAccount, sides: Sequence[FoundSide]
) -> Sequence[BlindTest]:
    """The results for just these sides, newest first; none where no library keeps any."""
    if all(one.library_id is None for one in sides):
        return []
    library_id = _library(sides)
    require_library(session, account, library_id)
    query = (
        select(BlindTest)
        .where(BlindTest.library_id == library_id, BlindTest.key == _key(sides))
        .options(joinedload(BlindTest.account))
        .order_by(BlindTest.id.desc())
        .limit(_MOST_LISTED)
    )
    return session.scalars(query).all()
