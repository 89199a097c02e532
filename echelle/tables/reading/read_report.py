"""How a file was read, as plain data for ``echelle read``."""

from __future__ import annotations

from typing import Any

import numpy as np

from echelle.tables.reading.read import Reading
from echelle.tables.table import Column, Kind, Mark

_KINDS: dict[Kind, str] = {"measure": "number", "yes/no": "boolean"}


def account_of(reading: Reading) -> dict[str, Any]:
    """One object: format, sheet, encoding, delimiter, decimal, header_row, rows, columns, cells, remarks.

    ``cells`` sums up what became of the cells that the file fills, which each column says too: filled = values + named, where
    the latter hold no value and are named in a remark.
    """
    columns = [_column(column) for column in reading.table.columns]
    return {
        "format": reading.format,
        "sheet": reading.sheet,
        "encoding": reading.encoding,
        "delimiter": reading.delimiter,
        "decimal": "," if reading.decimal == "comma" else ".",
        "header_row": reading.header_row,
        "rows": reading.table.rows,
        "columns": columns,
        "cells": {key: sum(column[key] for column in columns) for key in ("filled", "values", "named")},
        "remarks": [{"text": r.text, "column": r.column, "line": r.line} for r in reading.remarks],
    }


def _column(column: Column) -> dict[str, Any]:
    low = high = None
    valued = int(np.count_nonzero(column.present))
    filled = valued if column.filled is None else column.filled
    if column.kind == "measure" and column.numbers is not None and column.marks is not None:
        values = column.numbers[column.marks == Mark.NUMBER]
        if len(values):
            low, high = float(values.min()), float(values.max())
    return {
        "name": column.name,
        "kind": _KINDS.get(column.kind, column.kind),
        "ordered": column.ordered,
        "missing": column.missing,
        "filled": filled,
        "values": valued,
        "named": filled - valued,
        "unit": column.unit,
        "censored": column.censored,
        "first": _first(column),
        "min": low,
        "max": high,
    }


def _first(column: Column, most: int = 3) -> list[str]:
    """The first values that are there, as text; numbers with a point, limits with their sign."""
    if column.kind != "measure" or column.numbers is None or column.marks is None:
        known = column.texts.filter(column.texts.is_not_null() & ~column.texts.is_in(list(column.absent)))
        return [str(text) for text in known.head(most).to_list()]
    sign = {Mark.NUMBER: "", Mark.BELOW: "<", Mark.ABOVE: ">"}
    places = np.flatnonzero(column.marks != Mark.MISSING)[:most]
    return [sign[Mark(int(column.marks[i]))] + _plain(float(column.numbers[i])) for i in places]


def _plain(value: float) -> str:
    return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
