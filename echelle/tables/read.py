"""A file's bytes to a table. Everything guessed is said in a remark."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from echelle.errors import InputError
from echelle.tables.columnar import grid_of_arrow, grid_of_json, grid_of_parquet
from echelle.tables.decode import decode
from echelle.tables.delimited import grid_of_text, separator_hint
from echelle.tables.dialect import delimiter_of
from echelle.tables.grid import Grid
from echelle.tables.heading import Cells, cut_table
from echelle.tables.kinds import column_of
from echelle.tables.limits import USUAL_LIMITS, ReadingLimits
from echelle.tables.numerals import Decimal, decimal_of
from echelle.tables.recognise import container_of, unzipped
from echelle.tables.table import Column, Remark, Table
from echelle.tables.workbook import grid_of_workbook

_THREADS = 4
_LONG = 50_000


@dataclass(frozen=True)
class ReadingOptions:
    """What a person overrules; None leaves it to the reader."""

    delimiter: str | None = None
    decimal: Decimal | None = None
    header_row: int | None = None
    sheet: str | None = None


@dataclass(frozen=True, eq=False)
class Reading:
    """A table with how it was read; sheet, encoding and delimiter are None where the format has none."""

    table: Table
    format: str
    sheet: str | None
    encoding: str | None
    delimiter: str | None
    decimal: Decimal
    header_row: int
    remarks: tuple[Remark, ...]


def read_bytes(data: bytes, options: ReadingOptions | None = None, limits: ReadingLimits = USUAL_LIMITS) -> Reading:
    """Read a table from what the bytes hold. Raises InputError naming the place and the remedy."""
    options = options or ReadingOptions()
    if len(data) > limits.megabytes * 1e6:
        raise InputError(
            f"the file has {len(data) / 1e6:.1f} MB, more than the {limits.megabytes:g} MB allowed",
            remedy="Keep the rows and columns you need and bring those.",
        )
    found = _grid(unzipped(data, limits), options, limits)
    cells = cut_table(found.grid, options.header_row, limits)
    settled, clear = decimal_of(cells.frame, found.grid.commas)
    decimal = options.decimal or settled
    remarks = list(cells.remarks)
    typed = _typed(cells, decimal)
    columns = [column for column, _ in typed]
    remarks += [note for _, notes in typed for note in notes]
    if not clear and not options.decimal and _thousands_seen(columns):
        remarks.append(Remark("Nothing settles the decimal mark; commas were read as thousands separators."))
    columns = _told_apart(_without_padding(columns))
    spaced = [c.name for i, c in enumerate(columns) if i in found.grid.padded and c.kind not in ("measure", "date")]
    if spaced:
        remarks.append(Remark(f"Spaces around the cells were taken off in {', '.join(spaced)}."))
    remarks += _near_levels(columns, cells.lines)
    table = Table(tuple(columns), cells.frame.height)
    return Reading(table, found.format, found.sheet, found.encoding, found.delimiter, decimal, cells.header_row, tuple(remarks))


def _typed(cells: Cells, decimal: Decimal) -> list[tuple[Column, list[Remark]]]:
    """Every column with its remarks. Most of the work on a long one is polars' own, outside the interpreter's lock."""

    def one(name: str, unit: str | None) -> tuple[Column, list[Remark]]:
        return column_of(name, unit, cells.frame[name], decimal, cells.lines)

    if cells.frame.height < _LONG:
        return list(map(one, cells.names, cells.units))
    with ThreadPoolExecutor(_THREADS) as pool:
        return list(pool.map(one, cells.names, cells.units))


@dataclass(frozen=True, eq=False)
class _Found:
    grid: Grid
    format: str
    sheet: str | None = None
    encoding: str | None = None
    delimiter: str | None = None


def _grid(data: bytes, options: ReadingOptions, limits: ReadingLimits) -> _Found:
    container = container_of(data)
    if container == "parquet":
        return _Found(grid_of_parquet(data, limits), "parquet")
    if container == "arrow":
        return _Found(grid_of_arrow(data, limits), "arrow")
    if container != "text":
        grid, sheet = grid_of_workbook(data, options.sheet, limits)
        return _Found(grid, container, sheet)
    text, encoding = decode(data)
    if options.sheet is not None:
        raise InputError("a text file has no sheets", where="--sheet", remedy="Leave the sheet out.")
    if text.lstrip()[:1] in ("{", "["):
        return _Found(grid_of_json(text, limits), "json", encoding=encoding)
    delimiter = options.delimiter or separator_hint(text)[0] or delimiter_of(text)
    grid = grid_of_text(text, delimiter, limits)
    return _Found(grid, "tsv" if delimiter == "\t" else "csv", None, encoding, delimiter)


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


def read_file(path: Path, options: ReadingOptions | None = None, limits: ReadingLimits = USUAL_LIMITS) -> Reading:
    """Read a file from disk; every error names the file."""
    try:
        data = path.read_bytes()
    except OSError as error:
        reason = (error.strerror or "cannot be read").lower()
        raise InputError(reason, where=str(path), remedy="Check the name and the permissions.") from None
    try:
        return read_bytes(data, options, limits)
    except InputError as error:
        where = f"{path}, {error.where}" if error.where else str(path)
        raise InputError(error.what, where=where, remedy=error.remedy) from None


def _thousands_seen(columns: list[Column]) -> bool:
    commas = (c for c in columns if c.kind == "measure" and c.texts.str.contains(",", literal=True).any())
    return any(bool(c.texts.str.contains(r"\d,\d{3}").any()) for c in commas)


def _near_levels(columns: list[Column], lines: np.ndarray[tuple[int], np.dtype[np.int64]]) -> list[Remark]:
    """Levels that differ only in case or inner spaces: named, never joined unasked."""
    remarks = []
    for column in columns:
        if column.kind not in ("category", "yes/no") or len(column.levels) > 400:
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
            rows = "1 row" if counts[place] == 1 else f"{counts[place]} rows"
            remarks.append(
                Remark(f"“{level}” ({rows}) differs from “{other}” only in case or spaces; kept apart.", column.name, line)
            )
    return remarks


def _told_apart(columns: list[Column]) -> list[Column]:
    """Where taking the unit out leaves two columns of one name, both keep their heading as the name."""
    names = [c.name for c in columns]
    return [c if names.count(c.name) == 1 else replace(c, name=c.heading) for c in columns]
