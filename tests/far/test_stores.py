"""A store that fsspec knows by its address, in the place of a folder."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import fsspec
import pytest
from click.testing import CliRunner
from fsspec.implementations.memory import MemoryFileSystem

from echelle.command_line.main import app
from echelle.errors import InputError
from echelle.far.far_table import FarTable
from tests.far.parts import log, write_parts

LOG = log(3_000)


class NoRightsError(Exception):
    """A store's own fault, of no class that anyone else knows."""


class ClosedStore(MemoryFileSystem):
    """It is there, and shows nothing."""

    protocol = "closed"

    def isfile(self, path: str) -> bool:
        raise NoRightsError("no credentials\nwere found")


@pytest.fixture
def store(tmp_path: Path) -> Iterator[str]:
    files = fsspec.filesystem("memory")
    for part in write_parts(LOG, tmp_path / "log", [1_000, 2_000]).iterdir():
        files.pipe(f"/archive/log/{part.name}", part.read_bytes())
    yield "memory://archive/log"
    files.rm("/archive", recursive=True)


def described(address: str) -> Any:
    return CliRunner().invoke(app, ["describe", address, "--measure", "potassium", "--groups", "ward", "--json"])


@pytest.mark.parametrize("pattern", ["", "/*.parquet"])
def test_a_store_is_described_as_the_folder(pattern: str, store: str, tmp_path: Path) -> None:
    here = described(str(tmp_path / "log"))
    there = described(store + pattern)
    assert here.exit_code == there.exit_code == 0 and here.output == there.output


def test_a_version_of_a_store_is_told_by_its_files(store: str) -> None:
    first = FarTable.at(store).manifest
    assert (len(first.parts), first.rows) == (3, 3_000)
    fsspec.filesystem("memory").pipe(
        "/archive/log/part-000.parquet", fsspec.filesystem("memory").cat("/archive/log/part-001.parquet")
    )
    assert FarTable.at(store).manifest.digest != first.digest


def test_what_a_store_refuses_is_one_sentence(store: str) -> None:
    fsspec.register_implementation("closed", ClosedStore, clobber=True)
    for address, said in {
        "closed://archive/log": "cannot be read \\(no credentials\\)",
        "memory://archive/nothing": "no Parquet or CSV files",
        "nowhere://archive": "cannot be read",
    }.items():
        with pytest.raises(InputError, match=said):
            FarTable.at(address)
        answer = described(address)
        assert isinstance(answer.exception, InputError)
    table = FarTable.at(store)
    question = table.question("potassium", ["ward"])
    fsspec.filesystem("memory").rm("/archive/log/part-002.parquet")
    with pytest.raises(InputError, match="cannot be read"):
        table.count({"potassium": question})
