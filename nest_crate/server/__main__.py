"""The supervisor started again: ``python -m nest_crate.server PORT``, settings on stdin."""

from __future__ import annotations

import socket
import sys

from nest_crate.jobs.forking import name_process
from nest_crate.logs import configure_log
from nest_crate.server.supervisor import supervise

if __name__ == "__main__":
    configure_log()
    name_process("nest-supervisor")
    supervise(sys.stdin.fileno(), socket.socket(fileno=int(sys.argv[1])))
