"""Auditions: one request gives audio, figures and pictures, rendered by a worker."""

from __future__ import annotations

import json
from dataclasses import asdict, replace
from typing import Any

from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, Tag

from nest_crate.catalogue.db.errors import DatabaseGone, NotFound
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.search.typical import typical_low_end
from nest_crate.jobs.rendering.admission import Step
from nest_crate.jobs.rendering.requests import RenderRequest
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.rendering import CLOSER, HEARD, SEEN, ask, asked, multipart_of

__all__ = ["api"]

api = APIBlueprint("auditions", __name__, url_prefix="/api/auditions", abp_tags=[Tag(name="bench")])


@api.post("", responses={200: bodies.AuditionBody})
def audition(body: bodies.ListenRequest) -> Response:
    """Render one hit and answer with its audio, measures, checks and drawing data.

    With ``Accept: multipart/mixed`` the parts come as they are made: "audio" (float WAV, named
    after its digest), "figures" (all but the spectrogram), "pictures" (the spectrogram) and, if
    asked for, "details". Otherwise the answer is JSON without the audio, which
    ``/api/playing/hits`` gives. A newer request of the same account and stream ends this one with
    409.
    """
    account = current_account()
    wanted = _request(account, body)
    if request.accept_mimetypes.best_match(["application/json", "multipart/mixed"]) == (
        "multipart/mixed"
    ):
        return multipart_of(wanted)
    answer: dict[str, Any] = {}
    for frame in ask(wanted):
        if frame.head["part"] in ("figures", "pictures"):
            answer |= json.loads(frame.body)
    return make_response(answer)


def _request(account: CurrentAccount, body: bodies.ListenRequest) -> RenderRequest:
    given = asked(body)
    typical = None
    if body.sound_id is not None and body.quality == "final" and not body.listen_at:
        typical = _typical(account, body.sound_id, given.sound.name)
    steps = [Step("hear", HEARD), Step("look", SEEN)]
    if body.details:
        steps.append(Step("details", CLOSER))
    stream = body.stream or (str(body.sound_id) if body.sound_id is not None else "")
    wanted = given.step("hear", listen_at=body.listen_at, typical=typical, holds=body.holds)
    return replace(wanted, steps=steps, stream=stream)


def _typical(account: CurrentAccount, sound_id: int, name: str) -> dict[str, Any] | None:
    """What its library holds of the same kind; nothing where the database is away, for a sound is
    rendered all the same."""
    try:
        with services().database.session() as session:
            found = typical_low_end(
                session, account, services().index, services().vocabularies, sound_id, name
            )
    except (DatabaseGone, NotFound):
        return None
    return None if found is None else asdict(found)
