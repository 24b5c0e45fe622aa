"""Downloads of selections: planned by a request, then fetched as one archive while it is made."""

from __future__ import annotations

import hashlib

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.releases.exports import ExportPlan, export_files, paths_of, said_beside
from nest_crate.catalogue.samples.edits import samples_for
from nest_crate.web.infra.answers import archive
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import ZIP, file_answer
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("exports", __name__, url_prefix="/api/exports", abp_tags=[Tag(name="libraries")])


class PlannedBody(BaseModel):
    """Where the archive can be fetched for a while, and the names that its files will have."""

    path: str
    names: list[str]


class ExportPath(BaseModel):
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")


def _key(plan: str, account_id: int) -> str:
    return hashlib.sha256(f"{account_id}:{plan}".encode()).hexdigest()


@api.post("", responses={200: PlannedBody, 404: Problem, 422: Problem}, operation_id="plan_export")
def plan(body: ExportPlan) -> Response:
    """Check what is wanted, and tell where to fetch it."""
    account = current_account()
    with services().database.session() as session:
        samples = samples_for(session, account, body.sample_ids)
        names = list(paths_of(samples, body.template, body.file_format).values())
    text = body.model_dump_json()
    digest = _key(text, account.id)
    services().shared.put(f"{digest}.plan", text.encode())
    return make_response({"path": f"/api/exports/{digest}.zip", "names": names})


@api.get("/<string:digest>.zip", responses={200: file_answer(ZIP), 404: Problem})
def fetch(path: ExportPath) -> Response:
    """The archive, sent while it is made."""
    account = current_account()
    kept = services().shared.get(f"{path.digest}.plan")
    if kept is None or _key(kept.decode(), account.id) != path.digest:
        raise NotFound("This download is not ready any more; ask for it again")
    wanted = ExportPlan.model_validate_json(kept)
    with services().database.session() as session:
        samples = samples_for(session, account, wanted.sample_ids)
        beside = said_beside(session, samples)
    files = export_files(services().store, samples, wanted, beside)
    return archive(((made.path, made.data) for made in files), "nest-crate-samples")
