"""Which movers must be known at every frame: those that may jump, where levels and pitches jump
with them."""

from __future__ import annotations

from nest_crate.core.engine.moved import EXACTLY
from nest_crate.core.engine.movers import may_jump
from nest_crate.core.sound import Sound

__all__ = ["is_exact"]


def is_exact(sound: Sound, identifier: str) -> bool:
    """Whether a mover is made at every frame: it may jump, and a level or a pitch hangs on it,
    which jump with it; or a macro does on which they hang."""
    moved = [
        link.target.split(".", 1)
        for link in sound.links
        if identifier in (link.mover, link.scaled_by)
    ]
    movers = {one.id for one in sound.movers}
    hanging = any(
        path in EXACTLY or (part in movers and is_exact(sound, part)) for part, path in moved
    )
    return hanging and _jumps(sound, identifier)


def _jumps(sound: Sound, identifier: str) -> bool:
    if "." in identifier:
        # A drawn curve.
        return True
    mover = next(one for one in sound.movers if one.id == identifier)
    if mover.kind != "macro":
        return may_jump(mover)
    links = [one for one in sound.links if one.target.startswith(f"{identifier}.")]
    return any(_jumps(sound, name) for one in links for name in (one.mover, one.scaled_by) if name)
