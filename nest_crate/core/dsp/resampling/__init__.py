"""Changing the rate of signals, and reading recordings at a moving pitch."""
