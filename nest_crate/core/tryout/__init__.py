"""Try-outs: sounds, samples, groups and beds placed in time, and what is heard of them."""

from nest_crate.core.tryout.document import (
    MAX_PARTS,
    TRYOUT_VERSION,
    Duck,
    Part,
    PlacedHit,
    PlaysBed,
    PlaysGroup,
    PlaysSample,
    PlaysSound,
    TryOut,
)
from nest_crate.core.tryout.loading import dump_tryout, load_tryout
from nest_crate.core.tryout.placing import Event, placed
from nest_crate.core.tryout.rendering import Mix, Resolver, render_tryout

__all__ = [
    "MAX_PARTS",
    "TRYOUT_VERSION",
    "Duck",
    "Event",
    "Mix",
    "Part",
    "PlacedHit",
    "PlaysBed",
    "PlaysGroup",
    "PlaysSample",
    "PlaysSound",
    "Resolver",
    "TryOut",
    "dump_tryout",
    "load_tryout",
    "placed",
    "render_tryout",
]
