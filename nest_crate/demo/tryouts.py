"""The demo's try-outs, each as a document that names what its parts play."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import Sample, Sound
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.tryouts.tryouts import create_tryout
from nest_crate.core.tryout import load_tryout

__all__ = ["TRYOUTS_FOLDER", "build_tryouts"]

TRYOUTS_FOLDER = Path(__file__).parents[2] / "demo" / "tryouts"
# What the list shows first: made last.
_OPENING = "clockwork-groove"


def build_tryouts(session: Session, account: CurrentAccount, library_id: int) -> int:
    """The demo's try-outs in its library, those of which every part is there; answers how many."""
    paths = sorted(TRYOUTS_FOLDER.glob("*.json"), key=lambda path: path.stem == _OPENING)
    made = 0
    for path in paths:
        document = json.loads(path.read_text())
        for part in document["parts"]:
            part["plays"] = _with_keys(session, library_id, part["plays"])
        if all(part["plays"] for part in document["parts"]):
            create_tryout(session, account, library_id=library_id, document=load_tryout(document))
            made += 1
    return made


def _with_keys(session: Session, library_id: int, plays: dict[str, Any]) -> dict[str, Any] | None:
    """What a part plays, by key instead of by name; None where it is not there."""
    rest = {key: one for key, one in plays.items() if key not in ("named", "sampled", "grouped")}
    samples = select(Sample.id).where(Sample.library_id == library_id).order_by(Sample.id)
    if "named" in plays:
        query = select(Sound.id).where(Sound.library_id == library_id, Sound.name == plays["named"])
        sound = session.scalars(query).first()
        return None if sound is None else {**rest, "sound": sound}
    if "sampled" in plays:
        found = session.scalars(samples.where(Sample.name == plays["sampled"])).first()
        return None if found is None else {**rest, "sample": found}
    group = session.scalars(samples.where(Sample.variation_group == plays["grouped"])).all()
    return {**rest, "samples": list(group)} if group else None
