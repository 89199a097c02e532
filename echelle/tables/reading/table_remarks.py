"""Remarks on a table as a whole: levels that hardly differ, units, codes for missing, columns side by side, summaries."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.pieces import pieces_of
from echelle.numbers.sample import Floats
from echelle.tables.column_summary import summary_of
from echelle.tables.name_words import words_of
from echelle.tables.numerals import Decimal
from echelle.tables.reading.grid import Grid
from echelle.tables.reading.heading import Cells
from echelle.tables.reading.wide_layout import turned_remarks
from echelle.tables.summary_statistics_tables import MOST_SUMMARIES, names_mean, summary_columns
from echelle.tables.table import Column, Mark, Remark, Remedy
from echelle.tables.text_search import any_fits, count_fits
from echelle.tables.units import is_unit

_MOST_LEVELS = 400
_NAMED_UNITS = 6
_MISSING_CODES = (-9.0, -99.0, -999.0, -9999.0, -99999.0, 99.0, 999.0, 9999.0, 99999.0, 999999.0)
_LEAST_ROWS = 12
_UNIT_NAMES = frozenset(["unit", "units", "einheit", "unité", "unidad", "uom"])
_FEW_UNITS = 6


def table_remarks(columns: list[Column], cells: Cells, grid: Grid) -> list[Remark]:
    """All remarks on a table that no column makes alone."""
    spaced = [c.name for i, c in enumerate(columns) if i in grid.padded and c.kind not in ("measure", "date")]
    remarks = [Remark("read-spaces", {"columns": ", ".join(spaced)})] if spaced else []
    remarks += _near_levels(columns, cells.lines)
    remarks += _units(columns, cells)
    remarks += [remark for column in columns for remark in (*_missing_codes(column), *_mixed_percents(column))]
    remarks += _several_units(columns)
    remarks += turned_remarks(columns)
    return remarks + _summaries(columns, cells.frame.height)


def decimal_remarks(columns: Sequence[Column], own: Sequence[Decimal], decimal: Decimal, clear: bool) -> list[Remark]:
    """Where nothing settles the decimal mark, and columns that have another one than the file."""
    remarks = []
    measures = [(column, mark) for column, mark in zip(columns, own, strict=True) if column.kind == "measure"]
    if not clear and any(_thousands_seen(column) for column, _ in measures):
        undo = Remedy("undo-thousands", {}, {"decimal": "comma"})
        remarks.append(Remark("read-thousands", remedies=(undo,)))
    for column, mark in measures:
        if mark != decimal:
            step = {"step": "kind", "column": column.name, "kind": "measure", "decimal": decimal}
            undo = Remedy("undo-decimal-column", {"mark": decimal}, steps=(step,))
            remarks.append(Remark("read-decimal-column", {"column": column.name, "mark": mark}, column.name, remedies=(undo,)))
    return remarks


def _thousands_seen(column: Column) -> bool:
    return any_fits(column.cells, r"\d,\d{3}")


def _missing_codes(column: Column) -> list[Remark]:
    """A code such as −99 or 9999 that stands far outside the other numbers may mean missing: asked, never decided."""
    if column.kind != "measure" or column.numbers is None or column.marks is None:
        return []
    if len(column.numbers) < _LEAST_ROWS:
        return []
    low, high = (float(end(column.numbers)) for end in (np.min, np.max))
    if math.isnan(low):
        # Slower by far than where no cell is missing.
        low, high = float(np.fmin.reduce(column.numbers)), float(np.fmax.reduce(column.numbers))
    if low not in _MISSING_CODES and high not in _MISSING_CODES:
        return []  # what lies far outside is the lowest or the highest
    counts, rest = _codes_and_rest(column.numbers, column.marks)
    if sum(counts.values()) + rest.count < _LEAST_ROWS or rest.count < _LEAST_ROWS / 2:
        return []
    remarks = []
    for code, count in counts.items():
        if not count or not _far_outside(code, rest):
            continue
        text = next(str(t) for t, n in zip(column.texts, column.numbers, strict=True) if n == code)
        undo = Remedy("undo-missing-code", {"code": text}, steps=({"step": "missing", "column": column.name, "marks": [text]},))
        values: dict[str, str | int] = {"column": column.name, "code": text, "count": count}
        remarks.append(Remark("read-missing-code", values, column.name, remedies=(undo,)))
    return remarks


@dataclass
class _Rest:
    """How many numbers are no code for missing, and from where to where they lie."""

    count: int = 0
    low: float = math.inf
    high: float = -math.inf


def _codes_and_rest(numbers: Floats, marks: NDArray[np.int8]) -> tuple[dict[float, int], _Rest]:
    """How often each code for missing stands among finite numbers, and the others."""
    counts, rest = dict.fromkeys(_MISSING_CODES, 0), _Rest()
    for part, said in zip(pieces_of(numbers), pieces_of(marks), strict=True):
        finite = part[(said == Mark.NUMBER) & np.isfinite(part)]
        for code in _MISSING_CODES:
            here = finite == code
            if here.any():
                counts[code] += int(np.count_nonzero(here))
                finite = finite[~here]
        if len(finite):
            rest.count += len(finite)
            rest.low, rest.high = min(rest.low, float(finite.min())), max(rest.high, float(finite.max()))
    return counts, rest


def _mixed_percents(column: Column) -> list[Remark]:
    """Percents beside plain numbers, which may be shares."""
    if column.kind != "measure" or column.unit != "%" or column.marks is None:
        return []
    count = count_fits(column.cells, r"%$")
    rest = int(np.count_nonzero(column.marks != Mark.MISSING)) - count
    return [Remark("read-percent-mixed", {"column": column.name, "count": rest}, column.name)] if count and rest else []


def _several_units(columns: list[Column]) -> list[Remark]:
    """A column of units that holds more than one: the amounts beside it are no one measure."""
    remarks = []
    for column in columns:
        if (
            column.kind != "category"
            or not set(words_of(column.name)) & _UNIT_NAMES
            or not 1 < len(column.levels) <= _FEW_UNITS
        ):
            continue
        if not all(map(is_unit, column.levels)):
            continue
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels))
        usual = column.levels[int(np.argmax(counts))]
        step = {"step": "keep", "where": {"column": column.name, "is": [usual]}}
        undo = Remedy("undo-several-units", {"unit": usual}, steps=(step,))
        values: dict[str, str | list[str]] = {"column": column.name, "units": list(column.levels)}
        remarks.append(Remark("read-several-units", values, column.name, remedies=(undo,)))
    return remarks


def _far_outside(code: float, rest: _Rest) -> bool:
    low, high = rest.low, rest.high
    if code < 0:
        return low >= 0 or low - code > high - low
    return code - high > high - low and high < code / 2


def _near_levels(columns: list[Column], lines: NDArray[np.int64]) -> list[Remark]:
    """Levels that differ only in case or inner spaces: named, never joined unasked."""
    remarks = []
    for column in columns:
        if column.kind not in ("category", "yes/no") or len(column.levels) > _MOST_LEVELS:
            continue
        if len({"".join(level.lower().split()) for level in column.levels}) == len(column.levels):
            continue
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels))
        usual: dict[str, int] = {}
        for place in np.argsort(-counts, kind="stable"):
            level = column.levels[place]
            key = "".join(level.lower().split())
            if key not in usual:
                usual[key] = int(place)
                continue
            other = column.levels[usual[key]]
            line = int(lines[int(np.flatnonzero(column.codes == place)[0])])
            step = {"step": "join levels", "column": column.name, "levels": [level], "into": other}
            values: dict[str, str | int] = {"level": level, "other": other, "count": int(counts[place])}
            undo = Remedy("undo-near-levels", steps=(step,))
            remarks.append(Remark("read-near-levels", values, column.name, line, (undo,)))
    return remarks


def _units(columns: list[Column], cells: Cells) -> list[Remark]:
    """One remark for all the units found, which gives the headings back."""
    given = [(column, heading) for column, heading in zip(columns, cells.names, strict=True) if column.unit]
    if not given:
        return []
    headings = ", ".join(column.heading for column, _ in given[:_NAMED_UNITS]) + (" …" if len(given) > _NAMED_UNITS else "")
    steps = [{"step": "unit", "column": column.name, "unit": None} for column, _ in given]
    steps += [{"step": "rename", "column": c.name, "to": heading} for c, heading in given if heading != c.name]
    undo = Remedy("undo-units", steps=tuple(steps))
    return [Remark("read-units", {"headings": headings}, line=cells.header_row or None, remedies=(undo,))]


def _summaries(columns: list[Column], rows: int) -> list[Remark]:
    if rows > MOST_SUMMARIES or not any(names_mean(column.name) for column in columns):
        return []
    result = summary_columns([summary_of(column) for column in columns], rows)
    if result is None:
        return []
    return [Remark("read-summaries", {"what": result.words(), "group": result.group}, result.mean)]
