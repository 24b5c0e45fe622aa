"""Views of long work."""

from nest_crate.web.work import jobs, presence, running

__all__ = ["APIS"]

APIS = [jobs.api, presence.api, running.api]
