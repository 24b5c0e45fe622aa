"""Views of comparing sounds, and of blind tests."""

from nest_crate.web.comparing import blind_tests, comparisons

__all__ = ["APIS"]

APIS = [comparisons.api, blind_tests.api]
