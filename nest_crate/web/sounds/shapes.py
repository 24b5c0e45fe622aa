"""Curve shapes and sets of partials to choose from: the stock, and the account's own."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from nest_crate.catalogue.db.models import CurveShape
from nest_crate.catalogue.sounds.shapes import keep_shape, remove_shape, shapes_of
from nest_crate.core.sound.loading import load_curve, load_partials
from nest_crate.core.sound.shapes import STOCK_SHAPES
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services

__all__ = ["api"]

api = APIBlueprint("shapes", __name__, url_prefix="/api/shapes", abp_tags=[Tag(name="bench")])


class ShapePath(BaseModel):
    shape_id: int


def _body(shape: CurveShape) -> bodies.ShapeBody:
    return bodies.ShapeBody(
        id=shape.id, name=shape.name, curve_name=shape.curve_name, curve=shape.curve
    )


@api.get("", responses={200: bodies.ShapesBody})
def shapes() -> Response:
    """Stock shapes (0 to 1 over 1 s) and the account's own, as they were saved."""
    account = current_account()
    with services().database.session() as session:
        own = [_body(shape).model_dump() for shape in shapes_of(session, account)]
    stock = [
        {"name": shape.name, "curve": shape.curve.model_dump(mode="json")} for shape in STOCK_SHAPES
    ]
    return make_response({"stock": stock, "own": own})


@api.post("", responses={201: bodies.ShapeBody})
def keep(body: bodies.ShapeRequest) -> Response:
    """Save a curve or a set of partials as one's own; the same name replaces the earlier one."""
    account = current_account()
    load = load_partials if body.curve_name == "partials" else load_curve
    curve = load(body.curve)
    with services().database.session() as session:
        shape = keep_shape(
            session, account, name=body.name.strip(), curve_name=body.curve_name, curve=curve
        )
        kept = _body(shape).model_dump()
    return make_response(kept, 201)


@api.delete("/<int:shape_id>", responses={204: None})
def remove(path: ShapePath) -> Response:
    """Remove a shape of one's own; curves made from it stay as they are."""
    account = current_account()
    with services().database.session() as session:
        remove_shape(session, account, path.shape_id)
    return make_response("", 204)
