"""Filters, equalisers and crossovers."""
