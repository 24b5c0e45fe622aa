"""Failed tries to sign in: after a few, each costs a longer pause, by name and by address."""

from __future__ import annotations

import math
from datetime import timedelta

from sqlalchemy import delete
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import SignInTries, utc_now
from nest_crate.core.errors import NestCrateError

__all__ = ["TooManyTries", "begin_try", "forget_tries", "pause_s"]

_FORGOTTEN_AFTER = timedelta(hours=1)
_LONGEST_PAUSE_S = 300.0


class TooManyTries(NestCrateError):
    """Wait before the next try; ``details["retry_after_s"]`` says how long."""

    code = "too_many_tries"
    title = "Too many tries"


def pause_s(failed: int, free: int) -> float:
    """Seconds to wait after so many failed tries, of which the first few are free: 1, 2, 4, ..."""
    return 0.0 if failed < free else min(_LONGEST_PAUSE_S, 2.0 ** (failed - free))


def begin_try(session: Session, about: str, *, free: int) -> None:
    """Count a try as failed before it is looked at, so that many at once are counted too.

    Raises
    ------
    TooManyTries
        where the pause after the last one is not over; this one is not counted.
    """
    now = utc_now()
    key = about[:120]
    # It locks the row, new or old, so that tries at the same time come one by one.
    made = insert(SignInTries).values(about=key, failed=0, last=now)
    session.execute(made.on_duplicate_key_update(about=key))
    row = session.get_one(SignInTries, key, with_for_update=True)
    if now - row.last > _FORGOTTEN_AFTER:
        row.failed = 0
    left = pause_s(row.failed, free) - (now - row.last).total_seconds()
    if left > 0.0 and row.failed:
        seconds = max(1, math.ceil(left))
        raise TooManyTries(
            f"Too many tries. Wait {seconds} s, then try again.",
            details={"retry_after_s": seconds},
        )
    row.failed += 1
    row.last = now


def forget_tries(session: Session, name: str, address: str) -> None:
    """Somebody signed in: what failed before under the name is over, and this try from the address
    is none. Others from there stay, for who guesses may have an account too."""
    session.execute(delete(SignInTries).where(SignInTries.about == name[:120]))
    row = session.get(SignInTries, address[:120], with_for_update=True)
    if row is not None:
        row.failed = max(0, row.failed - 1)
