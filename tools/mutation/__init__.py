"""Puts small faults into the signal code and sees whether the tests notice them."""
