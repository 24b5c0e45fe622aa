"""Two to four sounds beside each other: aligned, as loud as each other, and where they differ."""

from nest_crate.core.comparing.blind import told_apart_by_chance
from nest_crate.core.comparing.compared import Beside, Compared, Pair, compare_sides
from nest_crate.core.comparing.differences import Difference
from nest_crate.core.comparing.matching import MATCHES, Match

__all__ = [
    "MATCHES",
    "Beside",
    "Compared",
    "Difference",
    "Match",
    "Pair",
    "compare_sides",
    "told_apart_by_chance",
]
