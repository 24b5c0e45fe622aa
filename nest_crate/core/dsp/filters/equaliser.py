"""An equaliser's bands, exact against their analogue prototypes up to the top of hearing.

Each band is a section of ``filters``. What sections that stand still lack of their prototypes is
given back by one short minimum-phase filter, where that is not next to nothing: Oppenheim and
Schafer, "Discrete-Time Signal Processing" (1989), section 12.1, minimum phase by way of the
cepstrum.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft, rfft
from scipy.signal import oaconvolve

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.filters.matched import Coefficients, section_response
from nest_crate.core.dsp.filters.state_variable import filter_coefficients, through_sections
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["Band", "analogue_gain", "equalised_signal", "response_db"]

# What the sections are called in ``filter_signal``.
_RESPONSES = {"low_cut": "high_pass", "high_cut": "low_pass"}
_GAINLESS = ("low_cut", "high_cut", "notch")

_SHARPEST_SHELF = 4.0
_TAPS = 4096
_HEARD_HZ = 20000.0
_NO_DIFFERENCE_DB = 0.04
_FURTHEST_DB = 40.0
_HAIR = 1e-5


@dataclass(frozen=True)
class Band:
    """One band that is on; numbers, or control signals that are followed."""

    response: str
    frequency_hz: float | Control
    gain_db: float | Control
    sharpness: float | Control

    @property
    def still(self) -> bool:
        """Whether nothing moves it."""
        return all(isinstance(one, float) for one in self._numbers)

    @property
    def held_sharpness(self) -> float | Control:
        """Its sharpness, no more than 4 for a shelf: beyond, it is a resonance beside a step."""
        if self.response not in ("low_shelf", "high_shelf"):
            return self.sharpness
        held = np.minimum(_SHARPEST_SHELF, self.sharpness)
        return held if held.ndim else float(held)

    @property
    def idle(self) -> bool:
        """Whether it does nothing: a bell or a shelf of 0 dB."""
        return self.response not in _GAINLESS and bool(np.all(np.asarray(self.gain_db) == 0.0))

    @property
    def _numbers(self) -> tuple[float | Control, ...]:
        return (self.frequency_hz, self.gain_db, self.sharpness)


def analogue_gain(
    response: str, x: NDArray[np.float64], gain_db: float, sharpness: float
) -> NDArray[np.float64]:
    """Magnitude of a prototype at x = frequency / its own frequency.

    Second-order forms with A = 10 ** (gain / 40): Bristow-Johnson, "Cookbook formulae for audio
    EQ biquad filter coefficients" (2005), the functions H(s).
    """
    s = 1j * x
    a, q = 10.0 ** (gain_db / 40.0), sharpness
    r = np.sqrt(a)
    top, bottom = {
        "peak": (s * s + s * a / q + 1.0, s * s + s / (a * q) + 1.0),
        "low_shelf": (a * (s * s + s * r / q + a), a * s * s + s * r / q + 1.0),
        "high_shelf": (a * (a * s * s + s * r / q + 1.0), s * s + s * r / q + a),
        "low_cut": (s * s, s * s + s / q + 1.0),
        "high_cut": (1.0 + 0.0 * s, s * s + s / q + 1.0),
        "notch": (s * s + 1.0, s * s + s / q + 1.0),
    }[response]
    return np.asarray(np.abs(top / bottom))


def response_db(bands: list[Band], hz: NDArray[np.float64]) -> NDArray[np.float64]:
    """The bands' prototypes together in dB; bands must stand still."""
    total = np.zeros(hz.shape)
    for band in bands:
        assert isinstance(band.frequency_hz, float)
        gain = analogue_gain(
            band.response, hz / band.frequency_hz, float(band.gain_db), float(band.held_sharpness)
        )
        total += 20.0 * np.log10(np.maximum(gain, 1e-10))
    return total


def equalised_signal(signal: Signal, bands: list[Band], *, sample_rate: int) -> Signal:
    """A signal through the bands, one after the other.

    Within 0.1 dB of the prototypes from 20 Hz to 16 kHz where they stand still, within 0.25 dB
    while they move.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    """
    working = [band for band in bands if not band.idle]
    equalised = signal
    for band in working:
        checkpoint()
        equalised = through_sections(equalised, _section(band, sample_rate))
    taps = _correction([band for band in working if band.still], sample_rate)
    if taps is None or not signal.shape[1]:
        return equalised
    corrected = oaconvolve(equalised, taps[np.newaxis], axes=1)[:, : signal.shape[1]]
    return np.ascontiguousarray(corrected)


def _section(band: Band, sample_rate: int) -> list[Coefficients]:
    return filter_coefficients(
        _RESPONSES.get(band.response, band.response),
        12,
        band.frequency_hz,
        band.held_sharpness,
        band.gain_db,
        sample_rate=sample_rate,
    )


def _correction(bands: list[Band], sample_rate: int) -> NDArray[np.float64] | None:
    """Impulse of what the sections lack of their prototypes; None where that is not heard."""
    hz = np.linspace(0.0, sample_rate / 2.0, _TAPS // 2 + 1)
    lacking_db = np.zeros(hz.shape)
    # At half the rate itself a section may have nothing.
    top_hz = 0.47 * sample_rate
    held = np.clip(hz, 1.0, top_hz)
    for band in bands:
        # Right at a notch both are 0, and their ratio is that of a hair beside it.
        own_hz = float(band.frequency_hz)
        here = np.where(np.abs(held / own_hz - 1.0) < _HAIR, held * (1.0 + _HAIR), held)
        (section,) = _section(band, sample_rate)
        made = np.abs(section_response(section, here, sample_rate))
        wanted = analogue_gain(
            band.response, here / own_hz, float(band.gain_db), float(band.held_sharpness)
        )
        lacking = 20.0 * np.log10(np.maximum(1e-12, wanted) / np.maximum(1e-12, made))
        lacking_db += np.clip(lacking, -_FURTHEST_DB, _FURTHEST_DB)
    heard = hz <= min(_HEARD_HZ, top_hz)
    if np.abs(lacking_db[heard]).max() < _NO_DIFFERENCE_DB:
        return None
    log_gain = lacking_db * (np.log(10.0) / 20.0)
    # The even part of the cepstrum folded onto its right half gives the minimum phase.
    cepstrum = irfft(log_gain, _TAPS)
    cepstrum[1 : _TAPS // 2] *= 2.0
    cepstrum[_TAPS // 2 + 1 :] = 0.0
    return np.asarray(irfft(np.exp(rfft(cepstrum)), _TAPS))
