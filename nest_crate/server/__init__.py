"""The program as processes: web processes behind one port, long work and upkeep, render workers."""

from nest_crate.server.supervisor import SupervisorProcess, taken

__all__ = ["SupervisorProcess", "taken"]
