"""Signals, curves, random numbers: what all signal functions use."""
