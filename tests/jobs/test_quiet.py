"""Workers keep no record of their own work, which would grow for as long as they live."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from functools import partial

import dask
import pytest
from distributed import Client, Worker

from nest_crate.jobs.cluster import opened_client
from nest_crate.jobs.plan_runs import opened_workers
from nest_crate.settings import Settings


def _records(dask_worker: Worker) -> tuple[bool, int]:
    return dask.config.get("distributed.worker.profile.enabled"), len(dask_worker.profile_history)


@pytest.mark.parametrize(
    "opened", [partial(opened_client, Settings()), partial(opened_workers, None, 1)]
)
def test_a_worker_keeps_no_record_of_what_it_was_at(
    opened: Callable[[], AbstractContextManager[Client]],
) -> None:
    with opened() as client:
        assert client.submit(sum, [1, 2]).result() == 3
        assert set(client.run(_records).values()) == {(False, 0)}
