"""Batches: plans of families, their rounds and members, and what is kept of them."""
