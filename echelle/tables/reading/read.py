"""A file's bytes to a table. Everything guessed is said in a remark."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.tables.missing_marks import is_missing_mark
from echelle.tables.numerals import Decimal, decimal_of, decimal_of_column, evidence_of, read_columns, read_numerals
from echelle.tables.reading.file_grid import FileGrid, grid_of
from echelle.tables.reading.file_type import unpack
from echelle.tables.reading.heading import Cells, cut_table
from echelle.tables.reading.kinds import column_of, with_a_measure
from echelle.tables.reading.options import USUAL, ReadingOptions
from echelle.tables.reading.remarks import in_order
from echelle.tables.reading.size_limits import USUAL_LIMITS, ReadingLimits
from echelle.tables.reading.table_remarks import decimal_remarks, table_remarks
from echelle.tables.table import Column, Mark, Remark, Source, Table

_THREADS = 2
_LONG = 50_000


@dataclass(frozen=True, eq=False, kw_only=True)
class Reading:
    """A table with how it was read; sheet, encoding and delimiter are None where the format has none."""

    table: Table
    format: str
    sheet: str | None
    encoding: str | None
    delimiter: str | None
    decimal: Decimal
    header_row: int
    sheets: tuple[str, ...]
    remarks: tuple[Remark, ...]


def read_bytes(data: bytes, options: ReadingOptions = USUAL, limits: ReadingLimits = USUAL_LIMITS) -> Reading:
    """Read a table from what the bytes hold. Raises InputError naming the place and the remedy."""
    if len(data) > limits.megabytes * 1e6:
        raise InputError(
            f"the file has {len(data) / 1e6:.1f} MB, more than the {limits.megabytes:g} MB allowed",
            remedy="Keep the rows and columns you need and bring those.",
        )
    grid = grid_of(unpack(data, limits), options, limits)
    del data  # where nobody else holds the bytes, their memory serves the columns
    cells = cut_table(grid.grid, options, limits)
    typed, decimal, remarks = _typed(cells, grid, options)
    columns = _without_padding(with_a_measure([column for column, _ in typed], remarks))
    remarks = [*grid.remarks, *cells.remarks, *remarks, *(note for _, notes in typed for note in notes)]
    columns, unaccounted = _accounted(columns, cells, typed)
    remarks += unaccounted
    columns = _told_apart(columns)
    remarks += table_remarks(columns, cells, grid.grid)
    table = Table(tuple(columns), cells.frame.height)
    return Reading(
        table=table,
        format=grid.format,
        sheet=grid.sheet,
        encoding=grid.encoding,
        delimiter=grid.delimiter,
        decimal=decimal,
        header_row=cells.header_row,
        sheets=grid.sheets,
        remarks=tuple(in_order([_placed(remark, cells.lines) for remark in remarks])),
    )


def _typed(
    cells: Cells, grid: FileGrid, options: ReadingOptions
) -> tuple[list[tuple[Column, list[Remark]]], Decimal, list[Remark]]:
    """Every column with its remarks, the file's decimal mark, and remarks on it.

    Most of the work on a long column is polars' own, outside the interpreter's lock; wide tables are read in parallel too.
    """
    series = [cells.frame[name] for name in cells.names]
    with ThreadPoolExecutor(_THREADS) as pool:
        run = pool.map if cells.frame.height * len(series) >= _LONG else map
        evidence = list(run(lambda column: evidence_of(column, grid.grid.commas), series))
        settled, clear = decimal_of(evidence, grid.delimiter == ",")
        decimal = options.decimal or settled
        own = [decimal if options.decimal else decimal_of_column(column, decimal) for column in evidence]
        long = cells.frame.height >= _LONG
        numerals = list(run(read_numerals, series, own)) if long else read_columns(series, own)
        marks = {word for column in numerals if column.known for word in column.words if is_missing_mark(word)}

        def column(place: int) -> tuple[Column, list[Remark]]:
            return column_of(
                cells.names[place],
                cells.units[place],
                series[place],
                numerals[place],
                cells.lines,
                marks=marks,
                first=place == 0,
                coded=cells.coded.get(cells.names[place]),
                days=options.day_numbers is None,
            )

        typed = list(run(column, range(len(series))))
    remarks = decimal_remarks([column for column, _ in typed], own, decimal, clear or options.decimal is not None)
    return typed, decimal, remarks


def _accounted(
    columns: list[Column], cells: Cells, typed: list[tuple[Column, list[Remark]]]
) -> tuple[list[Column], list[Remark]]:
    """The columns with their sums: cells filled in the file = cells with a value + cells named in a remark. Where a sum does
    not hold, that is a remark itself, so that nothing is lost in silence.
    """
    remarks, summed = [], []
    for column, name, (_, notes) in zip(columns, cells.names, typed, strict=True):
        filled = cells.frame.height - cells.frame[name].null_count()
        named = sum(note.cells for note in notes)
        marks = column.marks
        values = cells.frame.height - column.missing if marks is None else int(np.count_nonzero(marks != Mark.MISSING))
        summed.append(replace(column, filled=filled))
        if filled != values + named:
            remarks.append(Remark("read-unaccounted", {"column": name, "count": abs(filled - values - named)}, column.name))
    return summed, remarks


def _without_padding(columns: list[Column]) -> list[Column]:
    """In a table of one column a group, the empty cells below a shorter column are padding and not missing."""
    filled = [column for column in columns if column.cells.null_count() < len(column.cells)]
    if len(filled) < 2 or any(c.kind != "measure" for c in filled):
        return columns
    padded = []
    for column in columns:
        if column.kind != "measure":
            padded.append(column)
            continue
        length = len(column.cells)
        if length and column.cells[-1] is None:
            there = column.cells.is_not_null().arg_true()
            length = int(there[-1]) + 1 if len(there) else 0
        below = len(column.cells) - length
        absent = {k: n - below if k == "" else n for k, n in column.absent.items()}
        padded.append(replace(column, absent={k: n for k, n in absent.items() if n}, length=length if below else None))
    return padded


def read_file(path: Path, options: ReadingOptions = USUAL, limits: ReadingLimits = USUAL_LIMITS) -> Reading:
    """Read a file from disk; every error names the file."""
    try:
        data = path.read_bytes()
    except OSError as error:
        reason = (error.strerror or "cannot be read").lower()
        raise InputError(reason, where=str(path), remedy="Check the name and the permissions.") from None
    try:
        return with_source(read_bytes(data, options, limits), lambda: path.read_bytes())
    except InputError as error:
        where = f"{path}, {error.where}" if error.where else str(path)
        raise InputError(error.what, where=where, remedy=error.remedy) from None


def with_source(reading: Reading, data: Callable[[], bytes]) -> Reading:
    """The reading with what finds left-out rows again in another file."""
    raw = reading.table
    source = Source(lambda: hashlib.sha256(data()).hexdigest(), lambda: raw)
    return replace(reading, table=replace(raw, source=source))


def _placed(remark: Remark, lines: NDArray[np.int64]) -> Remark:
    """The remark with the record that its line is."""
    if remark.line is None:
        return remark
    place = int(np.searchsorted(lines, remark.line))
    held = place < len(lines) and lines[place] == remark.line
    return replace(remark, row=place + 1) if held else remark


def _told_apart(columns: list[Column]) -> list[Column]:
    """Where taking the unit out leaves two columns of one name, both keep their heading as the name."""
    names = [c.name for c in columns]
    return [c if names.count(c.name) == 1 else replace(c, name=c.heading) for c in columns]
