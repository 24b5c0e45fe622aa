import threading

import numpy as np
import pytest

from nest_crate.core.dsp.util.running_extremes import running_maximum
from nest_crate.core.dsp.util.signals import fade_end, pan_signal, peak, require_signal, sum_signals
from nest_crate.core.engine.memory import StageMemory
from nest_crate.core.engine.stages import StageRunner, stage


def noise(channels=1, frames=1000):
    return np.random.default_rng(9).uniform(-1, 1, (channels, frames))


class TestGate:
    @pytest.mark.parametrize(
        ("signal", "words"),
        [
            (np.zeros(10), "shape"),
            (np.zeros((3, 10)), "shape"),
            (np.zeros((1, 2, 3)), "shape"),
            (np.array([[np.nan]]), "NaN"),
            (np.array([[1.0], [np.inf]]), "NaN or infinity"),
        ],
    )
    def test_refuses_what_is_no_signal(self, signal, words):
        with pytest.raises(ValueError, match=words):
            require_signal(signal)

    def test_gives_contiguous_doubles(self):
        passed = require_signal(np.asfortranarray(noise(2).astype(np.float32)))
        assert passed.dtype == np.float64
        assert passed.flags["C_CONTIGUOUS"]


def test_peak_is_the_largest_magnitude():
    assert peak(np.array([[0.1, -0.9], [0.5, 0.2]])) == 0.9
    assert peak(np.zeros((1, 0))) == 0.0


@pytest.mark.parametrize("pan", [-1.0, -0.3, 0.0, 0.5, 1.0])
def test_pan_keeps_the_power(pan):
    signal = noise()
    panned = pan_signal(signal, pan)
    # The centre stays as it is, which on two speakers is twice the power of one channel.
    expected = (signal**2).sum() * (1 if panned.shape[0] == 1 else 2)
    assert (panned**2).sum() == pytest.approx(expected)
    if pan:
        left, right = (panned**2).sum(axis=1)
        assert np.sign(right - left) == np.sign(pan)


def test_pan_of_a_stereo_signal_turns_down_one_side():
    left, right = (pan_signal(noise(2), 1.0) ** 2).sum(axis=1)
    assert left < 1e-20 < right


def test_sum_is_stereo_where_any_part_is():
    mono, stereo = noise(), noise(2)
    np.testing.assert_array_equal(sum_signals([mono, stereo], 1000), mono + stereo)
    assert sum_signals([mono, mono], 1000).shape == (1, 1000)
    assert not sum_signals([], 7).any()


@pytest.mark.parametrize(("frames", "fade"), [(1000, 100), (50, 100), (1, 10)])
def test_fade_goes_down_to_exactly_0_and_leaves_the_rest(frames, fade):
    signal = np.ones((2, frames))
    faded = fade_end(signal, fade)
    assert not faded[:, -1].any()
    assert np.all(np.diff(faded) <= 0)
    np.testing.assert_array_equal(faded[:, : max(0, frames - fade)], 1.0)
    assert signal.all(), "the given signal is not touched"


class TestStages:
    def counted(self, value, log, inputs=()):
        def work(results):
            log.append(value)
            return np.full((1, 10), value) + sum(results)

        return stage("a", f"number {value}", {"value": value}, work, inputs)

    def test_each_stage_runs_once_however_many_need_it(self):
        log = []
        source = self.counted(1.0, log)
        both = self.counted(2.0, log, (self.counted(3.0, log, (source,)), source))
        result = StageRunner(None).result(both)
        assert sorted(log) == [1.0, 2.0, 3.0]
        np.testing.assert_array_equal(result, 2 + (3 + 1) + 1)

    def test_key_covers_numbers_and_inputs(self):
        one, other = self.counted(1.0, []), self.counted(2.0, [])
        assert one.key == self.counted(1.0, []).key
        keys = {self.counted(5.0, [], parts).key for parts in ((), (one,), (other,), (one, other))}
        assert len(keys) == 4

    def test_what_is_remembered_is_not_made_again(self):
        log, memory = [], StageMemory()
        for _ in range(2):
            StageRunner(memory).result(self.counted(4.0, log))
        assert log == [4.0]


class TestMemory:
    def test_least_recently_used_goes_first(self):
        memory = StageMemory(limit_bytes=3 * 80)
        for key in "abc":
            memory.put(key, np.zeros((1, 10)))
        assert memory.get("a") is not None
        memory.put("d", np.zeros((1, 10)))
        assert [memory.get(key) is not None for key in "abcd"] == [True, False, True, True]

    def test_what_is_larger_than_the_whole_memory_is_not_kept(self):
        memory = StageMemory(limit_bytes=100)
        memory.put("huge", np.zeros((1, 1000)))
        assert memory.get("huge") is None
        assert memory.held_bytes == 0

    def test_many_threads_leave_its_count_right(self):
        memory = StageMemory(limit_bytes=50 * 80)

        def work(seed):
            for n in np.random.default_rng(seed).integers(0, 200, 500):
                memory.put(str(n), np.zeros((1, 10)))
                memory.get(str(n + 1))

        threads = [threading.Thread(target=work, args=(seed,)) for seed in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        assert memory.held_bytes <= 50 * 80
        assert memory.held_bytes == 80 * sum(memory.get(str(n)) is not None for n in range(200))


@pytest.mark.parametrize("frames", [1, 7, 48, 500, 5000])
@pytest.mark.parametrize("window", [1, 2, 7, 144, 505])
def test_running_maximum_is_that_of_each_window(frames: int, window: int) -> None:
    values = np.random.default_rng(frames).normal(size=frames)
    expected = [values[max(0, n - window + 1) : n + 1].max() for n in range(frames)]
    np.testing.assert_array_equal(running_maximum(values, window), expected)
