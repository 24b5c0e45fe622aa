"""Unison: where each voice stands in pitch, phase, level and space."""

from __future__ import annotations

import math

from nest_crate.core.dsp.oscillators.oscillator import Voice

__all__ = ["unison_voices"]

# Phases by the golden ratio never fall together, however many voices there are.
_GOLDEN = (math.sqrt(5.0) - 1.0) / 2.0

# Below about this detune voices beat so slowly that they add like one.
_LIKE_ONE_CENT = 4.0


def unison_voices(
    count: int,
    *,
    detune_cent: float,
    width: float,
    phase_spread: float,
    balance: float,
    phase: float = 0.0,
) -> list[Voice]:
    """Voices spread evenly over pitch, the outermost ``detune_cent`` away.

    Their gains keep the sum's loudness: voices that drift apart add by power (1 / sqrt(count)),
    voices that stay together add by amplitude (1 / count), and in between accordingly.

    Parameters
    ----------
    width, phase_spread, balance
        0 to 1; ``balance`` 0.5 gives all voices the same level.
    phase
        of the first voice, in cycles.
    """
    if count == 1:
        return [Voice(phase=phase)]
    places = [2.0 * n / (count - 1) - 1.0 for n in range(count)]
    levels = [_level(abs(place), balance) for place in places]
    together = math.exp(-((detune_cent / _LIKE_ONE_CENT) ** 2)) * (1.0 - phase_spread)
    by_power = math.sqrt(sum(level**2 for level in levels))
    total = by_power ** (1.0 - together) * sum(levels) ** together
    voices = []
    for n, (place, level) in enumerate(zip(places, levels, strict=True)):
        gain = level / total
        angle = (place * width + 1.0) * math.pi / 4.0
        sides = (math.sqrt(2.0) * math.cos(angle), math.sqrt(2.0) * math.sin(angle))
        voices.append(
            Voice(
                phase=phase + phase_spread * ((n * _GOLDEN) % 1.0),
                ratio=2.0 ** (place * detune_cent / 1200.0),
                gains=tuple(gain * side for side in sides) if width > 0.0 else (gain,),
            )
        )
    return voices


def _level(distance: float, balance: float) -> float:
    """Level of a voice at a distance from the centre (0 to 1); never quite silent."""
    if balance <= 0.5:
        return max(1e-3, 1.0 - (1.0 - 2.0 * balance) * distance)
    return max(1e-3, 1.0 - (2.0 * balance - 1.0) * (1.0 - distance))
