"""Where parts are counted: in threads here, in processes here, or on a cluster. The one place that knows Dask."""

from __future__ import annotations

import logging
import os
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING, Any

from echelle.errors import InputError
from echelle.far.count import count_piece
from echelle.far.manifest import Manifest
from echelle.far.part_batches import Piece, pieces_of
from echelle.far.question import CountQuestion
from echelle.far.tally import PartTally, merged_tallies, with_tally

if TYPE_CHECKING:
    from distributed import Client

SCHEDULER = "ECHELLE_SCHEDULER"
# Certificates for a cluster off this machine: of the authority, of this side, and its key.
CERTIFICATES = ("ECHELLE_TLS_AUTHORITY", "ECHELLE_TLS_CERTIFICATE", "ECHELLE_TLS_KEY")
_HERE = ("127.0.0.1", "localhost", "[::1]")
_MEMORY = "512MB"
_THREADS = min(4, os.cpu_count() or 1)
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
        pieces = pieces_of(manifest, places, _THREADS)
        yield from _whole_parts(pieces, _in_threads(manifest, pieces, question, separator), question)
        return
    with _client(engine) as client:
        pieces = pieces_of(manifest, places, max(1, engine.workers, len(client.scheduler_info(-1)["workers"])))
        yield from _whole_parts(pieces, _on_cluster(client, manifest, pieces, question, separator), question)


def _whole_parts(
    pieces: Sequence[Piece], tallies: Iterator[tuple[Piece, PartTally]], question: CountQuestion
) -> Iterator[tuple[int, PartTally]]:
    """The tally of each part once all its pieces are there."""
    left = Counter(piece.place for piece in pieces)
    held: dict[int, list[PartTally]] = {}
    try:
        for piece, tally in tallies:
            left[piece.place] -= 1
            held[piece.place] = with_tally(held.get(piece.place, []), tally, question)
            if not left[piece.place]:
                parts = held.pop(piece.place)
                yield piece.place, parts[0] if len(parts) == 1 else merged_tallies(parts, question)
    finally:
        tallies.close()  # type: ignore[attr-defined]


def _in_threads(
    manifest: Manifest, pieces: Sequence[Piece], question: CountQuestion, separator: str
) -> Iterator[tuple[Piece, PartTally]]:
    pool = ThreadPoolExecutor(_THREADS)
    left, under_way = iter(pieces), dict[Future[PartTally], Piece]()
    try:
        # A few at a time: what is done and not taken yet fills the memory.
        while True:
            for piece in islice(left, _THREADS + 1 - len(under_way)):
                under_way[pool.submit(count_piece, manifest, piece, question, separator)] = piece
            if not under_way:
                return
            done, _ = wait(under_way, return_when=FIRST_COMPLETED)
            for future in done:
                yield under_way.pop(future), future.result()
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


def _on_cluster(
    client: Client, manifest: Manifest, pieces: Sequence[Piece], question: CountQuestion, separator: str
) -> Iterator[tuple[Piece, PartTally]]:
    from distributed import as_completed as completed

    futures = client.map(_packed, pieces, manifest=manifest, question=question, separator=separator, pure=False)
    piece_of = {future.key: piece for future, piece in zip(futures, pieces, strict=True)}
    try:
        for future in completed(futures):
            yield piece_of[future.key], PartTally.unpacked(future.result())
            future.release()
    finally:
        client.cancel(futures)


def _packed(piece: Piece, manifest: Manifest, question: CountQuestion, separator: str) -> bytes:
    return count_piece(manifest, piece, question, separator).packed()


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
