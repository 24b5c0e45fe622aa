"""Zero-delay-feedback state-variable filters.

Trapezoidal integration after Zavalishin, "The Art of VA Filter Design" (2018), chapter 4, in the
form of Simper, "Linear Trapezoidal Integrated State Variable Filter" (2013).
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from nest_crate.core.dsp.movement import CONTROL_FRAMES, Control
from nest_crate.core.dsp.signals import Signal

__all__ = ["HIGHEST_CUTOFF", "filter_signal", "ring_time_s"]

# Cutoff as a fraction of the sample rate; the bilinear map has no room above.
HIGHEST_CUTOFF = 0.49

# Quality factors of a 4th-order Butterworth's two sections (1/(2 cos(pi/8)), 1/(2 cos(3pi/8))).
_SECTION_Q = {
    12: (1.0,),
    24: (0.541196100146197 * math.sqrt(2.0), 1.306562964876377 * math.sqrt(2.0)),
}

# How input, band and low output of the core are mixed: (input, band as a factor of k, low).
_MIX = {
    "low_pass": (0.0, 0.0, 1.0),
    "high_pass": (1.0, -1.0, -1.0),
    "band_pass": (0.0, 1.0, 0.0),
    "notch": (1.0, -1.0, 0.0),
}


def filter_signal(
    signal: Signal,
    *,
    response: str,
    slope_db: int,
    cutoff_hz: float | Control,
    resonance: float | Control,
    sample_rate: int,
) -> Signal:
    """Filter a signal with one (12 dB/oct) or two (24 dB/oct) state-variable sections.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    response
        low_pass, high_pass, band_pass or notch.
    cutoff_hz
        corner, pre-warped so that the corner itself is exact; held below 0.49 of the rate. One
        number, or a control signal that is followed along straight lines.
    resonance
        quality factor of the whole: 0.707 is the flattest pass band at either slope; a number or
        a control signal.
    """
    filtered = signal
    g = np.tan(np.pi * np.minimum(np.asarray(cutoff_hz) / sample_rate, HIGHEST_CUTOFF))
    mix_input, mix_band, mix_low = _MIX[response]
    for factor in _SECTION_Q[slope_db]:
        # The gentler section of two keeps its own Q, the other one rings as asked.
        q = resonance * factor if factor >= 1.0 else factor / math.sqrt(2.0)
        k = 1.0 / np.asarray(q)
        out = np.empty_like(filtered)
        if g.ndim == 0 and k.ndim == 0:
            still = float(k)
            mix = (mix_input, mix_band * still, mix_low)
            _state_variable(out, filtered, float(g), still, *mix)
        else:
            points = max(g.size, k.size)
            moving = [np.broadcast_to(one, (points,)).astype(np.float64) for one in (g, k)]
            mix = (mix_input, mix_band, mix_low)
            _moving_state_variable(out, filtered, *moving, CONTROL_FRAMES, *mix)
        filtered = out
    return filtered


def ring_time_s(cutoff_hz: float, resonance: float, slope_db: int) -> float:
    """Seconds until the filter's own ring has fallen by 100 dB.

    The poles' real part is -pi * cutoff / Q, so the ring falls by 100 dB in Q*ln(1e5)/(pi*cutoff);
    two sections ring at most twice as long.
    """
    sections = slope_db // 12
    q = max(0.5, resonance) * (1.85 if sections > 1 else 1.0)
    return sections * q * math.log(1e5) / (math.pi * cutoff_hz)


@njit(cache=True, nogil=True)
def _state_variable(out, signal, g, k, mix_input, mix_band, mix_low):  # type: ignore[no-untyped-def]
    """One section over (channels, frames); equations of Simper (2013), page 5."""
    a1 = 1.0 / (1.0 + g * (g + k))
    a2 = g * a1
    a3 = g * a2
    for channel in range(signal.shape[0]):
        first = 0.0
        second = 0.0
        for n in range(signal.shape[1]):
            v0 = signal[channel, n]
            v3 = v0 - second
            v1 = a1 * first + a2 * v3
            v2 = second + a2 * first + a3 * v3
            first = 2.0 * v1 - first
            second = 2.0 * v2 - second
            # Numbers too small to be normal would slow every step of a silent tail.
            if abs(first) < 1e-30:
                first = 0.0
            if abs(second) < 1e-30:
                second = 0.0
            out[channel, n] = mix_input * v0 + mix_band * v1 + mix_low * v2


@njit(cache=True, nogil=True)
def _moving_state_variable(out, signal, g_at, k_at, block, mix_input, mix_band, mix_low):  # type: ignore[no-untyped-def]
    """As ``_state_variable`` with g and k given each ``block`` frames, straight between."""
    for channel in range(signal.shape[0]):
        first = 0.0
        second = 0.0
        for point in range((signal.shape[1] + block - 1) // block):
            here = min(point, g_at.shape[0] - 1)
            after = min(point + 1, g_at.shape[0] - 1)
            g, k = g_at[here], k_at[here]
            g_step, k_step = (g_at[after] - g) / block, (k_at[after] - k) / block
            for n in range(point * block, min((point + 1) * block, signal.shape[1])):
                a1 = 1.0 / (1.0 + g * (g + k))
                a2 = g * a1
                v0 = signal[channel, n]
                v3 = v0 - second
                v1 = a1 * first + a2 * v3
                v2 = second + a2 * first + g * a2 * v3
                first = 2.0 * v1 - first
                second = 2.0 * v2 - second
                if abs(first) < 1e-30:
                    first = 0.0
                if abs(second) < 1e-30:
                    second = 0.0
                out[channel, n] = mix_input * v0 + mix_band * k * v1 + mix_low * v2
                g += g_step
                k += k_step
