"""Delays and echoes."""
