"""Renders keep to bounds: of memory, of cost known beforehand, and of patience."""

from __future__ import annotations

import threading
import tracemalloc
from typing import Any

import numpy as np
import pytest

from nest_crate.core.cancellation import Cancel, Cancelled, watching
from nest_crate.core.dsp.filters.comb import _comb
from nest_crate.core.engine import RenderSettings, StageMemory, render, render_with_trace
from nest_crate.core.engine.budget import Budget
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS

HELD = {"points": [{"time_s": 0, "value": 1}]}


def with_chain(
    kinds: list[str], *, layers: int = 1, length_s: float = 2.0, source: Any = None
) -> Sound:
    own = source or {"kind": "tone", "shape": 2.0, "unison": {"voices": 2, "width": 1.0}}
    every = [
        {
            "id": f"l{n}",
            "name": f"L{n}",
            "source": own,
            "level": HELD,
            "chain": [{"id": f"p{n}-{m}", "kind": kind} for m, kind in enumerate(kinds)],
        }
        for n in range(layers)
    ]
    return load_sound({"name": "Bounded", "layers": every, "hit": {"hold_s": length_s}})


def most_signals(sound: Sound, settings: RenderSettings, *, traced: bool = False) -> float:
    """Most memory of a render, counted in stereo signals of its length."""
    assert settings.length_s is not None
    (render_with_trace if traced else render)(sound, settings=settings)
    tracemalloc.start()
    (render_with_trace if traced else render)(sound, settings=settings)
    most = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return most / (settings.length_s * settings.sample_rate * 16.0)


TWO_S = RenderSettings(length_s=2.0)


@pytest.mark.parametrize("traced", [False, True])
def test_a_longer_chain_takes_no_more_memory(traced: bool) -> None:
    few, many = (most_signals(with_chain(["gain"] * n), TWO_S, traced=traced) for n in (4, 32))
    assert many < few + 0.5


def test_more_layers_take_no_more_memory() -> None:
    few, many = (most_signals(with_chain(["gain"] * 4, layers=n), TWO_S) for n in (2, 8))
    assert many < few + 0.5


@pytest.mark.parametrize("kind", sorted(PROCESSOR_KINDS))
def test_memory_is_what_was_expected(kind: str) -> None:
    settings = RenderSettings(length_s=4.0)
    sound = with_chain([kind], length_s=4.0)
    expected = expected_cost(sound, sound.hit, settings).bytes / (4.0 * 48000 * 16.0)
    assert most_signals(sound, settings) < 1.15 * expected + 1.0


def test_sixty_seconds_of_everything_stay_below_a_gigabyte() -> None:
    kinds = sorted(PROCESSOR_KINDS)
    sound = with_chain((kinds * 2)[:32], layers=8, length_s=60.0)
    cost = expected_cost(sound, sound.hit, RenderSettings(length_s=60.0))
    assert cost.bytes < 1_000_000_000
    high = expected_cost(sound, sound.hit, RenderSettings(sample_rate=192000, length_s=60.0))
    assert high.bytes < 4.1 * cost.bytes


def test_what_costs_too_much_is_refused_before_it_begins() -> None:
    sound = with_chain(["drive"] * 8, layers=4, length_s=60.0)
    settings = RenderSettings(sample_rate=192000, budget=Budget(seconds=20.0, bytes=500_000_000))
    memory = StageMemory()
    with pytest.raises(DocumentError) as refused:
        render(sound, settings=settings, memory=memory)
    (problem,) = refused.value.problems
    assert problem.code == "budget"
    for words in ("s of computing", "GB of memory", "shorten its 60.0 s", "lower rate", "drive"):
        assert words in problem.message
    assert memory.held_bytes == 0


def test_a_render_within_its_budget_is_the_same() -> None:
    sound = with_chain(["drive"], length_s=0.2)
    free = render(sound, settings=RenderSettings(length_s=0.2)).samples
    budget = Budget(seconds=1.0, bytes=50_000_000)
    held = render(sound, settings=RenderSettings(length_s=0.2, budget=budget)).samples
    np.testing.assert_array_equal(held, free)


def test_cancelled_before_it_begins_nothing_is_made() -> None:
    cancel, memory = Cancel(), StageMemory()
    cancel.set()
    with pytest.raises(Cancelled, match="This was cancelled"):
        render(with_chain(["room"]), settings=RenderSettings(cancel=cancel), memory=memory)
    assert memory.held_bytes == 0


def test_cancelled_from_another_thread_it_ends_before_its_end() -> None:
    cancel = Cancel()
    sound = with_chain(["drive", "room", "shimmer"] * 8, layers=8, length_s=30.0)
    settings = RenderSettings(length_s=30.0, cancel=cancel)
    found: list[BaseException] = []

    def work() -> None:
        try:
            render(sound, settings=settings)
        except Cancelled as error:
            found.append(error)

    thread = threading.Thread(target=work)
    thread.start()
    cancel.set()
    thread.join(20.0)
    assert not thread.is_alive()
    assert [error.code for error in found] == ["cancelled"]


def test_kernels_stop_at_the_end_of_a_block() -> None:
    signal, out = np.ones(20000), np.zeros(20000)
    controls = np.array([[100.0], [0.5], [0.0], [0.0]])
    never, given_up = Cancel(), Cancel()
    given_up.set()
    _comb(out, signal, np.zeros(128), controls, 16, given_up.flag)
    assert not out.any()
    _comb(out, signal, np.zeros(128), controls, 16, never.flag)
    assert out.all()


def test_one_thread_s_cancel_is_nothing_to_another() -> None:
    cancel = Cancel()
    cancel.set()
    sound = with_chain(["gain"], length_s=0.1)
    with watching(cancel):
        done: list[int] = []
        thread = threading.Thread(target=lambda: done.append(render(sound).samples.shape[1]))
        thread.start()
        thread.join()
        with pytest.raises(Cancelled, match="This was cancelled"):
            render(sound)
    assert done
    assert render(sound).samples.any()
