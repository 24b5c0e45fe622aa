"""Who may do what: the one table, enforced by the services through ``require_library``."""

from __future__ import annotations

from typing import Literal, get_args

__all__ = ["MEMBER_ROLES", "PERMISSIONS", "READING", "ROLES", "Action", "Role", "may"]

# A visitor is no member, but signed in, and the library is public in this server.
Role = Literal["visitor", "listener", "reviewer", "editor", "owner"]
ROLES: tuple[Role, ...] = get_args(Role)
MEMBER_ROLES: tuple[Role, ...] = ROLES[1:]

Action = Literal[
    "library.see",
    "library.change",
    "members.manage",
    "sample.add",
    "sample.edit",
    "sample.submit",
    "sample.review",
    "sample.comment",
    "sample.rate",
    "sound.edit",
    "tryout.edit",
    "batch.edit",
    "wish.make",
    "test.make",
    "wish.answer",
    "release.make",
    "share.make",
]

_MEMBERS = frozenset(MEMBER_ROLES)
_EDITORS = frozenset[Role]({"editor", "owner"})
_REVIEWERS = frozenset[Role]({"reviewer", "owner"})
_OWNERS = frozenset[Role]({"owner"})

PERMISSIONS: dict[Action, frozenset[Role]] = {
    # To see is to hear, to search and to download, samples and sounds alike.
    "library.see": frozenset(ROLES),
    "library.change": _OWNERS,
    "members.manage": _OWNERS,
    "sample.add": _EDITORS,
    "sample.edit": _EDITORS,
    "sample.submit": _EDITORS,
    "sample.review": _REVIEWERS,
    "sample.comment": _EDITORS | _REVIEWERS,
    "sample.rate": _EDITORS | _REVIEWERS,
    "sound.edit": _EDITORS,
    "tryout.edit": _EDITORS,
    "batch.edit": _EDITORS,
    "wish.make": _MEMBERS,
    "test.make": _MEMBERS,
    "wish.answer": _EDITORS,
    "release.make": _OWNERS,
    "share.make": _EDITORS,
}

# What a token that may only read is good for.
READING: frozenset[Action] = frozenset({"library.see"})


def may(role: Role, action: Action) -> bool:
    """Whether a role is enough for an action."""
    return role in PERMISSIONS[action]
