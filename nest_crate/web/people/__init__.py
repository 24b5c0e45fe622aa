"""Views of accounts, sessions and libraries."""

from nest_crate.web.people import accounts, libraries, session, vocabularies

__all__ = ["APIS"]

APIS = [accounts.api, libraries.api, vocabularies.api, session.api]
