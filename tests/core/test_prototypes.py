"""Filters against their analogue prototypes at every rate, still and moved."""

from __future__ import annotations

import numpy as np
import pytest

from nest_crate.core.dsp.filters.state_variable import filter_signal

RATES = [44100, 48000, 96000]
HZ = np.unique(np.geomspace(20.0, 16000.0, 120).round())
CUTOFFS = [40.0, 300.0, 1000.0, 3000.0, 7000.0, 12000.0, 16000.0]


def section(kind: str, x: np.ndarray, q: float, gain_db: float) -> np.ndarray:
    """H(s) of Bristow-Johnson's cookbook at s = j x."""
    s, a = 1j * x, 10.0 ** (gain_db / 40.0)
    r = np.sqrt(a)
    top, bottom = {
        "low_pass": (1.0 + 0 * s, s * s + s / q + 1.0),
        "high_pass": (s * s, s * s + s / q + 1.0),
        "band_pass": (s / q, s * s + s / q + 1.0),
        "notch": (s * s + 1.0, s * s + s / q + 1.0),
        "peak": (s * s + s * a / q + 1.0, s * s + s / (a * q) + 1.0),
        "low_shelf": (a * (s * s + s * r / q + a), a * s * s + s * r / q + 1.0),
        "high_shelf": (a * (a * s * s + s * r / q + 1.0), s * s + s * r / q + a),
    }[kind]
    return np.asarray(top / bottom)


def prototype_db(
    kind: str, slope_db: int, cutoff_hz: float, q: float, gain_db: float
) -> np.ndarray:
    x = HZ / cutoff_hz
    if slope_db == 6:
        v = 10.0 ** (gain_db / 20.0)
        s = 1j * x
        response = {
            "low_pass": 1.0 / (1.0 + s),
            "high_pass": s / (1.0 + s),
            "low_shelf": 1.0 + (v - 1.0) / (s * np.sqrt(v) + 1.0),
            "high_shelf": v + (1.0 - v) * np.sqrt(v) / (s + np.sqrt(v)),
        }[kind]
    elif kind in ("peak", "low_shelf", "high_shelf"):
        count = slope_db // 12
        response = section(kind, x, q, gain_db / count) ** count
    else:
        # Butterworth's sections, the sharpest of which takes the resonance.
        order = slope_db // 6
        angles = np.pi * (2 * np.arange(order // 2) + 1) / (2 * order)
        qs = np.sort(1.0 / (2.0 * np.cos(angles)))
        qs[-1] *= q * np.sqrt(2.0)
        response = np.prod([section(kind, x, one, 0.0) for one in qs], axis=0)
    return 20.0 * np.log10(np.maximum(np.abs(response), 1e-12))


def furthest_db(
    kind: str, slope_db: int, cutoff_hz: float, q: float, gain_db: float, rate: int, moved: bool
) -> float:
    impulse = np.zeros((1, rate))
    impulse[0, 0] = 1.0
    numbers = {"cutoff_hz": cutoff_hz, "resonance": q, "gain_db": gain_db}
    if moved:
        numbers["cutoff_hz"] = np.full(rate // 16 + 2, cutoff_hz)
    rung = filter_signal(impulse, response=kind, slope_db=slope_db, sample_rate=rate, **numbers)[0]
    # A second of it, so that there is a bin at every Hz.
    gains = np.fft.rfft(rung)[HZ.astype(int)]
    expected = prototype_db(kind, slope_db, cutoff_hz, q, gain_db)
    made = 20.0 * np.log10(np.maximum(np.abs(gains), 1e-12))
    heard = expected > expected.max() - 60.0
    return float(np.abs(made - expected)[heard].max())


@pytest.mark.parametrize("moved", [False, True], ids=["still", "moved"])
@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("slope_db", [6, 12, 24, 36])
@pytest.mark.parametrize("kind", ["low_pass", "high_pass", "band_pass", "notch"])
def test_filters_are_their_prototypes(kind: str, slope_db: int, rate: int, moved: bool) -> None:
    if slope_db == 6 and kind in ("band_pass", "notch"):
        slope_db = 12
    for cutoff_hz in CUTOFFS:
        # What rings longer than a second is not measured by it.
        for q in (0.5, 0.707, 3.0, 12.0) if cutoff_hz > 200.0 else (0.5, 0.707):
            limit = 0.25 if cutoff_hz < 16000.0 else 0.35
            assert furthest_db(kind, slope_db, cutoff_hz, q, 0.0, rate, moved) < limit, (
                cutoff_hz,
                q,
            )


@pytest.mark.parametrize("moved", [False, True], ids=["still", "moved"])
@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("kind", ["peak", "low_shelf", "high_shelf"])
def test_next_to_no_gain_is_next_to_no_change(kind: str, rate: int, moved: bool) -> None:
    for cutoff_hz in CUTOFFS:
        for q in (0.1, 0.707, 12.0) if cutoff_hz > 200.0 else (0.1, 0.707):
            for gain_db in (0.0, 1e-9, -1e-5, 0.01, -0.1):
                furthest = furthest_db(kind, 12, cutoff_hz, q, gain_db, rate, moved)
                # Read off between places where it is moved.
                assert furthest < (0.05 if moved else 0.01), (cutoff_hz, q, gain_db)


def test_a_peak_of_no_gain_leaves_the_samples() -> None:
    signal = np.random.default_rng(1).normal(size=(2, 4800))
    for kind in ("peak", "low_shelf", "high_shelf"):
        made = filter_signal(
            signal, response=kind, slope_db=24, cutoff_hz=900.0, resonance=2.0, sample_rate=48000
        )
        assert np.array_equal(made, signal)


@pytest.mark.parametrize("moved", [False, True], ids=["still", "moved"])
@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("slope_db", [6, 12, 24, 36])
@pytest.mark.parametrize("kind", ["peak", "low_shelf", "high_shelf"])
def test_peaks_and_shelves_are_their_prototypes(
    kind: str, slope_db: int, rate: int, moved: bool
) -> None:
    if slope_db == 6 and kind == "peak":
        slope_db = 12
    for cutoff_hz in CUTOFFS:
        for q in (0.5, 0.707, 2.0):
            for gain_db in (-18.0, 4.0, 18.0):
                furthest = furthest_db(kind, slope_db, cutoff_hz, q, gain_db, rate, moved)
                assert furthest < (0.25 if cutoff_hz < 16000.0 else 0.35), (cutoff_hz, q, gain_db)
