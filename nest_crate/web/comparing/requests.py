"""What requests about sides have in common: which they are, and what their render takes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from pydantic import Field

from nest_crate.catalogue.comparing.sides import ChosenSide, FoundSide, chosen_side
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.sound import load_sound
from nest_crate.jobs.rendering.admission import Step
from nest_crate.jobs.rendering.requests import RenderRequest
from nest_crate.web.infra.context import services
from nest_crate.web.infra.forms import Form

__all__ = ["SideRequest", "SidesRequest", "render_of_sides", "sides_of"]

# What reading and measuring a side takes beside its render.
_SECONDS_A_SIDE = 0.1


class SideRequest(Form):
    """A side: what fits its kind is given."""

    kind: Literal["sample", "sound", "draft", "recording"]
    id: int | None = Field(default=None, description="Of a sample or sound")
    revision: int | None = Field(
        default=None, description="A kept revision of the sound; its draft where null"
    )
    document: dict[str, Any] | None = Field(default=None, description="Of a draft")
    digest: str | None = Field(default=None, max_length=64, description="Of a recording")
    effects: bool = Field(
        default=True, description="Of a sound: its processors, or all of them off"
    )


class SidesRequest(Form):
    sides: list[SideRequest] = Field(min_length=2, max_length=4)


def sides_of(account: CurrentAccount, given: Sequence[SideRequest]) -> list[FoundSide]:
    """The sides as the account may hear them."""
    with services().database.session() as session:
        return [chosen_side(session, account, ChosenSide(**one.model_dump())) for one in given]


def render_of_sides(
    account: CurrentAccount,
    found: Sequence[FoundSide],
    task: str,
    priority: int,
    *,
    stream: str = "",
    **given: Any,
) -> RenderRequest:
    """A request to the render workers that is about sides."""
    settings = RenderSettings(recordings=services().recordings)
    cost_s = 0.0
    for side in found:
        cost_s += _SECONDS_A_SIDE
        if "document" in side.given:
            sound = load_sound(side.given["document"])
            cost_s += expected_cost(sound, sound.hit, settings).seconds
    return RenderRequest(
        account=f"account {account.id}",
        sound=f"comparison {found[0].key}",
        steps=[Step(task, priority)],
        given={"sample_rate": 48000, **given},
        cost_s=cost_s,
        stream=stream,
    )
