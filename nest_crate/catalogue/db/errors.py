"""Errors of the catalogue, below the core's root.

NestCrateError
├── NotFound         no such library, sound, revision or sample (or not for this account)
├── NotSignedIn      nobody is signed in, or name and password do not belong together
├── NotAllowed       the account's role does not permit it
├── NotPossible      the thing is not in a state for it: a status move, a number that is taken
├── StaleSave        someone else saved in between; carries both versions
├── DatabaseBusy     others were changing the same for too long; nothing was changed
└── DatabaseGone     the database does not answer; nothing was changed
"""

from __future__ import annotations

from nest_crate.core.errors import NestCrateError

__all__ = [
    "DatabaseBusy",
    "DatabaseGone",
    "NotAllowed",
    "NotFound",
    "NotPossible",
    "NotSignedIn",
    "StaleSave",
]


class NotFound(NestCrateError):
    code = "not_found"
    title = "Not found"


class NotSignedIn(NestCrateError):
    code = "not_signed_in"
    title = "Not signed in"


class NotAllowed(NestCrateError):
    code = "not_allowed"
    title = "Not allowed"


class NotPossible(NestCrateError):
    code = "not_possible"
    title = "Not possible now"


class StaleSave(NestCrateError):
    code = "stale_save"
    title = "Changed by someone else"


class DatabaseBusy(NestCrateError):
    code = "database_busy"
    title = "Someone else is changing this"


class DatabaseGone(NestCrateError):
    code = "database_gone"
    title = "The database does not answer"
