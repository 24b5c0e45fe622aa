"""The vocabulary of each library: its own, or the server's where it has none."""

from __future__ import annotations

from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import Library
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import lock_library, require_library
from nest_crate.catalogue.people.vocabulary import (
    Vocabulary,
    load_vocabulary,
    parse_vocabulary,
)
from nest_crate.core.errors import FormatError

__all__ = ["Vocabularies", "set_vocabulary"]


class Vocabularies:
    """The vocabularies of a server, whose own is read from a CSV at ``path``, or ships with it."""

    def __init__(self, path: str = "") -> None:
        self.servers = load_vocabulary(path)

    def of(self, session: Session, library_id: int) -> Vocabulary:
        """That of a library, which the account may see by then."""
        library = session.get(Library, library_id)
        own = library.vocabulary if library is not None else None
        return self.servers if own is None else parse_vocabulary(own)


def set_vocabulary(
    session: Session, account: CurrentAccount, library_id: int, csv: str | None
) -> None:
    """Give a library a vocabulary of its own; None takes the server's again. What samples hold
    stays as it is: Maintenance lists what the new one does not know.

    Raises
    ------
    DocumentError
        at ``csv``, naming the line that is wrong.
    """
    lock_library(session, library_id)
    library = require_library(session, account, library_id, "library.change")
    if csv is not None:
        try:
            parse_vocabulary(csv)
        except FormatError as error:
            raise field_error("csv", error.message) from error
    library.vocabulary = csv
