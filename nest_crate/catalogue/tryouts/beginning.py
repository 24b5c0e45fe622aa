"""A try-out begun from one sound by a stock pattern, with what its library holds beside it."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session, load_only

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import Sound
from nest_crate.catalogue.db.tryout_models import TryOut
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import visible_library_ids
from nest_crate.catalogue.sounds.sounds import require_sound
from nest_crate.catalogue.tryouts.tryouts import create_tryout
from nest_crate.core.tryout import PlaysSound
from nest_crate.core.tryout.document import Plays
from nest_crate.core.tryout.patterns import PATTERNS, begin_tryout

__all__ = ["begin_from_sound"]

# What a line of a pattern looks for in a sound's name, the best first.
_WORDS = {
    "kick": ("kick", "boom", "thud"),
    "snare": ("snare", "clap", "tap", "pop"),
    "tick": ("tick", "hat", "hiss", "click"),
    "bass": ("bass", "sub"),
    "drone": ("drone", "pad", "ambience"),
}


def begin_from_sound(
    session: Session, account: CurrentAccount, sound_id: int, *, pattern: str
) -> TryOut:
    """A new try-out in the sound's library: the sound by the pattern, and beside it the nearest
    sounds of the kinds that the pattern calls for; where there are none, their lines are left out.
    """
    if pattern not in PATTERNS:
        raise NotFound(f"There is no pattern {pattern!r}")
    sound = require_sound(session, account, sound_id)
    wanted = [line.kind for line in PATTERNS[pattern].lines]
    name = f"{sound.name[:80]}, {PATTERNS[pattern].label.lower()}"
    document = begin_tryout(
        pattern,
        (sound.name, PlaysSound(sound=sound.id)),
        _beside(session, account, sound, wanted),
        name,
    )
    return create_tryout(session, account, library_id=sound.library_id, document=document)


def _beside(
    session: Session, account: CurrentAccount, sound: Sound, kinds: list[str]
) -> dict[str, tuple[str, Plays]]:
    """By kind, a sound that the account may hear: of the same library before others."""
    query = (
        select(Sound)
        .where(Sound.library_id.in_(visible_library_ids(session, account)))
        .where(Sound.deleted.is_(None), Sound.private_to_id.is_(None), Sound.id != sound.id)
        .options(load_only(Sound.id, Sound.name, Sound.library_id))
        .order_by(Sound.library_id != sound.library_id, Sound.id)
    )
    rows = list(session.scalars(query))
    found: dict[str, tuple[str, Plays]] = {}
    for kind in kinds:
        for word in _WORDS[kind]:
            named = [one for one in rows if word in one.name.lower().split()]
            if named:
                found[kind] = (named[0].name, PlaysSound(sound=named[0].id))
                break
    return found
