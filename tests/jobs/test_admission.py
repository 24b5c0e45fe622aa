"""Who is rendered for next, decided without processes."""

import itertools
from collections import Counter

import pytest

from nest_crate.jobs.rendering.admission import Admission, Job, Limits, Refusal, Step, home_of

LANES = {"quick": [0, 1], "slow": [2]}
NUMBERS = itertools.count(1)


def job(account="a", sound="kick", lane="quick", cost_s=0.1, steps=1, **facts):
    return Job(
        id=next(NUMBERS),
        account=account,
        sound=sound,
        lane=lane,
        steps=[Step(f"step {n}", n) for n in range(steps)],
        cost_s=cost_s,
        **facts,
    )


def admission(workers=(0, 1), **limits):
    return Admission(Limits(**limits), {**LANES, "quick": list(workers)})


def alone(**limits):
    """For one worker."""
    return admission(workers=[0], **limits)


def given(queue, count=1000):
    """The jobs that one worker is given, each step done at once, with the step's name."""
    for _ in range(count):
        one = queue.next_for(0, "quick", {0}, 1.0)
        if one is None:
            return
        yield one, one.steps[0].task
        queue.step_done(one, 1.0)


def accounts(queue, count):
    return Counter(one.account for one, _ in given(queue, count))


def test_a_flood_of_one_leaves_every_second_turn_to_another():
    queue = alone(waiting=64)
    for n in range(20):
        queue.submit(job("flood", sound=f"f{n}"), 0.0)
    for n in range(5):
        queue.submit(job("other", sound=f"o{n}"), 0.0)
    assert accounts(queue, 10)["other"] == 5


def test_shares_are_of_seconds_not_of_jobs():
    queue = alone()
    for n in range(8):
        queue.submit(job("dear", sound=f"d{n}", cost_s=0.4), 0.0)
        queue.submit(job("cheap", sound=f"c{n}", cost_s=0.1), 0.0)
    assert accounts(queue, 10)["cheap"] == 8


def test_who_was_away_has_saved_nothing_up():
    queue = alone(waiting=64)
    for n in range(40):
        queue.submit(job("busy", sound=f"b{n}"), 0.0)
    assert accounts(queue, 20) == {"busy": 20}
    for n in range(10):
        queue.submit(job("late", sound=f"l{n}"), 1.0)
    assert accounts(queue, 8) == {"busy": 4, "late": 4}


def test_two_of_an_account_run_at_a_time():
    queue = admission(running=2)
    for n in range(4):
        queue.submit(job(sound=f"s{n}"), 0.0)
    free = {0, 1}
    given = [queue.next_for(worker, "quick", free, 1.0) for worker in (0, 1, 0, 1)]
    running = [one for one in given if one]
    assert len(running) == 2
    queue.step_done(running[0], 1.0)
    assert any(queue.next_for(worker, "quick", free, 1.0) for worker in (0, 1))


def test_the_newest_of_a_stream_takes_the_place_of_the_earlier_ones():
    queue = admission()
    first, second, other = job(stream="s"), job(stream="s"), job(stream="t")
    theirs = job("b", stream="s")
    assert queue.submit(first, 0.0) == []
    assert queue.submit(other, 0.0) == []
    assert queue.submit(theirs, 0.0) == []
    running = queue.next_for(home_of("kick", [0, 1]), "quick", {0, 1}, 0.0)
    assert running in (first, theirs)
    assert queue.submit(second, 0.1) == [first]
    left = {one.id for one in queue.waiting()} | {running.id}
    assert first.id not in {one.id for one in queue.waiting()}
    assert {second.id, other.id} <= left


def test_what_replaces_nothing_waits_beside_it():
    queue = admission()
    queue.submit(job(stream="s"), 0.0)
    assert queue.submit(job(), 0.0) == []
    assert len(list(queue.waiting())) == 2


def test_a_sound_stays_at_its_worker_and_goes_elsewhere_where_that_is_busy():
    queue = admission()
    home = home_of("kick", [0, 1])
    other = 1 - home
    queue.submit(job(), 0.0)
    assert queue.next_for(other, "quick", {0, 1}, 0.0) is None
    assert queue.next_for(home, "quick", {0, 1}, 0.0) is not None
    queue.submit(job("b"), 0.0)
    assert queue.next_for(other, "quick", {other}, 0.01) is None, "its stages are at home"
    assert queue.next_for(other, "quick", {other}, 0.05) is not None


def test_sounds_spread_over_workers_and_stay_when_one_is_added():
    sounds = [f"sound {n}" for n in range(400)]
    before = {one: home_of(one, range(4)) for one in sounds}
    assert all(60 < count < 140 for count in Counter(before.values()).values())
    moved = [one for one in sounds if home_of(one, range(5)) != before[one]]
    assert {home_of(one, range(5)) for one in moved} == {4}
    assert 40 < len(moved) < 130


def test_audio_of_everyone_comes_before_pictures_of_anyone():
    queue = alone()
    for account in "abc":
        queue.submit(job(account, sound=account, steps=2), 0.0)
    assert [step for _, step in given(queue)] == ["step 0"] * 3 + ["step 1"] * 3


def test_later_steps_go_to_the_same_worker():
    queue = admission()
    queue.submit(job(steps=2), 0.0)
    home = home_of("kick", [0, 1])
    one = queue.next_for(home, "quick", {0, 1}, 0.0)
    assert queue.step_done(one, 0.0)
    assert queue.next_for(1 - home, "quick", {1 - home}, 9.0) is None
    assert queue.next_for(home, "quick", {0, 1}, 9.0) is one
    assert not queue.step_done(one, 9.0)
    assert list(queue.waiting()) == []


def test_past_its_queue_an_account_is_told_when_to_come_back_and_others_are_let_in():
    queue = admission(waiting=3)
    for n in range(3):
        assert queue.submit(job(sound=f"s{n}", cost_s=4.0), 0.0) == []
    refused = queue.submit(job(sound="s4"), 0.0)
    assert isinstance(refused, Refusal)
    assert refused.retry_after_s == pytest.approx(6, abs=1)
    assert queue.submit(job("b"), 0.0) == []


def test_an_hour_of_work_does_not_wait():
    queue = admission(waiting_s=60.0)
    taken = 0
    while queue.submit(job(sound=f"s{taken}", cost_s=20.0), 0.0) == []:
        taken += 1
    assert taken == 7
    assert queue.submit(job("b"), 0.0) == [], "another's flood is no reason to refuse"


def test_what_is_over_frees_its_place_however_it_ended():
    queue = admission(running=1)
    first, second = job(), job()
    queue.submit(first, 0.0)
    queue.submit(second, 0.0)
    home = home_of("kick", [0, 1])
    assert queue.next_for(home, "quick", {0, 1}, 0.0) is first
    assert queue.next_for(home, "quick", {0, 1}, 0.0) is None
    queue.remove(first)
    queue.remove(first)
    assert queue.next_for(home, "quick", {0, 1}, 0.0) is second
