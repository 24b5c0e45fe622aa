"""Views of batches: documents, what a plan comes to, rounds, members, what is kept."""

from nest_crate.web.families import documents, kept, members, plans, rounds

__all__ = ["APIS"]

APIS = [documents.api, plans.api, rounds.api, members.api, kept.api]
