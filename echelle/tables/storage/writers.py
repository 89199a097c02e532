"""Rows in use to a file: CSV, XLSX, Parquet. Cells that a spreadsheet would run as formulas are made harmless."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
import openpyxl
import polars as pl

from echelle.errors import InputError
from echelle.tables.column_builders import format_numbers, take_rows
from echelle.tables.table import Column, Mark, Table

RowsFormat = Literal["csv", "xlsx", "parquet"]
ROWS_FORMATS: tuple[RowsFormat, ...] = get_args(RowsFormat)
_FORMULA = r"^[=+\-@\t\r]"
_MOST_XLSX = 1_048_575


@dataclass(frozen=True)
class RowsFile:
    """A file's bytes, and how many cells got an apostrophe so that no spreadsheet runs them."""

    data: bytes
    guarded: int


def rows_file(table: Table, file_format: RowsFormat) -> RowsFile:
    """Write the rows in use, with a first column "row" of row ids, or of counted ones "rows" that says how many.

    Raises InputError for too many rows for a workbook.
    """
    if table.left_out is not None:
        table = take_rows(table, np.flatnonzero(~table.left_out))
    if file_format == "parquet":
        return RowsFile(_parquet(table), 0)
    guarded = 0
    first = ("row", _ids(table)) if table.tally is None else ("rows", pl.Series(table.tally.counts))
    texts: dict[str, pl.Series] = {_free(first[0], table): first[1]}
    for column in table.columns:
        cells = display_cells(column)
        bad = cells.str.contains(_FORMULA).fill_null(False) & pl.Series(~_is_number(column))
        guarded += int(bad.sum())
        name = f"'{column.heading}" if pl.Series([column.heading]).str.contains(_FORMULA)[0] else column.heading
        texts[name] = pl.select(pl.when(bad).then("'" + cells).otherwise(cells)).to_series()
    if file_format == "csv":
        out = io.BytesIO()
        # The mark tells spreadsheets that the text is UTF-8.
        pl.DataFrame(texts).write_csv(out, include_bom=True)
        return RowsFile(out.getvalue(), guarded)
    return RowsFile(_xlsx(table, texts), guarded)


def table_text(table: Table) -> bytes:
    """A whole table as CSV that reads as the same table: cells as they are shown, all rows, without a column of row ids."""
    out = io.BytesIO()
    pl.DataFrame({column.heading: display_cells(column) for column in table.columns}).write_csv(out)
    return out.getvalue()


def display_cells(column: Column) -> pl.Series:
    """Cells as they are shown and written: numbers with a point, limits with their sign, marks as they were written."""
    if column.numbers is None or column.marks is None:
        return column.texts
    numbers = format_numbers(column.numbers)
    # Decimals stay as many as were written, behind a point.
    pointed = column.texts.str.replace(r"^(-?\d+),(\d+)$", "$1.$2")
    plain = (pointed.str.contains(r"^-?\d+(\.\d+)?$") & (pointed.cast(pl.Float64, strict=False) == column.numbers)).fill_null(
        False
    )
    number = pl.Series(column.marks == Mark.NUMBER)
    below, above = pl.Series(column.marks == Mark.BELOW), pl.Series(column.marks == Mark.ABOVE)
    chosen = pl.when(number & ~plain).then(numbers).when(below).then("<" + numbers).when(above).then(">" + numbers)
    return pl.select(chosen.when(number).then(pointed).otherwise(column.texts)).to_series()


def _is_number(column: Column) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    if column.marks is None:
        return np.zeros(len(column.cells), dtype=np.bool_)
    return np.asarray(column.marks == Mark.NUMBER)


def _ids(table: Table) -> pl.Series:
    ids = table.row_ids
    if len(ids.parts) == 1:
        return pl.Series(ids.keys).cast(pl.String)
    return pl.Series([ids.written(int(key)) for key in ids.keys], dtype=pl.String)


def _free(name: str, table: Table) -> str:
    while any(column.heading == name for column in table.columns):
        name += " id"
    return name


def _xlsx(table: Table, texts: dict[str, pl.Series]) -> bytes:
    if table.rows > _MOST_XLSX:
        raise InputError(
            f"a workbook holds {_MOST_XLSX:,} rows, the table has {table.rows:,}", remedy="Take them out as CSV or Parquet."
        )
    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet("rows")
    sheet.append(list(texts))
    columns: list[list[object]] = [list(next(iter(texts.values())))]
    for column, cells in zip(table.columns, list(texts.values())[1:], strict=True):
        number = _is_number(column)
        values = [] if column.numbers is None else column.numbers.tolist()
        columns.append([values[i] if number[i] and np.isfinite(values[i]) else cell for i, cell in enumerate(cells)])
    for row in zip(*columns, strict=True):
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _parquet(table: Table) -> bytes:
    """Numbers as float64, null where missing; limits in a column of their own; everything else as text."""
    frame: dict[str, pl.Series] = {_free("row", table): _ids(table)}
    for column in table.columns:
        if column.numbers is None or column.marks is None:
            frame[column.heading] = column.texts.set(pl.Series(~column.present), None)
            continue
        numbers = pl.Series(np.where(column.marks == Mark.NUMBER, column.numbers, np.nan)).fill_nan(None)
        frame[column.heading] = numbers
        if column.censored:
            limits = display_cells(column).set(pl.Series(column.marks < Mark.BELOW), None)
            frame[f"{column.heading} limit"] = limits
    out = io.BytesIO()
    pl.DataFrame(frame).write_parquet(out)
    return out.getvalue()
