"""Finding samples: words with typos forgiven, facets with counts, likeness, the map."""

from nest_crate.catalogue.search.index import SampleIndex
from nest_crate.catalogue.search.query import RANGES, Found, RangeFacet, SampleQuery

__all__ = ["RANGES", "Found", "RangeFacet", "SampleIndex", "SampleQuery"]
