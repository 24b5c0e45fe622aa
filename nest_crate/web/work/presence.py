"""What a window looks at: whether it changed since, and who else is there.

A window asks every few seconds while somebody looks at it. That costs a row in the database, works
through every proxy, and holds no connection, of which a stream for each window would hold one.
"""

from __future__ import annotations

from typing import Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.people.presence import note_presence
from nest_crate.catalogue.sounds.sounds import require_sound
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("presence", __name__, url_prefix="/api", abp_tags=[Tag(name="presence")])


class LookRequest(Form):
    window: str = Field(pattern=r"^[A-Za-z0-9_-]{8,32}$", description="The window's own key")
    kind: Literal["sound", "library"]
    id: int


class CompanionBody(BaseModel):
    name: str
    own: bool = Field(description="Whether it is another window of one's own")


class LookBody(BaseModel):
    """``state`` differs as soon as the thing has changed; of a sound it is the draft's version."""

    state: str
    changed_by: str | None = Field(description="Who changed it last, where that is known")
    companions: list[CompanionBody]


@api.post("/presence", responses={200: LookBody, 404: Problem})
def look(body: LookRequest) -> Response:
    """Say what a window looks at; answers its state, and who else looks at it."""
    account, found = current_account(), services()
    changed_by: str | None = None
    with found.database.session() as session:
        if body.kind == "sound":
            sound = require_sound(session, account, body.id)
            state, changed_by = str(sound.draft_version), sound.changed_by.name
        else:
            require_library(session, account, body.id)
            found.index.refresh(session)
            state = found.index.state_of(body.id)
        place = f"{body.kind} {body.id}"
        others = note_presence(session, account, window=body.window, place=place)
    companions = [CompanionBody(name=one.name, own=one.own) for one in others]
    return make_response(
        LookBody(state=state, changed_by=changed_by, companions=companions).model_dump()
    )
