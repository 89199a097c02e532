"""A file's bytes to the grid that it holds, by its content."""

from __future__ import annotations

import re
from dataclasses import dataclass

from echelle.errors import InputError
from echelle.tables.reading.columnar import grid_of_arrow, grid_of_json, grid_of_parquet
from echelle.tables.reading.delimited import grid_of_text, separator_hint
from echelle.tables.reading.delimiter import dialect_of
from echelle.tables.reading.encoding import as_utf8
from echelle.tables.reading.extents import refuse_nul
from echelle.tables.reading.file_type import check_text, container_of
from echelle.tables.reading.grid import Grid
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.reading.workbook import grid_of_workbook
from echelle.tables.table import Remark, Remedy

_START = 400_000
_JSON = re.compile(r"^[\ufeff\s]*(?:\{\s*[\"}]|\[\s*(?:[\[{\"\]\d\-]|true|false|null))")

_DECIMAL_LINES = re.compile(r"\ufeff?[+\-\u2212]?\d+,\d+(?:\r?\n[+\-\u2212]?\d+,\d+)+\s*")


@dataclass(frozen=True, eq=False, kw_only=True)
class FileGrid:
    """A grid with how it was found; sheet, encoding and delimiter are None where the format has none."""

    grid: Grid
    format: str
    sheet: str | None = None
    encoding: str | None = None
    delimiter: str | None = None
    sheets: tuple[str, ...] = ()
    remarks: tuple[Remark, ...] = ()


def grid_of(data: bytes, options: ReadingOptions, limits: ReadingLimits) -> FileGrid:
    """The grid in a file's bytes. Raises InputError for what holds no table."""
    found = _grid_of(data, options, limits)
    if found.delimiter is None:
        refuse_nul(found.grid)
    return found


def _grid_of(data: bytes, options: ReadingOptions, limits: ReadingLimits) -> FileGrid:
    container = container_of(data)
    if container == "parquet":
        return FileGrid(grid=grid_of_parquet(data, limits), format="parquet")
    if container == "arrow":
        return FileGrid(grid=grid_of_arrow(data, limits), format="arrow")
    if container != "text":
        grid, sheets, at = grid_of_workbook(data, options, limits)
        return FileGrid(grid=grid, format=container, sheet=sheets[at], sheets=sheets)
    if options.sheet is not None:
        raise InputError("a text file has no sheets", where="--sheet", remedy="Leave the sheet out.")
    text = as_utf8(data, options.encoding)
    del data
    start = text.data[:_START].decode(errors="ignore")
    check_text(start)
    if _JSON.match(start):
        grid = grid_of_json(text.data.decode(), limits)
        return FileGrid(grid=grid, format="json", encoding=text.encoding, remarks=text.remarks)
    told = options.delimiter or separator_hint(start)[0]
    remarks = list(text.remarks)
    if told is None and _DECIMAL_LINES.fullmatch(start) and len(text.data) < _START:
        # One column that was copied out of a spreadsheet has no separator at all.
        told = "\t"
        remarks.append(Remark("read-pasted-commas", remedies=(Remedy("undo-pasted-commas", {}, {"delimiter": ","}),)))
    dialect = dialect_of(start, told)
    grid = grid_of_text(text.data, dialect, limits)
    return FileGrid(
        grid=grid,
        format="tsv" if dialect.delimiter == "\t" else "csv",
        encoding=text.encoding,
        delimiter=dialect.delimiter,
        remarks=tuple(remarks),
    )
