"""Try-outs: sounds, samples, groups and beds placed in time, and what is heard of them."""

from nest_crate.core.tryout.document import (
    MAX_PARTS,
    TRYOUT_VERSION,
    Duck,
    GameTest,
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
from nest_crate.core.tryout.rendering import Mix, Resolver, Stem, render_tryout, stems_of

__all__ = [
    "MAX_PARTS",
    "TRYOUT_VERSION",
    "Duck",
    "Event",
    "GameTest",
    "Mix",
    "Part",
    "PlacedHit",
    "PlaysBed",
    "PlaysGroup",
    "PlaysSample",
    "PlaysSound",
    "Resolver",
    "Stem",
    "TryOut",
    "dump_tryout",
    "load_tryout",
    "placed",
    "render_tryout",
    "stems_of",
]
