import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nest_crate.core.dsp.util.curves import curve_signal
from nest_crate.core.sound import Curve, CurveLoop, CurvePoint


def curve(points, release=(), loop=None):
    def row(values):
        return tuple(
            CurvePoint(time_s=v[0], value=v[1], bend=v[2] if len(v) > 2 else 0.0) for v in values
        )

    return Curve(points=row(points), release=row(release), loop=loop)


def signal(drawn, *, frames=48000, rate=48000, hold_s=0.25):
    return curve_signal(drawn, frames=frames, sample_rate=rate, hold_s=hold_s)


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("time_s", [0.001, 0.0283, 0.25, 0.5])
def test_a_step_falls_on_the_first_frame_at_or_after_its_time(rate, time_s):
    stepped = signal(curve([(0, 0), (time_s, 0), (time_s, 1)]), rate=rate, frames=rate)
    assert int(np.flatnonzero(stepped)[0]) == int(np.ceil(round(time_s * rate, 6)))


@pytest.mark.parametrize("bend", [-8.0, -1.0, 0.0, 1.0, 8.0])
def test_bend_follows_the_exponential_of_its_definition(bend):
    drawn = signal(curve([(0, 0.2), (0.5, 0.9, bend)]))
    x = np.arange(24001) / 24000
    way = x if bend == 0 else (1 - np.exp(-bend * x)) / (1 - np.exp(-bend))
    np.testing.assert_allclose(drawn[:24001], 0.2 + 0.7 * way, atol=1e-9)


def test_bend_above_0_moves_fast_first():
    assert signal(curve([(0, 0), (1, 1, 4)]))[12000] > 0.5
    assert signal(curve([(0, 0), (1, 1, -4)]))[12000] < 0.1


def test_value_stays_before_the_first_and_after_the_last_point():
    drawn = signal(curve([(0.1, 0.5), (0.2, 0.7)]))
    assert set(drawn[:4800]) == {0.5}
    assert set(drawn[9600:]) == {0.7}


def test_without_a_release_the_hold_changes_nothing():
    drawn = curve([(0, 0), (0.1, 1), (0.5, 0, 3)])
    np.testing.assert_array_equal(signal(drawn, hold_s=0.05), signal(drawn, hold_s=2.0))


@pytest.mark.parametrize("hold_s", [0.0, 0.013, 0.1, 0.4])
def test_release_starts_from_wherever_the_curve_stands_without_a_step(hold_s):
    held = [(0, 0), (0.05, 1, 2), (0.3, 0.4, 3)]
    released = signal(curve(held, [(0.2, 0, 3)]), hold_s=hold_s)
    at = round(hold_s * 48000)
    np.testing.assert_allclose(released[:at], signal(curve(held))[:at], atol=1e-9)
    assert np.abs(np.diff(released)).max() < 0.01
    assert abs(released[at + 9600]) < 1e-9


def test_loop_goes_round_until_the_hold_ends():
    loop = CurveLoop(start=0, end=2)
    drawn = curve([(0, 0), (0.05, 1), (0.1, 0), (0.3, 0)], loop=loop)
    looped = signal(drawn, hold_s=0.5)
    for number in range(5):
        np.testing.assert_allclose(
            looped[number * 4800 : (number + 1) * 4800], looped[:4800], atol=1e-9
        )
    assert np.abs(looped[24000:]).max() < 1e-9


def test_loop_with_release_leaves_from_where_it_stands():
    drawn = curve([(0, 0), (0.1, 1)], [(0.05, 0)], loop=CurveLoop(start=0, end=1))
    looped = signal(drawn, hold_s=0.25)
    assert looped[12000] == pytest.approx(0.5, abs=1e-3)
    assert abs(looped[14400]) < 1e-9


def test_long_curve_keeps_its_precision_to_the_end():
    rate = 192000
    drawn = signal(curve([(0, 1), (60, 0, 5)]), rate=rate, frames=60 * rate)
    x = 59.5 / 60
    expected = 1 - (1 - np.exp(-5 * x)) / (1 - np.exp(-5))
    assert drawn[int(59.5 * rate)] == pytest.approx(expected, abs=1e-8)


times = st.lists(st.floats(0, 2), min_size=1, max_size=8).map(sorted)


@given(times, st.floats(-10, 10), st.floats(0, 2), st.integers(0, 3))
def test_any_curve_stays_within_its_points(moments, bend, hold_s, releases):
    points = [(t, (n * 7 % 5) / 5, bend) for n, t in enumerate(moments)]
    release = [(0.1 * n, 0.3 * n, bend) for n in range(releases)]
    drawn = signal(curve(points, release), hold_s=hold_s, frames=5000, rate=2000)
    values = [p[1] for p in points + release]
    assert np.all(np.isfinite(drawn))
    assert drawn.min() >= min(values) - 1e-9
    assert drawn.max() <= max(values) + 1e-9
