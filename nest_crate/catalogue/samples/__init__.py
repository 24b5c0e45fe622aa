"""Samples and takes: how they are made, changed, measured and commented on."""
