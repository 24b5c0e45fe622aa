"""A simulated object store on loopback, for tests of the program on a bucket."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

import s3fs
from moto.server import ThreadedMotoServer

KEY, SECRET = "crate", "hidden under the pot"


@dataclass
class SimulatedStore:
    """Its address, and a bucket in it; ``environment`` is what a program needs to reach it."""

    server: ThreadedMotoServer
    endpoint: str
    environment: dict[str, str] = field(default_factory=dict)
    url: str = "s3://nest-crate/audio"

    def names(self) -> list[str]:
        """The names of all objects, as somebody else sees them."""
        there = s3fs.S3FileSystem(
            endpoint_url=self.endpoint,
            key=KEY,
            secret=SECRET,
            use_listings_cache=False,
            skip_instance_cache=True,
        )
        return sorted(path.rsplit("/", 1)[-1] for path in there.find("nest-crate"))


@contextmanager
def simulated_store() -> Iterator[SimulatedStore]:
    """A store with an empty bucket, until the end."""
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    host, port = server.get_host_and_port()
    endpoint = f"http://{host}:{port}"
    made = s3fs.S3FileSystem(
        endpoint_url=endpoint, key=KEY, secret=SECRET, skip_instance_cache=True
    )
    # What one process simulates is one store, whatever its address.
    if made.exists("nest-crate"):
        made.rm("nest-crate", recursive=True)
    made.mkdir("nest-crate")
    environment = {
        "FSSPEC_S3_ENDPOINT_URL": endpoint,
        "FSSPEC_S3_KEY": KEY,
        "FSSPEC_S3_SECRET": SECRET,
        "NEST_CRATE_AUDIO_URL": SimulatedStore.url,
    }
    try:
        yield SimulatedStore(server, endpoint, environment)
    finally:
        server.stop()
