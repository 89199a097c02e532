"""Where parts are counted: in threads here, in processes here, or on a cluster. The one place that knows Dask."""

from __future__ import annotations

import logging
import os
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor, as_completed
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from echelle.errors import InputError
from echelle.far.count import count_part
from echelle.far.manifest import Manifest
from echelle.far.question import CountQuestion
from echelle.far.tally import PartTally

if TYPE_CHECKING:
    from distributed import Client

SCHEDULER = "ECHELLE_SCHEDULER"
# Certificates for a cluster off this machine: of the authority, of this side, and its key.
CERTIFICATES = ("ECHELLE_TLS_AUTHORITY", "ECHELLE_TLS_CERTIFICATE", "ECHELLE_TLS_KEY")
_HERE = ("127.0.0.1", "localhost", "[::1]")
_MEMORY = "512MB"
# A part whose worker died is counted again, so often.
_FAILURES = 20
# glibc keeps freed memory in as many heaps as there are threads; two, given back early, halve time and memory.
HEAP = {"MALLOC_ARENA_MAX": "2", "MALLOC_TRIM_THRESHOLD_": "65536", "POLARS_MAX_THREADS": "1"}


@dataclass(frozen=True)
class Engine:
    """How parts are counted: ``workers`` processes on this machine, none for threads; or a cluster's ``scheduler``."""

    workers: int = 0
    scheduler: str | None = None

    @staticmethod
    def from_environment(workers: int = 0) -> Engine:
        """The cluster that the environment names, else this machine."""
        return Engine(workers, os.environ.get(SCHEDULER) or None)


HERE = Engine()


def counted_parts(
    manifest: Manifest, places: Sequence[int], question: CountQuestion, separator: str = ",", engine: Engine = HERE
) -> Iterator[tuple[int, PartTally]]:
    """The tally of each part, as they come. Closing the iterator stops what is under way.

    Raises InputError for a part that cannot be read, and for a cluster that is not there or may not be spoken to.
    """
    if engine.scheduler is None and engine.workers < 1:
        yield from _in_threads(manifest, places, question, separator)
        return
    with _client(engine) as client:
        yield from _on_cluster(client, manifest, places, question, separator)


def _in_threads(
    manifest: Manifest, places: Sequence[int], question: CountQuestion, separator: str
) -> Iterator[tuple[int, PartTally]]:
    pool = ThreadPoolExecutor(min(4, os.cpu_count() or 1))
    try:
        under_way = {pool.submit(count_part, manifest, place, question, separator): place for place in places}
        for future in as_completed(under_way):
            yield under_way[future], future.result()
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


def _on_cluster(
    client: Client, manifest: Manifest, places: Sequence[int], question: CountQuestion, separator: str
) -> Iterator[tuple[int, PartTally]]:
    from distributed import as_completed as completed

    futures = client.map(_packed, places, manifest=manifest, question=question, separator=separator, pure=False)
    place_of = {future.key: place for future, place in zip(futures, places, strict=True)}
    try:
        for future in completed(futures):
            yield place_of[future.key], PartTally.unpacked(future.result())
            future.release()
    finally:
        client.cancel(futures)


def _packed(place: int, manifest: Manifest, question: CountQuestion, separator: str) -> bytes:
    return count_part(manifest, place, question, separator).packed()


@contextmanager
def _client(engine: Engine) -> Iterator[Client]:
    import dask
    from distributed import Client, LocalCluster

    dask.config.set({"distributed.scheduler.allowed-failures": _FAILURES, "distributed.comm.timeouts.connect": "10s"})
    if engine.scheduler is not None:
        try:
            client = Client(engine.scheduler, security=_security(engine.scheduler), timeout="15s")
        except (OSError, TimeoutError, ValueError, TypeError) as error:
            raise InputError(
                f"the cluster does not answer ({error})", where=engine.scheduler, remedy=f"Start it, or unset {SCHEDULER}.",
            ) from None  # fmt: skip
        with client:
            yield client
        return
    with (
        LocalCluster(
            n_workers=engine.workers, threads_per_worker=1, memory_limit=_MEMORY, dashboard_address=None,
            scheduler_kwargs={"dashboard": False}, silence_logs=logging.ERROR, env=HEAP,
        ) as cluster,
        Client(cluster) as client,
    ):  # fmt: skip
        yield client


def _security(address: str) -> Any:
    """TLS both ways for whatever is not on this machine. Raises InputError for an address or a certificate that is missing."""
    from distributed.security import Security

    scheme, _, place = address.partition("://")
    if scheme == "tcp" and place.rpartition(":")[0] in _HERE:
        return None
    if scheme != "tls":
        raise InputError(
            "a cluster off this machine is spoken to by TLS alone",
            where=address,
            remedy="Write its address as tls://host:port.",
        )
    files = [os.environ.get(name, "") for name in CERTIFICATES]
    missing = [name for name, file in zip(CERTIFICATES, files, strict=True) if not Path(file).is_file()]
    if missing:
        raise InputError("a certificate is missing", where=missing[0], remedy="Set it to the path of the file.")
    authority, certificate, key = files
    return Security(tls_ca_file=authority, tls_client_cert=certificate, tls_client_key=key, require_encryption=True)
