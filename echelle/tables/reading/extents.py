"""How far files claim to reach, looked at before anything of that size is made."""

from __future__ import annotations

import io
import re
import zipfile

import polars as pl

from echelle.errors import InputError
from echelle.tables.reading.grid import Grid
from echelle.tables.reading.size_limits import ReadingLimits

# A filled cell's place; a blank one with a format is closed at once.
_CELL = re.compile(rb"""<(?:\w+:)?c\b[^>]*?\br=["']([A-Za-z]{1,3})(\d{1,7})["'][^>]*?(/?)>""")
# What nearer sheets never have: a column after ZZ, a row from 100 000 on.
_FAR = re.compile(rb"""\br=["'](?:[A-Za-z]{3}|[A-Za-z]{1,2}\d{6})""")
_SHEET = re.compile(r"xl/worksheets/[^/]+\.xml")


def check_extent(rows: int, columns: int, limits: ReadingLimits) -> None:
    """Raises InputError for a table of more rows, columns or cells than allowed."""
    if columns > limits.columns:
        what = f"the file has {columns:,} columns, more than the {limits.columns:,} allowed"
        raise InputError(what, remedy="Keep the columns you need.")
    if rows > limits.rows or rows * columns > limits.cells:
        what = f"the file reaches over {rows:,} rows and {columns:,} columns, more than the {limits.cells:,} cells allowed"
        raise InputError(what, remedy="Keep the rows and columns you need; a stray cell far away may be deleted.")


def check_workbook_extents(data: bytes, limits: ReadingLimits) -> None:
    """Raises InputError where the filled cells of a sheet lie too far apart: a reader makes the whole rectangle."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        for name in filter(_SHEET.fullmatch, archive.namelist()):
            sheet = archive.read(name)
            if not _FAR.search(sheet):
                continue
            filled = [(int(row), _column(letters)) for letters, row, blank in _CELL.findall(sheet) if not blank]
            check_extent(max((row for row, _ in filled), default=0), max((column for _, column in filled), default=0), limits)


def refuse_nul(grid: Grid) -> None:
    """Raises InputError for a name, unit or cell with a NUL character, which no text can hold. Plain text has none any more."""
    for place, name in enumerate(grid.names or ()):
        unit = (grid.units or ())[place : place + 1]
        if "\0" in name or any("\0" in part for part in unit if part):
            raise _nul(f"name of column {place + 1}")
    for place, column in enumerate(grid.frame.get_columns()):
        if column.dtype != pl.String or place in grid.known:
            continue
        here = column.str.contains("\0", literal=True).fill_null(False)
        if here.any():
            line = int(grid.lines[int(pl.Series(here).arg_max() or 0)])
            raise _nul(f"row {line}, column {place + 1}")


def _nul(where: str) -> InputError:
    return InputError("a text holds the character NUL, which stands for no sign", where=where, remedy="Take it out.")


def _column(letters: bytes) -> int:
    number = 0
    for letter in letters.upper():
        number = number * 26 + letter - 64
    return number
