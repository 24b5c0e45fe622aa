"""Nest Crate: synthesize one-shot sounds and keep them as shared sample libraries."""

__version__ = "0.1.0"
