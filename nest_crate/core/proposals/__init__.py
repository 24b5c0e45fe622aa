"""From a reference hit to a first sound: a starting point, honest about how near it is."""

from nest_crate.core.proposals.comparison import Comparison, compare
from nest_crate.core.proposals.distance import Distance, distance_between
from nest_crate.core.proposals.proposal import Proposal, propose_sound

__all__ = ["Comparison", "Distance", "Proposal", "compare", "distance_between", "propose_sound"]
