"""Where parts are counted makes no difference: threads, processes that die, a cluster behind TLS."""

from __future__ import annotations

import os
import signal
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path

import psutil
import pytest
from distributed import LocalCluster
from distributed.security import Security

from echelle.errors import InputError
from echelle.far.engine import CERTIFICATES, SCHEDULER, Engine, counted_parts
from echelle.far.far_table import FarTable
from echelle.far.question import CountQuestion
from echelle.far.tally import merged_tallies
from tests.far.parts import log, write_parts

QUESTION = CountQuestion("potassium (mmol/l)", ("ward",), ("ward",))
LOG = log(40_000, 11)


@pytest.fixture(scope="module")
def table(tmp_path_factory: pytest.TempPathFactory) -> FarTable:
    cuts = list(range(2_000, 40_000, 2_000))
    return FarTable.at(str(write_parts(LOG, tmp_path_factory.mktemp("log"), cuts)))


def digest(table: FarTable, engine: Engine, killed: list[int] | None = None) -> bytes:
    """What all parts come to, whatever order they came in; with ``killed`` a worker dies after some of them, by −9."""
    tallies = []
    for _, tally in counted_parts(table.manifest, range(len(table.manifest.parts)), QUESTION, ",", engine):
        tallies.append(tally)
        if killed is not None and len(tallies) in (1, 4, 9):
            worker = next(child for child in psutil.Process().children(recursive=True) if _is_worker(child))
            killed.append(worker.pid)
            os.kill(worker.pid, signal.SIGKILL)
            # Until it is gone it could be taken for the next one.
            while _is_worker(worker):
                time.sleep(0.01)
    assert len(tallies) == len(table.manifest.parts)
    whole = merged_tallies(tallies, QUESTION)
    counted = whole.counted.sort(whole.counted.columns)
    return counted.write_csv().encode() + whole.examples.write_csv().encode()


@pytest.fixture(scope="module")
def in_threads(table: FarTable) -> bytes:
    return digest(table, Engine())


def test_processes_give_what_threads_give_though_they_are_killed(table: FarTable, in_threads: bytes) -> None:
    killed: list[int] = []
    assert digest(table, Engine(workers=2), killed) == in_threads
    assert len(set(killed)) == 3


def _is_worker(process: psutil.Process) -> bool:
    try:
        return "spawn_main" in " ".join(process.cmdline()) and process.status() != psutil.STATUS_ZOMBIE
    except psutil.Error:
        return False


@pytest.fixture(scope="module")
def certificates(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An authority, a certificate that it signed, and one that signed itself."""
    folder = tmp_path_factory.mktemp("tls")
    new = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=authority"]
    for name in ("authority", "stranger"):
        _run([*new, "-keyout", f"{name}.key", "-out", f"{name}.pem"], folder)
    _run(
        ["openssl", "req", "-newkey", "rsa:2048", "-nodes", "-keyout", "own.key", "-out", "own.csr", "-subj", "/CN=own"], folder
    )
    sign = ["openssl", "x509", "-req", "-in", "own.csr", "-CA", "authority.pem", "-CAkey", "authority.key", "-CAcreateserial"]
    _run([*sign, "-days", "2", "-out", "own.pem"], folder)
    return folder


def _run(words: list[str], folder: Path) -> None:
    subprocess.run(words, cwd=folder, check=True, capture_output=True)


@pytest.fixture(scope="module")
def cluster(certificates: Path) -> Iterator[str]:
    own = {"tls_ca_file": "authority.pem"} | {
        f"tls_{part}_{kind}": f"own.{ending}"
        for part in ("client", "scheduler", "worker")
        for kind, ending in (("cert", "pem"), ("key", "key"))
    }
    security = Security(require_encryption=True, **{name: str(certificates / file) for name, file in own.items()})
    with LocalCluster(
        n_workers=1,
        threads_per_worker=1,
        protocol="tls://",
        security=security,
        dashboard_address=None,
        silence_logs=50,
        scheduler_kwargs={"dashboard": False},
    ) as made:
        yield made.scheduler_address


def trusting(monkeypatch: pytest.MonkeyPatch, folder: Path, authority: str, own: str) -> None:
    for name, file in zip(CERTIFICATES, (f"{authority}.pem", f"{own}.pem", f"{own}.key"), strict=True):
        monkeypatch.setenv(name, str(folder / file))


def test_a_cluster_behind_tls_gives_the_same(
    table: FarTable, in_threads: bytes, cluster: str, certificates: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    trusting(monkeypatch, certificates, "authority", "own")
    monkeypatch.setenv(SCHEDULER, cluster)
    assert digest(table, Engine.from_environment()) == in_threads


def test_a_cluster_is_refused_without_a_certificate_of_its_authority(
    table: FarTable, cluster: str, certificates: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in CERTIFICATES:
        monkeypatch.delenv(name, raising=False)
    with pytest.raises(InputError, match="certificate is missing") as raised:
        digest(table, Engine(scheduler=cluster))
    assert raised.value.where == CERTIFICATES[0]
    trusting(monkeypatch, certificates, "stranger", "stranger")
    with pytest.raises(InputError, match="does not answer"):
        digest(table, Engine(scheduler=cluster))
    with pytest.raises(InputError, match="by TLS alone"):
        digest(table, Engine(scheduler="tcp://192.0.2.7:8786"))


def test_whoever_looks_away_stops_it(table: FarTable) -> None:
    parts = counted_parts(table.manifest, range(len(table.manifest.parts)), QUESTION)
    first, _ = next(iter(parts))
    parts.close()  # type: ignore[attr-defined]
    assert 0 <= first < len(table.manifest.parts)
