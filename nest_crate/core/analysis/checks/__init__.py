"""Remarks on a sound, and fixes for what they find."""
