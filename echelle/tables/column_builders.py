"""New columns from old ones: rows taken, words and numbers put in, missing cells counted again."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.sample import Floats
from echelle.tables.coding import written
from echelle.tables.missing_marks import marks_among
from echelle.tables.numerals import Decimal, decimal_of, evidence_of, read_numerals
from echelle.tables.table import Column, Kind, Mark, StandInState, Table

Places = NDArray[np.intp]


def count_marks(column: Column) -> Column:
    """The column with its missing cells counted anew."""
    texts = column.cells
    if column.length is not None:
        texts = texts.head(column.length)
    if column.marks is not None:
        gone = pl.Series(column.marks[: len(texts)] == Mark.MISSING)
        counts = written(texts.filter(gone)).fill_null("").alias("text").value_counts(sort=True)
        absent = {str(text): int(count) for text, count in counts.iter_rows()}
    else:
        blank = texts.null_count()
        marks = [mark for mark in column.absent if mark]
        texts = written(texts) if marks else texts
        among = texts.filter(texts.is_in(marks)).alias("text").value_counts(sort=True) if marks else None
        absent = ({"": blank} if blank else {}) | (
            {str(text): int(count) for text, count in among.iter_rows()} if among is not None else {}
        )
    return replace(column, absent=absent, known=None, each_once=False)


def take_cells(column: Column, places: Places) -> Column:
    """Some rows of a column; a place of −1 gives a missing cell."""
    index = pl.Series(places)
    if len(places) and places.min() < 0:
        index = index.set(index < 0, None)
    cells = column.cells.gather(index)
    numbers = marks = None
    if column.numbers is not None and column.marks is not None:
        if len(column.numbers):
            numbers = np.where(places < 0, np.nan, column.numbers[places])
            marks = np.where(places < 0, np.int8(Mark.MISSING), column.marks[places]).astype(np.int8)
        else:
            numbers, marks = np.full(len(places), np.nan), np.full(len(places), Mark.MISSING, dtype=np.int8)
    length = None
    if column.length is not None:
        # Padding stays padding where it lies below what is filled.
        filled = places < column.length
        length = int(np.count_nonzero(filled))
        length = length if bool(filled[:length].all()) else None
    stood = column.stood_in
    if stood is not None:
        stood = np.where(places < 0, np.int8(StandInState.NOT), stood[places]) if len(stood) else unstood(len(places))
    return count_marks(replace(column, cells=cells, numbers=numbers, marks=marks, length=length, stood_in=stood))


def unstood(rows: int) -> NDArray[np.int8]:
    """No number stands for a limit."""
    return np.full(rows, StandInState.NOT, dtype=np.int8)


def computed_from(columns: Iterable[Column]) -> NDArray[np.int8] | None:
    """What numbers are that were computed, row by row, from those of some columns."""
    stood = [column.stood_in for column in columns if column.stood_in is not None]
    if not stood:
        return None
    some = np.logical_or.reduce([states != StandInState.NOT for states in stood])
    return np.where(some, np.int8(StandInState.COMPUTED), np.int8(StandInState.NOT))


def stood_in_of(columns: list[Column]) -> NDArray[np.int8] | None:
    """Which numbers of columns, one below the other, stand for a limit."""
    if all(column.stood_in is None for column in columns):
        return None
    return np.concatenate([unstood(len(column.cells)) if column.stood_in is None else column.stood_in for column in columns])


def take_rows(table: Table, places: Places) -> Table:
    """Some rows of a table, in that order, with their ids."""
    columns = tuple(take_cells(column, places) for column in table.columns)
    left_out = None if table.left_out is None else table.left_out[places]
    return replace(table, columns=columns, rows=len(places), ids=table.row_ids.taken(places), left_out=left_out)


def measure_of(
    name: str,
    numbers: Floats,
    unit: str | None = None,
    marks: NDArray[np.int8] | None = None,
    cells: pl.Series | None = None,
) -> Column:
    """A measure from numbers; NaN and infinities are missing. With marks, limits keep their sign. Numbers that stand in
    ``cells`` already are not written as texts.
    """
    numbers = np.asarray(numbers, dtype=np.float64) + 0.0
    if marks is None:
        marks = np.where(np.isfinite(numbers), np.int8(Mark.NUMBER), np.int8(Mark.MISSING)).astype(np.int8)
        numbers = np.where(marks == Mark.MISSING, np.nan, numbers)
    texts = format_numbers(numbers) if cells is None else cells
    if (missing := marks == Mark.MISSING).any():
        texts = texts.set(pl.Series(missing), None)
    for mark, sign in ((Mark.BELOW, "<"), (Mark.ABOVE, ">")):
        if (here := marks == mark).any():
            texts = pl.select(pl.when(pl.Series(here)).then(sign + texts).otherwise(texts)).to_series()
    return count_marks(
        Column(name=name, kind="measure", cells=texts, unit=unit, ordered=False, absent={}, numbers=numbers, marks=marks)
    )


def as_measure(column: Column, decimal: Decimal | None = None) -> tuple[Column, int]:
    """The column with its cells read as numbers, and how many of them are none and missing."""
    numerals = read_numerals(column.texts, decimal or decimal_of([evidence_of(column.texts)])[0])
    made = replace(column, kind="measure", ordered=False, order=(), numbers=numerals.numbers, marks=numerals.marks)
    return count_marks(made), sum(numerals.words.values())


def format_numbers(numbers: Floats) -> pl.Series:
    """Numbers with their full round-trip digits, whole ones without a point; null for NaN."""
    values = pl.Series(numbers, dtype=pl.Float64).fill_nan(None)
    return values.cast(pl.String).str.strip_suffix(".0")


def words_of(name: str, kind: Kind, texts: pl.Series, unit: str | None = None, order: tuple[str, ...] = ()) -> Column:
    """A column of words; blanks are missing, and so are marks that stand apart from the words, in anything but text."""
    levels = [] if kind == "text" else texts.drop_nulls().unique(maintain_order=True).to_list()
    marks = dict.fromkeys(sorted(marks_among(levels)), 0)
    return count_marks(Column(name=name, kind=kind, cells=texts, unit=unit, ordered=bool(order), absent=marks, order=order))


def put(table: Table, column: Column, instead: Column | None = None) -> Table:
    """A column in the place of another, or at the end."""
    if instead is None:
        return replace(table, columns=(*table.columns, column))
    return replace(table, columns=tuple(column if c is instead else c for c in table.columns))
