"""Frequency shift, ring modulation, and swept effects."""
