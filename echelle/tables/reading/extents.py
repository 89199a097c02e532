"""How far files claim to reach, looked at before anything of that size is made."""

from __future__ import annotations

import io
import re
import zipfile

import polars as pl

from echelle.errors import InputError
from echelle.tables.reading.grid import Grid
from echelle.tables.reading.size_limits import ReadingLimits

_CELL = re.compile(rb"""<(?:\w+:)?c\b[^>]*?\br=["']([A-Za-z]{1,3})(\d{1,7})["'][^>]*?(/?)>""")
_SHEET = re.compile(r"xl/worksheets/[^/]+\.xml")
_REPEATED = re.compile(rb'<table:table-(row|cell)\b[^>]*?\bnumber-(?:rows|columns)-repeated="(\d+)"[^>]*?(/?)>')


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
        for name in archive.namelist():
            if _SHEET.fullmatch(name):
                rows = columns = 0
                for letters, row, blank in (match.groups() for match in _CELL.finditer(archive.read(name))):
                    if not blank:
                        rows, columns = max(rows, int(row)), max(columns, _column(letters))
                check_extent(rows, columns, limits)
            elif name == "content.xml":
                most = [int(count) for _, count, blank in _REPEATED.findall(archive.read(name)) if not blank]
                if max(most, default=0) > limits.rows:
                    check_extent(max(most), 1, limits)


def refuse_nul(grid: Grid) -> None:
    """Raises InputError for a name, unit or cell with a NUL character, which no text can hold. Plain text has none any more."""
    for place, name in enumerate(grid.names or ()):
        unit = (grid.units or ())[place : place + 1]
        if "\0" in name or any("\0" in part for part in unit if part):
            raise _nul(f"name of column {place + 1}")
    for place, column in enumerate(grid.frame.get_columns()):
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
