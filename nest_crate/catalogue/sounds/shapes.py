"""Curve shapes and sets of partials that people keep for themselves."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import CurveShape, utc_now
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.core.sound import Curve
from nest_crate.core.sound.sources import PartialSet

__all__ = ["keep_shape", "remove_shape", "shapes_of"]


def shapes_of(session: Session, account: CurrentAccount) -> Sequence[CurveShape]:
    """An account's own shapes by name."""
    query = select(CurveShape).where(CurveShape.account_id == account.id).order_by(CurveShape.name)
    return session.scalars(query).all()


def keep_shape(
    session: Session,
    account: CurrentAccount,
    *,
    name: str,
    curve_name: str,
    curve: Curve | PartialSet,
) -> CurveShape:
    """Save a curve under a name; an own shape of that name is replaced."""
    mine = CurveShape.account_id == account.id
    shape = session.scalar(select(CurveShape).where(mine, CurveShape.name == name))
    if shape is None:
        shape = CurveShape(account_id=account.id, name=name)
        session.add(shape)
    shape.curve_name = curve_name
    shape.curve = curve.model_dump(mode="json")
    shape.created = utc_now()
    session.flush()
    return shape


def remove_shape(session: Session, account: CurrentAccount, shape_id: int) -> None:
    """Remove an own shape; ``NotFound`` where it is none of the account's."""
    shape = session.get(CurveShape, shape_id)
    if shape is None or shape.account_id != account.id:
        raise NotFound(f"There is no shape {shape_id}")
    session.delete(shape)
