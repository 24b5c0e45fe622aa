"""What a web process asks the render workers for."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from typing import Any

from nest_crate.jobs.rendering.admission import Job, Lane, Step
from nest_crate.jobs.rendering.frames import Frame

__all__ = ["NOBODY", "RenderRequest", "lane_of"]

# What is asked for without an account, by links: all of it together has one share.
NOBODY = "links"

# Anything that takes longer goes to workers that stand behind, so that short renders never wait
# for long ones. Seconds of one core, estimated.
_QUICK_S = 0.5


def lane_of(cost_s: float, *, behind: bool) -> Lane:
    return "slow" if behind or cost_s > _QUICK_S else "quick"


@dataclass(frozen=True)
class RenderRequest:
    """One request. ``given`` is what the tasks read; ``sound`` keeps a sound at one worker."""

    account: str
    sound: str
    steps: list[Step]
    given: dict[str, Any] = field(repr=False)
    cost_s: float
    behind: bool = False
    """Nobody listens for it: it goes to the workers that stand behind."""
    stream: str = ""
    """Takes the place of the account's earlier request of the same stream."""

    def frame(self, audio_url: str) -> Frame:
        head = {
            "account": self.account,
            "sound": self.sound,
            "steps": [[step.task, step.priority] for step in self.steps],
            "lane": lane_of(self.cost_s, behind=self.behind),
            "cost_s": self.cost_s,
            "stream": self.stream,
        }
        given = {**self.given, "store": audio_url}
        return Frame(head, json.dumps(given, separators=(",", ":")).encode())

    @staticmethod
    def job(identifier: int, frame: Frame) -> Job:
        """The job that a frame asks for."""
        head = frame.head
        return Job(
            id=identifier,
            account=head["account"],
            sound=head["sound"],
            lane=head["lane"],
            steps=[Step(task, priority) for task, priority in head["steps"]],
            cost_s=float(head["cost_s"]),
            stream=head["stream"],
        )
