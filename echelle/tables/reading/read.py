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
from echelle.tables.column_summary import summary_of
from echelle.tables.numerals import Decimal, decimal_of
from echelle.tables.reading.columnar import grid_of_arrow, grid_of_json, grid_of_parquet
from echelle.tables.reading.delimited import grid_of_text, separator_hint
from echelle.tables.reading.delimiter import delimiter_of
from echelle.tables.reading.encoding import as_utf8
from echelle.tables.reading.file_type import container_of, unzip
from echelle.tables.reading.grid import Grid
from echelle.tables.reading.heading import Cells, cut_table
from echelle.tables.reading.kinds import column_of
from echelle.tables.reading.options import USUAL, ReadingOptions
from echelle.tables.reading.size_limits import USUAL_LIMITS, ReadingLimits
from echelle.tables.reading.wide_layout import turned_remarks
from echelle.tables.reading.workbook import grid_of_workbook
from echelle.tables.summary_statistics_tables import MOST_SUMMARIES, summary_columns
from echelle.tables.table import Column, Remark, Remedy, Source, Table

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
    grid = _grid(unzip(data, limits), options, limits)
    del data  # where nobody else holds the bytes, their memory serves the columns
    cells = cut_table(grid.grid, options, limits)
    settled, clear = decimal_of(cells.frame, grid.grid.commas)
    decimal = options.decimal or settled
    remarks = list(cells.remarks)
    typed = _typed_column(cells, decimal)
    columns = [column for column, _ in typed]
    remarks += [note for _, notes in typed for note in notes]
    if not clear and not options.decimal and _thousands_seen(columns):
        undo = Remedy("undo-thousands", {}, {"decimal": "comma"})
        remarks.append(Remark("read-thousands", remedies=(undo,)))
    columns = _told_apart(_without_padding(columns))
    spaced = [c.name for i, c in enumerate(columns) if i in grid.grid.padded and c.kind not in ("measure", "date")]
    if spaced:
        remarks.append(Remark("read-spaces", {"columns": ", ".join(spaced)}))
    remarks += _near_levels(columns, cells.lines)
    remarks += _units(columns, cells)
    remarks += turned_remarks(columns)
    remarks += _summaries(columns, cells.frame.height)
    table = Table(tuple(columns), cells.frame.height)
    # What stands in a record comes before guesses about whole columns.
    remarks = sorted((_place_remarks(remark, cells.lines) for remark in remarks), key=lambda remark: remark.row is None)
    return Reading(
        table=table,
        format=grid.format,
        sheet=grid.sheet,
        encoding=grid.encoding,
        delimiter=grid.delimiter,
        decimal=decimal,
        header_row=cells.header_row,
        sheets=grid.sheets,
        remarks=tuple(remarks),
    )


def _typed_column(cells: Cells, decimal: Decimal) -> list[tuple[Column, list[Remark]]]:
    """Every column with its remarks. Most of the work on a long one is polars' own, outside the interpreter's lock."""

    def column(name: str, unit: str | None) -> tuple[Column, list[Remark]]:
        return column_of(name, unit, cells.frame[name], decimal, cells.lines)

    if cells.frame.height < _LONG:
        return list(map(column, cells.names, cells.units))
    with ThreadPoolExecutor(_THREADS) as pool:
        return list(pool.map(column, cells.names, cells.units))


@dataclass(frozen=True, eq=False)
class _Layout:
    grid: Grid
    format: str
    sheet: str | None = None
    encoding: str | None = None
    delimiter: str | None = None
    sheets: tuple[str, ...] = ()


def _grid(data: bytes, options: ReadingOptions, limits: ReadingLimits) -> _Layout:
    container = container_of(data)
    if container == "parquet":
        return _Layout(grid_of_parquet(data, limits), "parquet")
    if container == "arrow":
        return _Layout(grid_of_arrow(data, limits), "arrow")
    if container != "text":
        grid, sheets, at = grid_of_workbook(data, options.sheet, limits)
        return _Layout(grid, container, sheets[at], sheets=sheets)
    data, encoding = as_utf8(data, options.encoding)
    start = data[:400_000].decode(errors="ignore")
    if options.sheet is not None:
        raise InputError("a text file has no sheets", where="--sheet", remedy="Leave the sheet out.")
    if start.lstrip()[:1] in ("{", "["):
        return _Layout(grid_of_json(data.decode(), limits), "json", encoding=encoding)
    delimiter = options.delimiter or separator_hint(start)[0] or delimiter_of(start)
    grid = grid_of_text(data, delimiter, limits)
    return _Layout(grid, "tsv" if delimiter == "\t" else "csv", None, encoding, delimiter)


def _without_padding(columns: list[Column]) -> list[Column]:
    """In a table of one column a group, the empty cells below a shorter column are padding and not missing."""
    if len(columns) < 2 or any(c.kind != "measure" for c in columns):
        return columns
    padded = []
    for column in columns:
        filled = column.texts.is_not_null().arg_true()
        length = int(filled[-1]) + 1 if len(filled) else 0
        below = len(column.texts) - length
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


def _thousands_seen(columns: list[Column]) -> bool:
    commas = (c for c in columns if c.kind == "measure" and c.texts.str.contains(",", literal=True).any())
    return any(bool(c.texts.str.contains(r"\d,\d{3}").any()) for c in commas)


def _near_levels(columns: list[Column], lines: NDArray[np.int64]) -> list[Remark]:
    """Levels that differ only in case or inner spaces: named, never joined unasked."""
    remarks = []
    for column in columns:
        if column.kind not in ("category", "yes/no") or len(column.levels) > 400:
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
            undo = Remedy("undo-near-levels", steps=(_join_columns(column.name, level, other),))
            remarks.append(
                Remark(
                    "read-near-levels",
                    {"level": level, "other": other, "count": int(counts[place])},
                    column.name,
                    line,
                    (undo,),
                )
            )
    return remarks


def _join_columns(column: str, level: str, into: str) -> dict[str, object]:
    return {"step": "join levels", "column": column, "levels": [level], "into": into}


def _units(columns: list[Column], cells: Cells) -> list[Remark]:
    """One remark for all the units found, which gives the headings back."""
    given = [(column, heading) for column, heading in zip(columns, cells.names, strict=True) if column.unit]
    if not given:
        return []
    headings = ", ".join(column.heading for column, _ in given[:6]) + (" …" if len(given) > 6 else "")
    steps = [{"step": "unit", "column": column.name, "unit": None} for column, _ in given]
    steps += [{"step": "rename", "column": c.name, "to": heading} for c, heading in given if heading != c.name]
    undo = Remedy("undo-units", steps=tuple(steps))
    return [Remark("read-units", {"headings": headings}, line=cells.header_row or None, remedies=(undo,))]


def _summaries(columns: list[Column], rows: int) -> list[Remark]:
    result = summary_columns([summary_of(column) for column in columns], rows) if rows <= MOST_SUMMARIES else None
    if result is None:
        return []
    return [Remark("read-summaries", {"what": result.words(), "group": result.group}, result.mean)]


def _place_remarks(remark: Remark, lines: NDArray[np.int64]) -> Remark:
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
