"""Small files that claim much, or whose bytes were changed: one sentence, and no process ends."""

from __future__ import annotations

import io
import json
import random
from pathlib import Path

import openpyxl
import polars as pl
import pyarrow as pa
import pytest

from echelle.child_process import ChildLimits, run_child
from echelle.errors import InputError
from echelle.tables.reading.read import read_bytes
from echelle.tables.reading.subprocess_reader import read_into

LIMITS = ChildLimits(megabytes=2_000, seconds=15)
FRAME = pl.DataFrame({"who": [f"P-{i}" for i in range(40)], "ward": ["A", "B"] * 20, "level": [i + 0.5 for i in range(40)]})


def workbook(cells: dict[str, object]) -> bytes:
    book, out = openpyxl.Workbook(), io.BytesIO()
    for place, value in cells.items():
        book.active[place] = value
    book.save(out)
    return out.getvalue()


def parquet(frame: pl.DataFrame) -> bytes:
    out = io.BytesIO()
    frame.write_parquet(out)
    return out.getvalue()


def arrow(table: pa.Table, file: bool) -> bytes:
    sink = pa.BufferOutputStream()
    with (pa.ipc.new_file if file else pa.ipc.new_stream)(sink, table.schema) as writer:
        writer.write_table(table)
    return bytes(sink.getvalue())


def plain(name: str = "who", cell: str = "x") -> pa.Table:
    return pa.table({name: [cell, "y"], "level": [1.5, 2.5]})


UNIT = pa.schema([pa.field("who", pa.string()), pa.field("level", pa.float64(), metadata={"unit": "mg\0"})])
WITH_NUL = {
    "JSON name": json.dumps([{"a\0b": 1, "c": 2}]).encode(),
    "JSON cell": json.dumps([{"a": "x\0", "c": 2}]).encode(),
    "Parquet name": parquet(FRAME.rename({"who": "w\0ho"})),
    "Parquet cell": parquet(FRAME.with_columns(who=pl.lit("a\0"))),
    "Arrow name": arrow(plain("w\0"), True),
    "Arrow cell": arrow(plain(cell="\0"), False),
    "Arrow unit": arrow(plain().cast(UNIT), True),
    "XLSX name": workbook({"A1": "a_x0000_b", "B1": "c", "A2": "x", "B2": 1.5}),
    "XLSX cell": workbook({"A1": "a", "B1": "c", "A2": "x_x0000_", "B2": 1.5}),
}


@pytest.mark.parametrize("kind", WITH_NUL)
def test_a_nul_is_refused_at_its_place(kind: str) -> None:
    with pytest.raises(InputError, match="NUL") as fault:
        read_bytes(WITH_NUL[kind])
    assert "column" in fault.value.where


@pytest.mark.parametrize("far", [{"XFD1048576": 1}, {"CZ1000001": 1}, {"A1": "a", "ZZ1048576": 2}])
def test_a_workbook_is_not_made_as_large_as_its_farthest_cell(far: dict[str, object]) -> None:
    with pytest.raises(InputError, match="allowed"):
        read_bytes(workbook({"A1": "who", "B1": "level", **far}))


def test_a_format_far_away_is_no_cell() -> None:
    book, out = openpyxl.Workbook(), io.BytesIO()
    for row in (("who", "level"), ("a", 1.5), ("b", 2.5)):
        book.active.append(row)
    book.active["ZZ1048576"].font = openpyxl.styles.Font(bold=True)
    book.save(out)
    assert read_bytes(out.getvalue()).table.rows == 2


def test_a_parquet_file_is_not_unpacked_beyond_the_limit() -> None:
    data = parquet(pl.DataFrame({f"c{i}": pl.Series([0.0]).new_from_index(0, 400_000) for i in range(300)}))
    assert len(data) < 1_000_000
    with pytest.raises(InputError, match="400,000 rows and 300 columns"):
        read_bytes(data)


@pytest.mark.parametrize("data", [b",", b",,,\n,,,\n", b"\t", b"\0" * 100, b"", b"[" * 100_000 + b"]" * 100_000])
def test_what_holds_no_value_is_refused_in_one_sentence(data: bytes) -> None:
    with pytest.raises(InputError) as fault:
        read_bytes(data)
    assert fault.value.remedy


def test_changed_arrow_files_end_no_process(tmp_path: Path) -> None:
    table = FRAME.to_arrow().cast(pa.schema([("who", pa.string()), ("ward", pa.string()), ("level", pa.float64())]))
    coded = table.set_column(1, "ward", table["ward"].dictionary_encode())
    rng = random.Random(3)
    for number in range(40):
        data = bytearray(arrow(rng.choice([table, coded]), rng.random() < 0.5))
        for _ in range(rng.choice([1, 3, 20])):
            data[rng.randrange(len(data))] = rng.randrange(256)
        folder = tmp_path / str(number)
        folder.mkdir()
        (folder / "file").write_bytes(data)
        try:
            run_child(read_into, folder, (folder / "file", {}), LIMITS)
        except InputError as fault:
            assert "needs more than" not in fault.what, number
