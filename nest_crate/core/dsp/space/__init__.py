"""Reverbs and convolution."""
