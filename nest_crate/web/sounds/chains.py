"""Chains of processors saved under a name."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from nest_crate.catalogue.sounds.chains import chains_of, keep_chain, remove_chain
from nest_crate.core.sound.loading import load_chain
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services

__all__ = ["api"]

api = APIBlueprint("chains", __name__, url_prefix="/api/chains", abp_tags=[Tag(name="bench")])


class ChainPath(BaseModel):
    chain_id: int


@api.get("", responses={200: bodies.SavedChainsBody})
def chains() -> Response:
    """The account's saved chains by name."""
    account = current_account()
    with services().database.session() as session:
        saved = [
            {"id": one.id, "name": one.name, "chain": one.chain}
            for one in chains_of(session, account)
        ]
    return make_response({"chains": saved})


@api.post("", responses={201: bodies.SavedChainBody})
def keep(body: bodies.SavedChainRequest) -> Response:
    """Save a chain; the same name replaces the earlier one."""
    account = current_account()
    chain = load_chain(body.chain)
    with services().database.session() as session:
        saved = keep_chain(session, account, name=body.name.strip(), chain=chain)
        kept = {"id": saved.id, "name": saved.name, "chain": saved.chain}
    return make_response(kept, 201)


@api.delete("/<int:chain_id>", responses={204: None})
def remove(path: ChainPath) -> Response:
    """Remove a saved chain; sounds that it was loaded into keep their processors."""
    account = current_account()
    with services().database.session() as session:
        remove_chain(session, account, path.chain_id)
    return make_response("", 204)
