"""The made-up people of the demo, one of each role."""

from __future__ import annotations

from dataclasses import dataclass

from nest_crate.catalogue.people.permissions import Role

__all__ = ["DEMO_PASSWORD", "DEMO_PEOPLE", "DemoPerson"]

# Printed and offered on the page for signing in: the demo holds nothing that is secret.
DEMO_PASSWORD = "greenhouse-clock"


@dataclass(frozen=True)
class DemoPerson:
    handle: str
    name: str
    role: Role
    administrator: bool = False


DEMO_PEOPLE = (
    DemoPerson("demo", "Wren Halloway", "owner", administrator=True),
    DemoPerson("isolde", "Isolde Marrow", "editor"),
    DemoPerson("tam", "Tam Okerby", "reviewer"),
    DemoPerson("juniper", "Juniper Vale", "listener"),
)
