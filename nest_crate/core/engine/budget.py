"""What a render is expected to take, and what it may."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Budget", "Cost"]


@dataclass(frozen=True)
class Cost:
    """Seconds of one core, the most bytes held at once, and the dearest stages by seconds."""

    seconds: float
    bytes: int
    dearest: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class Budget:
    """What one render may take."""

    seconds: float = 300.0
    bytes: int = 2_500_000_000
