"""Tones and noise."""
