"""Members of a round: the sheet, pictures, one in detail, what is heard of it."""

from __future__ import annotations

import base64
from typing import Any, Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field
from sqlalchemy import select

from nest_crate.catalogue.db.batch_models import BatchMember
from nest_crate.catalogue.families.rounds import SHEET, family_of, require_round
from nest_crate.core.dsp.util.trim import SoundEdits, apply_edits
from nest_crate.core.families.overrides import base_values
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.sound.recipe import part_name
from nest_crate.core.sound.targets import targets_of
from nest_crate.web.families.requests import MemberPath, RoundPath, family_render
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import FLAC, WAV, file_answer
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import HEARD, heard_of

__all__ = ["api"]

api = APIBlueprint("members", __name__, url_prefix="/api/rounds", abp_tags=[Tag(name="batches")])

_MOST_PICTURES = 400


class SheetQuery(BaseModel):
    after: int = Field(default=0, ge=0, description="The last row one has, by its mark")
    count: int = Field(default=2000, ge=1, le=2000, description="At most so many rows")


class SheetRow(BaseModel):
    """A member on the sheet; ``words`` why it could not be made; ``figures`` of what is heard."""

    number: int
    words: str
    verdict: Literal["", "kept", "rejected"]
    starred: bool
    times: int
    flags: list[str]
    figures: dict[str, Any]
    sample_id: int | None


class SheetBody(BaseModel):
    """Members written down behind a mark, the mark to ask from next, whether more are there now."""

    rows: list[SheetRow]
    mark: int
    more: bool


class MemberPicturesQuery(BaseModel):
    first: int = Field(ge=1)
    last: int = Field(ge=1)


class MemberPictureBody(BaseModel):
    """Outline (lowest and highest of each column, signed bytes) and spectrum strip (16 rows of 64
    bytes, the highest band first), in base64."""

    number: int
    outline: str
    strip: str


class MemberPicturesBody(BaseModel):
    pictures: list[MemberPictureBody]


class OverrideBody(BaseModel):
    """A number that the member has elsewhere than its sound."""

    target: str
    owner: str
    label: str
    unit: str
    base: float
    value: float


class FamilyMemberBody(BaseModel):
    """A member in detail: what differs from the original, where it is on the axes, its hit."""

    number: int
    sound: str
    name: str
    axes: dict[str, float]
    hit: dict[str, Any]
    sample_rate: int
    values: list[OverrideBody]
    edits: dict[str, float]


@api.get("/<int:round_id>/members", responses={200: SheetBody, 404: Problem})
def sheet(path: RoundPath, query: SheetQuery) -> Response:
    """The members that were written down since the mark, in the order in which they were."""
    with services().database.session() as session:
        made = require_round(session, current_account(), path.round_id)
        # Rows as plain values: ten thousand objects would take longer than everything else.
        wanted = select(BatchMember.id, *SHEET).where(
            BatchMember.round_id == made.id, BatchMember.id > query.after
        )
        # One more than is given says whether there are more.
        found = session.execute(wanted.order_by(BatchMember.id).limit(query.count + 1)).all()
    more, found = len(found) > query.count, found[: query.count]
    names = ("number", "words", "verdict", "starred", "times", "flags", "figures", "sample_id")
    rows = [dict(zip(names, one[1:], strict=True)) for one in found]
    for row in rows:
        row["flags"] = row["flags"].split()
    mark = found[-1][0] if found else query.after
    return make_response({"rows": rows, "mark": mark, "more": more})


@api.get("/<int:round_id>/pictures", responses={200: MemberPicturesBody, 404: Problem})
def pictures(path: RoundPath, query: MemberPicturesQuery) -> Response:
    """Small pictures of members by number, at most 400 at a time."""
    last = min(query.last, query.first + _MOST_PICTURES - 1)
    with services().database.session() as session:
        made = require_round(session, current_account(), path.round_id)
        found = session.execute(
            select(BatchMember.number, BatchMember.outline, BatchMember.strip)
            .where(BatchMember.round_id == made.id, BatchMember.file_digest.is_not(None))
            .where(BatchMember.number.between(query.first, last))
            .order_by(BatchMember.number)
        ).all()
    listed = [
        {
            "number": number,
            "outline": base64.b64encode(outline).decode(),
            "strip": base64.b64encode(strip).decode(),
        }
        for number, outline, strip in found
    ]
    return make_response({"pictures": listed})


@api.get("/<int:round_id>/members/<int:number>", responses={200: FamilyMemberBody, 404: Problem})
def one_member(path: MemberPath) -> Response:
    """What a member is: the numbers that differ from the original, its hit."""
    with services().database.session() as session:
        made = require_round(session, current_account(), path.round_id)
        family = family_of(session, made)
        row = session.scalar(
            select(BatchMember).where(
                BatchMember.round_id == made.id, BatchMember.number == path.number
            )
        )
        edits = row.edits if row is not None else {}
    member = family.member(path.number)
    sound = family.sounds[member.sound]
    targets = targets_of(sound)
    bases = base_values(sound, member.values)
    values = [
        OverrideBody(
            target=target,
            owner=part_name(sound, target.split(".", 1)[0]),
            label=targets[target].label,
            unit=targets[target].unit,
            base=bases[target],
            value=value,
        )
        for target, value in member.values.items()
    ]
    body = FamilyMemberBody(
        number=member.number,
        sound=member.sound,
        name=sound.name,
        axes=member.axes,
        hit=member.hit.model_dump(mode="json"),
        sample_rate=member.sample_rate,
        values=values,
        edits=edits,
    )
    return make_response(body.model_dump())


@api.get(
    "/<int:round_id>/members/<int:number>/audio",
    responses={200: file_answer(WAV, FLAC), 404: Problem},
)
def member_audio(path: MemberPath) -> Response:
    """A member as it is heard, as float WAV; rendered at once where its turn has not come."""
    account = current_account()
    with services().database.session() as session:
        made = require_round(session, account, path.round_id)
        row = session.scalar(
            select(BatchMember).where(
                BatchMember.round_id == made.id, BatchMember.number == path.number
            )
        )
        family = family_of(session, made) if row is None else None
    if family is not None:
        wanted = family_render(account, family, "family_member", HEARD, number=path.number)
        return heard_of(wanted)
    if row is None or row.file_digest is None:
        return make_response({"title": "Not found"}, 404)
    signal, rate = decode_wav(services().store.get(row.file_digest))
    heard = apply_edits(signal, rate, SoundEdits.of(row.edits))
    response = make_response(encode_wav(heard, rate, sample_format="float32"))
    response.headers["Content-Type"] = "audio/wav"
    response.headers["Cache-Control"] = "private, max-age=600"
    response.headers["ETag"] = f'"{row.file_digest[:32]}-{row.times}"'
    return response
