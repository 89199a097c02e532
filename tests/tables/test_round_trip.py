"""Tables that are written and read again: every cell comes back as the value it was, or stands in a remark."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
import openpyxl
import orjson
import polars as pl
import pyarrow as pa
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.storage.writers import rows_file
from echelle.tables.table import Column, Mark
from tests.support.steps import after

Cell = str | float | None
ROWS = 14


@dataclass(frozen=True)
class Written:
    """A column as it is meant: its name, its values (limits as "<0.4"), and whether they are numbers."""

    name: str
    values: tuple[Cell, ...]


def _of(values: st.SearchStrategy[Any]) -> st.SearchStrategy[tuple[Any, ...]]:
    return st.lists(st.one_of(values, values, values, st.none()), min_size=ROWS, max_size=ROWS).map(tuple)


decimals = _of(st.integers(-99_999, 99_999).map(lambda value: (value * 4 + 1) / 16))
limited = st.integers(1, 99).map(lambda value: f"<{value / 4 + 0.05:.2f}")
limits = _of(st.one_of(st.integers(1, 9_999).map(lambda value: (value * 2 + 1) / 4), limited))
words = _of(st.sampled_from(["low, slow", 'the "first"', "placebo", "Öl; x", "naïve", "a|b", "none"]))
codes = _of(st.sampled_from(["A-1", "A-2", "B-7", "C-9"]))
ranges = _of(st.sampled_from(["<=20", "20-40", "40-60", ">60"]))
days = _of(st.dates(date(1990, 1, 1), date(2030, 1, 1)).map(date.isoformat))
grades = _of(st.sampled_from(["K", "1", "2", "3"]))
states = _of(st.sampled_from(["ND", "NA", "NE", "TX", "CA", "NY", "OH", "IN", "VT", "ME", "MA", "RI"]))
COLUMNS = {
    "level": decimals, "titre": limits, "arm": words, "batch code": codes, "range": ranges, "taken": days, "grade": grades,
    "state": states,
}  # fmt: skip


@st.composite
def tables(draw: st.DrawFn) -> list[Written]:
    """Some columns with their values, each with a value in its first row."""
    names = draw(st.lists(st.sampled_from(list(COLUMNS)), min_size=2, max_size=5, unique=True))
    columns = [Written(name, draw(COLUMNS[name])) for name in names]
    who = Written("who", tuple(f"w-{row:02d}" for row in range(ROWS)))
    filled = [next((value for value in column.values if value is not None), "x") for column in columns]
    return [who, *(Written(column.name, (first, *column.values[1:])) for column, first in zip(columns, filled, strict=True))]


def as_csv(columns: list[Written], delimiter: str, comma: bool, encoding: str, end: str) -> bytes:
    """The table as delimited text in a national spelling."""

    def cell(value: Cell) -> str:
        if value is None:
            return ""
        text = repr(value) if isinstance(value, float) else str(value)
        number = isinstance(value, float) or text.startswith("<0") or (text[:1] == "<" and "." in text)
        return text.replace(".", ",") if comma and number else text

    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=delimiter, lineterminator=end)
    writer.writerow([column.name for column in columns])
    writer.writerows([[cell(column.values[row]) for column in columns] for row in range(ROWS)])
    return out.getvalue().encode(encoding)


def as_workbook(columns: list[Written]) -> bytes:
    book = openpyxl.Workbook()
    book.active.append([column.name for column in columns])
    for row in range(ROWS):
        book.active.append([column.values[row] for column in columns])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def as_frame(columns: list[Written]) -> pl.DataFrame:
    """Typed columns: numbers where all values are."""
    return pl.DataFrame(
        {
            column.name: pl.Series([*column.values], dtype=pl.Float64)
            if all(value is None or isinstance(value, float) for value in column.values)
            else pl.Series([None if value is None else str(value) for value in column.values], dtype=pl.String)
            for column in columns
        }
    )


def as_parquet(columns: list[Written]) -> bytes:
    out = io.BytesIO()
    as_frame(columns).write_parquet(out)
    return out.getvalue()


def as_arrow(columns: list[Written]) -> bytes:
    sink = pa.BufferOutputStream()
    table = as_frame(columns).to_arrow()
    with pa.ipc.new_stream(sink, table.schema) as writer:
        writer.write_table(table)
    return bytes(sink.getvalue())


def as_json(columns: list[Written]) -> bytes:
    return orjson.dumps([{column.name: column.values[row] for column in columns} for row in range(ROWS)])


def as_keyed_json(columns: list[Written]) -> bytes:
    return orjson.dumps({column.name: {str(row): column.values[row] for row in range(ROWS)} for column in columns})


CONTAINERS: dict[str, Callable[[list[Written]], bytes]] = {
    "workbook": as_workbook, "parquet": as_parquet, "arrow": as_arrow, "json": as_json, "json by row": as_keyed_json,
}  # fmt: skip


def held(column: Column) -> list[Cell]:
    """What a column holds, as it was meant: numbers, limits with their sign, texts."""
    if column.numbers is None or column.marks is None:
        return [text if there else None for text, there in zip(column.texts.to_list(), column.present.tolist(), strict=True)]
    sign = {Mark.BELOW: "<", Mark.ABOVE: ">"}
    return [
        None if mark == Mark.MISSING else number if mark == Mark.NUMBER else f"{sign[Mark(mark)]}{number:.2f}"
        for number, mark in zip(column.numbers.tolist(), column.marks.tolist(), strict=True)
    ]


def meaning(value: Cell) -> Cell | tuple[str, float]:
    """A number as a number, a limit as its sign and number, anything else as it is."""
    if not isinstance(value, str):
        return value
    limit = re.fullmatch(r"([<>])=?(\d+(?:\.\d+)?)", value)
    if limit:
        return limit[1], float(limit[2])
    return float(value) if re.fullmatch(r"-?\d+(\.\d+)?", value) else value


def check(reading: Reading, columns: list[Written]) -> None:
    """Every cell is the value that was written, or a remark names it."""
    said = " ".join(remark.text for remark in reading.remarks)
    assert [column.name for column in reading.table.columns] == [column.name for column in columns], said
    assert not [remark for remark in reading.remarks if remark.message == "read-unaccounted"]
    for column, meant in zip(reading.table.columns, columns, strict=True):
        for read, wrote in zip(held(column), meant.values, strict=True):
            assert meaning(read) == meaning(wrote) or (wrote is not None and str(wrote) in said), (
                column.name,
                read,
                wrote,
                said,
            )


@given(
    columns=tables(),
    dialect=st.sampled_from([(",", False), (";", False), (";", True), ("\t", False), ("\t", True), ("|", False), ("^", True)]),
    encoding=st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]),
    end=st.sampled_from(["\n", "\r\n"]),
)
def test_delimited_text_in_every_national_spelling(
    columns: list[Written], dialect: tuple[str, bool], encoding: str, end: str
) -> None:
    delimiter, comma = dialect
    data = as_csv(columns, delimiter, comma, encoding, end)
    numbered = any(isinstance(value, float) for column in columns for value in column.values)
    told = None if numbered else "comma" if comma else "point"
    check(read_bytes(data, ReadingOptions(delimiter=delimiter, decimal=told)), columns)


@given(columns=tables(), container=st.sampled_from(list(CONTAINERS)))
def test_every_container_gives_the_same_table(columns: list[Written], container: str) -> None:
    plain = read_bytes(as_csv(columns, ",", False, "utf-8", "\n"))
    other = read_bytes(CONTAINERS[container](columns))
    check(other, columns)
    assert [(c.name, c.kind, held(c)) for c in other.table.columns] == [(c.name, c.kind, held(c)) for c in plain.table.columns]


@given(columns=tables())
def test_our_own_parquet_keeps_limits(columns: list[Written]) -> None:
    table = read_bytes(as_csv(columns, ",", False, "utf-8", "\n")).table
    again = read_bytes(rows_file(table, "parquet").data).table
    assert [held(c) for c in again.columns[1:]] == [held(c) for c in table.columns]


def _arrow_of(arrays: dict[str, Any], metadata: dict[str, dict[str, str]] | None = None) -> Reading:
    table = pa.table(arrays)
    fields = [field.with_metadata((metadata or {}).get(field.name, {})) for field in table.schema]
    table = table.cast(pa.schema(fields))
    sink = pa.BufferOutputStream()
    with pa.ipc.new_file(sink, table.schema) as writer:
        writer.write_table(table)
    return read_bytes(bytes(sink.getvalue()))


def test_typed_columns_that_no_text_has() -> None:
    zone = pa.timestamp("us", tz="+02:00")
    reading = _arrow_of(
        {
            "level": pa.array([1.5, None, float("nan")]),
            "took": pa.array([1_500_000, None, 60_000_000], type=pa.duration("us")),
            "raw": pa.array([b"\xff\x00", b"ok", None], type=pa.binary()),
            "at": pa.array([0, 250_000, None], type=zone),
            "none": pa.array([None, None, None], type=pa.null()),
        },
        {"level": {"unit": "mg/L", "label": "Cortisol at waking"}, "at": {"label": "raw"}},
    )
    level, took, raw, at, none = reading.table.columns
    [labels] = [remark for remark in reading.remarks if remark.message == "read-labels"]
    assert "level: Cortisol at waking" in labels.text and "at:" not in labels.text  # a label that is another's name is none
    named = after(reading.table, *labels.remedies[0].steps)
    assert named.columns[0].heading == "Cortisol at waking (mg/L)"
    assert level.unit == "mg/L" and level.missing == 2
    assert took.unit == "s" and held(took) == [1.5, None, 60.0]
    assert raw.texts.to_list() == ["ff00", "6f6b", None]
    assert at.kind == "date" and at.texts.to_list() == ["1970-01-01 02:00:00", "1970-01-01 02:00:00.250", None]
    assert none.missing == 3


@pytest.mark.parametrize(
    ("cells", "expected"),
    [
        (["2026-01-01T23:30:00-05:00", "2026-01-02T04:00:00Z"], ["2026-01-02 04:30:00", "2026-01-02 04:00:00"]),
        (["2026-01-01 10:00+00", "2026-01-02 11:00+00"], ["2026-01-01 10:00", "2026-01-02 11:00"]),
        (["2026-01", "2026-02"], ["2026-01", "2026-02"]),
        (["05 Mrz 2026", "6. März 2026"], ["2026-03-05", "2026-03-06"]),
        (["Jan 5, 2026", "March 6, 2026"], ["2026-01-05", "2026-03-06"]),
        (["31/01/2026 2:30 PM", "01/02/2026 11:05 AM"], ["2026-01-31 14:30", "2026-02-01 11:05"]),
        (["2026-01-31", "1 Feb 2026", "28/02/2026"], ["2026-01-31", "2026-02-01", "2026-02-28"]),
        (["20260131", "20260201"], ["2026-01-31", "2026-02-01"]),
    ],
)
def test_dates_as_people_and_instruments_write_them(cells: list[str], expected: list[str]) -> None:
    reading = read_bytes(("date,level\n" + "".join(f'"{cell}",{i}.5\n' for i, cell in enumerate(cells))).encode())
    [column] = [column for column in reading.table.columns if column.name == "date"]
    assert column.kind == "date" and column.texts.to_list() == expected


@given(st.lists(st.sampled_from(["<0.4", "1.5", "2.25", ">100", "NA", "", "clotted"]), min_size=4, max_size=40))
def test_filled_is_values_and_named(cells: list[str]) -> None:
    reading = read_bytes(("who,level\n" + "".join(f"x{i},{cell}\n" for i, cell in enumerate(cells))).encode())
    column = reading.table.column("level")
    named = sum(remark.cells for remark in reading.remarks if remark.column == "level")
    assert column.filled == sum(bool(cell) for cell in cells) == int(np.count_nonzero(column.present)) + named
