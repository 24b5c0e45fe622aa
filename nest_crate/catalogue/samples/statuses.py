"""The states of a sample and the moves between them: declared once, nothing else is possible."""

from __future__ import annotations

from typing import Literal, get_args

from nest_crate.catalogue.db.errors import NotPossible
from nest_crate.catalogue.people.permissions import Action

__all__ = ["MOVES", "STATUSES", "Status", "action_of_move", "all_moves"]

Status = Literal["draft", "in_review", "approved", "retired"]
STATUSES: tuple[Status, ...] = get_args(Status)

# From, to: what one must be allowed for it.
MOVES: dict[tuple[Status, Status], Action] = {
    ("draft", "in_review"): "sample.submit",
    ("in_review", "draft"): "sample.edit",
    ("in_review", "approved"): "sample.review",
    ("approved", "retired"): "sample.review",
    ("approved", "draft"): "sample.edit",
    ("retired", "draft"): "sample.edit",
}
# A reviewer sends back without editing.
_ALSO: dict[tuple[Status, Status], Action] = {("in_review", "draft"): "sample.review"}


def all_moves() -> list[tuple[Status, Status, Action]]:
    """Every move with each action that allows it."""
    return [(*move, action) for table in (MOVES, _ALSO) for move, action in table.items()]


def action_of_move(current: str, wanted: Status) -> tuple[Action, ...]:
    """The actions of which one must be allowed to move a sample.

    Raises
    ------
    NotPossible
        where there is no such move.
    """
    found = [table[move] for table in (MOVES, _ALSO) for move in table if move == (current, wanted)]
    if not found:
        said = current.replace("_", " ")
        raise NotPossible(f"What is {said} cannot become {wanted.replace('_', ' ')}")
    return tuple(found)
