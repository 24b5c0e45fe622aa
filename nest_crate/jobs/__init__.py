"""Long work on Dask: a process beside the server by default, a scheduler's address for many
machines. What is to be done lies in the catalogue's tables; nothing here is lost with a process."""

from nest_crate.jobs.foreman import Foreman

__all__ = ["Foreman"]
