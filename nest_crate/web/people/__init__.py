"""Views of accounts, sessions and libraries."""

from nest_crate.web.people import accounts, libraries, session

__all__ = ["APIS"]

APIS = [accounts.api, libraries.api, session.api]
