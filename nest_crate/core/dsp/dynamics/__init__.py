"""Compressors, gates, and the meters that they follow."""
