"""Drives and bit reduction."""
