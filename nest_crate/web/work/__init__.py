"""Views of long work."""

from nest_crate.web.work import jobs, running

__all__ = ["APIS"]

APIS = [jobs.api, running.api]
