"""Accounts, keys, libraries with their members, and who may do what."""
