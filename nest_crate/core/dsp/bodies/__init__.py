"""Struck bodies: what sets them ringing, and how they ring."""
