"""Memories bounded by bytes."""

import threading

from nest_crate.core.byte_memory import ByteMemory


def filled(*sizes, limit=10, **more):
    memory = ByteMemory(limit, len, **more)
    for n, size in enumerate(sizes):
        memory.put(n, b"x" * size)
    return memory


def test_the_least_recently_used_goes_first():
    memory = filled(4, 4)
    assert memory.get(0) is not None
    memory.put(2, b"xxxx")
    assert [memory.get(n) is not None for n in range(3)] == [True, False, True]
    assert memory.held_bytes == 8


def test_the_same_key_counts_once():
    memory = filled(4)
    memory.put(0, b"xxxxxx")
    assert memory.get(0) == b"xxxxxx"
    assert memory.held_bytes == 6


def test_what_is_larger_than_the_limit_is_not_kept():
    memory = filled(4, 11)
    assert memory.get(1) is None
    assert memory.get(0) is not None


def test_or_alone_until_the_next_comes():
    memory = filled(4, 11, keep_larger=True)
    assert memory.get(1) == b"x" * 11
    assert memory.get(0) is None
    assert memory.held_bytes == 11
    memory.put(2, b"xx")
    assert memory.get(1) is None
    assert memory.held_bytes == 2


def test_many_threads_never_pass_the_limit():
    memory = ByteMemory(100, len)

    def work(start):
        for n in range(500):
            memory.put((start, n % 7), b"x" * (n % 30))
            memory.get((start, (n + 3) % 7))

    threads = [threading.Thread(target=work, args=(k,)) for k in range(8)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert memory.held_bytes <= 100
