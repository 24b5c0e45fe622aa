"""Secrets that open something without a password; only their digests are kept."""

from __future__ import annotations

import hashlib
import secrets

__all__ = ["new_secret", "secret_digest"]


def new_secret(kind: str) -> str:
    """A fresh secret; its first letters say what it opens, so that a leaked one is recognised."""
    return f"nest-{kind}-{secrets.token_urlsafe(24)}"


def secret_digest(secret: str) -> str:
    """What is kept of a secret. It has 192 bits of chance, so a plain digest is enough."""
    return hashlib.sha256(secret.encode()).hexdigest()
