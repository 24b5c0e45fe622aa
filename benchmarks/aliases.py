"""Measures how far alias products of the drives lie down, and draws it into docs.

Run: .venv/bin/python benchmarks/aliases.py [--draw docs/drive-aliases.svg]
A sine at -0.5 dBFS at 44.1 kHz through every shape, by drive; the loudest line that is no multiple
of it, re the loudest partial.
"""

from __future__ import annotations

import argparse
from pathlib import Path

import numpy as np
from scipy.signal.windows import kaiser

from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound.processors import DriveProcessor

RATE = 44100
SHAPES = ("soft", "tube", "hard", "fold", "sine_fold", "rectify")
TONES_HZ = (2003.0, 5003.0, 10007.0)
DRIVES_DB = tuple(range(0, 49, 6))
COLOURS = ("#1f6f5b", "#8a5a00", "#6b3fa0", "#b3261e", "#1659a5", "#5b5b5b")


def alias_dbc(shape: str, drive_db: float, hz: float) -> float:
    """The loudest product that is no multiple of a tone of ``hz``, re the loudest partial."""
    n = np.arange(2 * RATE)
    tone = 0.944 * np.sin(2 * np.pi * hz * n / RATE)[np.newaxis]
    part = DriveProcessor.model_validate({"id": "d", "shape": shape, "drive_db": drive_db})
    out = process(tone, part, ProcessContext(RenderSettings(sample_rate=RATE)))
    steady = out[0, RATE // 2 : RATE // 2 + RATE]
    size = np.abs(np.fft.rfft(steady * kaiser(steady.size, 38)))
    at = np.arange(size.size, dtype=np.float64)
    others = np.abs(at - np.round(at / hz) * hz) > 30.0
    return float(20.0 * np.log10(size[others].max() / size.max()))


def drawn(figures: dict[tuple[str, float], list[float]]) -> str:
    """One panel a tone: alias products in dBc over drive in dB, a line a shape."""
    wide, high, gap = 250, 220, 60
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {3 * (wide + gap) + 30} 310" '
        'font-family="sans-serif" font-size="12"><rect width="100%" height="100%" fill="#fff"/>'
    ]
    for column, hz in enumerate(TONES_HZ):
        left, top = gap + column * (wide + gap), 30
        x = lambda db, left=left: left + wide * db / DRIVES_DB[-1]  # noqa: E731
        y = lambda db, top=top: top + high * min(1.0, max(0.0, (-30.0 - db) / 120.0))  # noqa: E731
        parts.append(f'<text x="{left}" y="20">{hz / 1000:.0f} kHz: dBc over drive in dB</text>')
        for db in range(-150, -29, 30):
            parts.append(
                f'<path d="M{left} {y(db):.1f}h{wide}" stroke="#ddd"/>'
                f'<text x="{left - 6}" y="{y(db) + 4:.1f}" text-anchor="end">{db}</text>'
            )
        parts.append(
            f'<path d="M{left} {y(-80):.1f}h{wide}" stroke="#000" stroke-dasharray="4 3"/>'
        )
        for db in range(0, 49, 12):
            parts.append(
                f'<text x="{x(db):.1f}" y="{top + high + 16}" text-anchor="middle">{db}</text>'
            )
        for shape, colour in zip(SHAPES, COLOURS, strict=True):
            way = " ".join(
                f"{'M' if n == 0 else 'L'}{x(db):.1f} {y(value):.1f}"
                for n, (db, value) in enumerate(zip(DRIVES_DB, figures[shape, hz], strict=True))
            )
            parts.append(f'<path d="{way}" fill="none" stroke="{colour}" stroke-width="2"/>')
    for n, (shape, colour) in enumerate(zip(SHAPES, COLOURS, strict=True)):
        name = shape.replace("_", " ")
        parts.append(
            f'<path d="M{gap + 130 * n} 292h22" stroke="{colour}" stroke-width="3"/>'
            f'<text x="{gap + 130 * n + 28}" y="296">{name}</text>'
        )
    return "\n".join([*parts, "</svg>"]) + "\n"


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--draw", type=Path)
    draw = parser.parse_args().draw
    figures = {}
    print("drive in dB       " + "".join(f"{db:>7}" for db in DRIVES_DB))
    for hz in TONES_HZ:
        for shape in SHAPES:
            figures[shape, hz] = [alias_dbc(shape, db, hz) for db in DRIVES_DB]
            print(
                f"{hz / 1000:4.0f} kHz {shape:<9}"
                + "".join(f"{v:7.0f}" for v in figures[shape, hz])
            )
    if draw is not None:
        draw.write_text(drawn(figures))


if __name__ == "__main__":
    main()
