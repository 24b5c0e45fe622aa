"""Runs of a batch plan without a server or a database, on Dask workers here or elsewhere."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import dask
from distributed import Client, LocalCluster, as_completed

from nest_crate.core.dsp.util.trim import apply_edits
from nest_crate.core.engine import ENGINE_VERSION, Audio, RenderSettings, StageMemory
from nest_crate.core.errors import NestCrateError
from nest_crate.core.families import Family, load_batch, made_of, render_member
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import load_sound
from nest_crate.jobs.quiet import QUIET

__all__ = ["MadeFile", "made_files", "made_piece", "opened_workers", "pieces_of"]

_PIECE = 8
_MEMORY_BYTES = 256_000_000


@dataclass(frozen=True)
class MadeFile:
    """A member as a file, or words why it could not be made."""

    number: int
    data: bytes
    figures: dict[str, Any]
    flags: tuple[str, ...]
    words: str = ""

    @property
    def digest(self) -> str:
        return hashlib.sha256(self.data).hexdigest()


@contextmanager
def opened_workers(scheduler: str | None, workers: int) -> Iterator[Client]:
    """Workers of a scheduler, or as many processes of this machine."""
    with dask.config.set(QUIET):
        if scheduler:
            with Client(scheduler, timeout=10, set_as_default=False) as client:
                yield client
            return
        with (
            LocalCluster(
                n_workers=workers,
                threads_per_worker=1,
                processes=True,
                host="127.0.0.1",
                dashboard_address="127.0.0.1:0",
                worker_dashboard_address=None,
                silence_logs=50,
            ) as cluster,
            Client(cluster, set_as_default=False) as client,
        ):
            yield client


def pieces_of(count: int) -> list[list[int]]:
    """Members in pieces that share what they have in common, by number."""
    return [list(range(at, min(at + _PIECE, count + 1))) for at in range(1, count + 1, _PIECE)]


def made_files(
    client: Client,
    plan: Mapping[str, Any],
    recordings: Mapping[str, Audio],
    numbers: list[list[int]],
) -> Iterator[list[MadeFile]]:
    """The members of a plan with its sounds in it, piece by piece as they are made."""
    given = client.scatter([dict(plan), dict(recordings)], broadcast=True, hash=False)
    futures = [
        client.submit(made_piece, *given, ENGINE_VERSION, piece, pure=False, priority=-at)
        for at, piece in enumerate(numbers)
    ]
    for future in as_completed(futures, loop=client.loop):
        yield future.result()
        future.release()


# Of a worker: the family of the plan that it was given last, and its remembered stages.
_opened: dict[int, tuple[dict[str, Any], Family, StageMemory]] = {}


def made_piece(
    plan: dict[str, Any], recordings: dict[str, Audio], engine_version: int, numbers: list[int]
) -> list[MadeFile]:
    """Some members of a plan, by number; what runs in a worker.

    Raises
    ------
    RuntimeError
        where the worker has another engine than who asks.
    """
    if engine_version != ENGINE_VERSION:
        raise RuntimeError(
            f"This worker has engine {ENGINE_VERSION}, the plan is run with {engine_version}; "
            "install the same version on both"
        )
    known = _opened.get(0)
    if known is None or known[0] is not plan:
        sounds = {one["id"]: load_sound(one["document"]) for one in plan["sounds"]}
        known = (plan, Family(load_batch(plan), sounds), StageMemory(_MEMORY_BYTES))
        _opened[0] = known
    _, family, memory = known
    return [_file(family, recordings, memory, number) for number in numbers]


def _file(
    family: Family, recordings: Mapping[str, Audio], memory: StageMemory, number: int
) -> MadeFile:
    member = family.member(number)
    settings = RenderSettings(sample_rate=member.sample_rate, recordings=recordings)
    try:
        audio = render_member(family.sounds, member, settings, memory)
        made = made_of(audio, family.plan.members)
    except NestCrateError as error:
        return MadeFile(number, b"", {}, (), error.message)
    heard = apply_edits(audio.samples, audio.sample_rate, made.edits)
    data = encode_wav(heard, audio.sample_rate, sample_format="float32")
    return MadeFile(number, data, made.figures, made.flags)
