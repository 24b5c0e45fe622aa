"""Views of care for whole libraries."""

from nest_crate.web.upkeep import batch_changes

__all__ = ["APIS"]

APIS = [batch_changes.api]
