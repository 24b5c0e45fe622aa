"""What requests about batches have in common: paths, and renders of members."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.families import Family, dump_batch
from nest_crate.core.sound import dump_sound
from nest_crate.jobs.rendering.admission import Step
from nest_crate.jobs.rendering.requests import RenderRequest
from nest_crate.web.infra.context import services
from nest_crate.web.infra.rendering import require_heard

__all__ = ["BatchPath", "MemberPath", "RoundPath", "family_render"]


class BatchPath(BaseModel):
    batch_id: int


class RoundPath(BaseModel):
    round_id: int


class MemberPath(RoundPath):
    number: int


def family_render(
    account: CurrentAccount,
    family: Family,
    task: str,
    priority: int,
    *,
    renders: int = 1,
    stream: str = "",
    behind: bool = False,
    **given: Any,
) -> RenderRequest:
    """A request to the render workers about a family, as one account asks for it."""
    settings = RenderSettings(recordings=services().recordings)
    cost_s = 0.0
    for sound in family.sounds.values():
        require_heard(account, dump_sound(sound))
        cost_s = max(cost_s, expected_cost(sound, sound.hit, settings).seconds)
    return RenderRequest(
        account=f"account {account.id}",
        sound=f"family {family.plan.name}",
        steps=[Step(task, priority)],
        given={
            "plan": dump_batch(family.plan),
            "sounds": {key: dump_sound(one) for key, one in family.sounds.items()},
            "redrawn": {f"{number}": times for number, times in family.redrawn.items()},
            "sample_rate": 48000,
            **given,
        },
        cost_s=renders * cost_s,
        stream=stream,
        behind=behind,
    )
