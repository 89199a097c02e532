"""Windows of rows: in the order shown, with what each cell is, and what changed."""

from __future__ import annotations

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.tables.storage.writers import display_cells
from echelle.tables.table import Column, Mark, Table
from server.tables.bodies import FoundRows, RowsWindow, Sort

MOST_FOUND = 10_000
Places = NDArray[np.intp]


def order_of(table: Table, sort: Sort | None) -> Places:
    """The places of the rows in the order shown; missing values come last either way."""
    if sort is None:
        return np.arange(table.rows)
    column = table.column(sort.column)
    if column.numbers is not None and column.marks is not None:
        values = np.where(column.marks == Mark.MISSING, np.nan, column.numbers)
    elif column.ordered:
        values = np.where(column.codes < 0, np.nan, column.codes.astype(np.float64))
    else:
        rank = np.empty(len(column.levels) + 1)
        rank[np.argsort(np.array(column.levels, dtype=object), kind="stable")] = np.arange(len(column.levels))
        rank[-1] = np.nan
        values = rank[column.codes]
    return np.argsort(-values if sort.down else values, kind="stable")


def window(table: Table, order: Places, start: int, count: int, against: Table | None) -> RowsWindow:
    """The rows shown from ``start``."""
    places = order[start : start + count]
    ids = table.row_ids
    keys = ids.keys[places]
    cells = [cells_of(column, places) for column in table.columns]
    left_out = np.zeros(len(places), dtype=bool) if table.left_out is None else table.left_out[places]
    return RowsWindow(
        start=start, total=table.rows, keys=keys.tolist(), ids=[ids.written(int(key)) for key in keys],
        left_out=left_out.tolist(), cells=cells, states=[_states(column, places) for column in table.columns],
        changed=None if against is None else _changed_cells(table, cells, keys, against),
    )  # fmt: skip


def _part(column: Column, places: Places) -> Column:
    """Some rows of a column, without counting anything anew."""
    return Column(
        name=column.name, kind=column.kind, cells=column.cells.gather(pl.Series(places)), unit=column.unit,
        ordered=column.ordered, absent=column.absent, numbers=None if column.numbers is None else column.numbers[places],
        marks=None if column.marks is None else column.marks[places],
    )  # fmt: skip


def cells_of(column: Column, places: Places) -> list[str | None]:
    result: list[str | None] = display_cells(_part(column, places)).to_list()
    return result


def _states(column: Column, places: Places) -> str:
    part = _part(column, places)
    if part.marks is None:
        return "".join(np.where(part.present, ".", "m"))
    return "".join(np.array([".", "m", "l", "l"])[part.marks])


def _changed_cells(table: Table, cells: list[list[str | None]], keys: NDArray[np.int64], against: Table) -> list[str]:
    """Which cells differ from those of the same row and column before; all of a new row's or column's do."""
    old = against.row_ids.keys
    by_key = np.argsort(old, kind="stable")
    at = np.searchsorted(old[by_key], keys)
    at = np.minimum(at, max(len(old) - 1, 0))
    known = old[by_key][at] == keys if len(old) else np.zeros(len(keys), dtype=bool)
    places = by_key[at]
    before = {column.name: column for column in against.columns}
    marks = []
    for column, now in zip(table.columns, cells, strict=True):
        if column.name not in before or not known.any():
            marks.append("+" * len(keys))
            continue
        then = cells_of(before[column.name], places[known])
        mark = np.full(len(keys), "+")
        mark[known] = ["." if a == b else "+" for a, b in zip(then, np.array(now, dtype=object)[known], strict=True)]
        marks.append("".join(mark))
    return marks


def find_text(table: Table, order: Places, text: str) -> FoundRows:
    """The rows as shown in which a cell holds the text, whatever its case."""
    wanted = text.lower()
    hits = np.zeros(table.rows, dtype=bool)
    for column in table.columns:
        hits |= display_cells(column).str.to_lowercase().str.contains(wanted, literal=True).fill_null(False).to_numpy()
    places = np.flatnonzero(hits[order])
    return FoundRows(places=places[:MOST_FOUND].tolist(), total=len(places))


def find_key(table: Table, order: Places, key: int) -> FoundRows:
    """Where the row with an id is shown."""
    places = np.flatnonzero(table.row_ids.keys[order] == key)
    return FoundRows(places=places.tolist(), total=len(places))
