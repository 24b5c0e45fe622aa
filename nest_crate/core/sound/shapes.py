"""Stock curve shapes: what one starts from, drawn to fit any curve.

A shape runs from 0 to 1 s and from 0 to 1; using one stretches it to the length and the
range at hand.
"""

from __future__ import annotations

from dataclasses import dataclass

from nest_crate.core.sound.curve import Curve, CurvePoint

__all__ = ["STOCK_SHAPES", "StockShape"]


@dataclass(frozen=True)
class StockShape:
    name: str
    curve: Curve


def _shape(name: str, *points: tuple[float, float, float]) -> StockShape:
    made = tuple(CurvePoint(time_s=t, value=v, bend=b) for t, v, b in points)
    return StockShape(name, Curve(points=made))


def _stairs(steps: int) -> StockShape:
    rows: list[tuple[float, float, float]] = [(0.0, 1.0, 0.0)]
    for n in range(1, steps):
        rows += [(n / steps, 1.0 - (n - 1) / steps, 0.0), (n / steps, 1.0 - n / steps, 0.0)]
    rows += [(1.0, 1.0 / steps, 0.0), (1.0, 0.0, 0.0)]
    return _shape("Stairs", *rows)


STOCK_SHAPES = (
    _shape("Pluck", (0, 0, 0), (0.01, 1, 0), (1, 0, 6)),
    _shape("Straight fall", (0, 1, 0), (1, 0, 0)),
    _shape("Late fall", (0, 1, 0), (1, 0, -4)),
    _shape("Knock", (0, 1, 0), (0.06, 0.25, 4), (1, 0, 5)),
    _shape(
        "Double thump",
        (0, 0, 0),
        (0.02, 1, 0),
        (0.35, 0, 5),
        (0.42, 0, 0),
        (0.45, 0.7, 0),
        (1, 0, 5),
    ),
    _shape("Swell", (0, 0, 0), (0.85, 1, -3), (1, 0, 3)),
    _shape("Duck", (0, 1, 0), (0.05, 0, 2), (0.4, 0.15, 0), (1, 1, -2)),
    _shape("Rise", (0, 0, 0), (1, 1, 0)),
    _shape("Slow rise", (0, 0, 0), (1, 1, -4)),
    _shape("Hump", (0, 0, 0), (0.5, 1, 2), (1, 0, -2)),
    _stairs(5),
    _shape("Flutter", *[(n / 12, (n % 2) * (13 - n) / 12, 2) for n in range(12)], (1, 0, 2)),
)
