"""Figures of a signal."""
