"""A file's bytes to a table. Everything guessed is said in a remark."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from echelle.errors import InputError
from echelle.tables.cells import split_cells
from echelle.tables.decode import decode
from echelle.tables.dialect import delimiter_of
from echelle.tables.kinds import column_of
from echelle.tables.limits import USUAL_LIMITS, ReadingLimits
from echelle.tables.numerals import Decimal, decimal_of
from echelle.tables.table import Column, Remark, Table


@dataclass(frozen=True)
class ReadingOptions:
    """What a person overrules; None leaves it to the reader."""

    delimiter: str | None = None
    decimal: Decimal | None = None


@dataclass(frozen=True, eq=False)
class Reading:
    """A table with how it was read."""

    table: Table
    format: str
    encoding: str
    delimiter: str
    decimal: Decimal
    header_row: int
    remarks: tuple[Remark, ...]


def read_bytes(data: bytes, options: ReadingOptions | None = None, limits: ReadingLimits = USUAL_LIMITS) -> Reading:
    """Read delimited text. Raises InputError naming the place and the remedy."""
    options = options or ReadingOptions()
    if len(data) > limits.megabytes * 1e6:
        raise InputError(
            f"the file has {len(data) / 1e6:.1f} MB, more than the {limits.megabytes:g} MB allowed",
            remedy="Keep the rows and columns you need and bring those.",
        )
    text, encoding = decode(data)
    delimiter = options.delimiter or delimiter_of(text)
    cells = split_cells(text, delimiter, limits)
    del text
    settled, clear = decimal_of(cells.frame)
    decimal = options.decimal or settled
    remarks = list(cells.remarks)
    columns: list[Column] = []
    for name in cells.names:
        column, notes = column_of(name, cells.frame[name], decimal, cells.lines)
        columns.append(column)
        remarks += notes
    if not clear and not options.decimal and _thousands_seen(columns):
        remarks.append(Remark("Nothing settles the decimal mark; commas were read as thousands separators."))
    remarks += _near_levels(columns, cells.lines)
    table = Table(tuple(_told_apart(columns)), cells.frame.height)
    kind = "tsv" if delimiter == "\t" else "csv"
    return Reading(table, kind, encoding, delimiter, decimal, cells.header_row, tuple(remarks))


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
    return any(c.kind == "measure" and bool(c.texts.str.contains(r"\d,\d{3}").any()) for c in columns)


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
    return [
        c if names.count(c.name) == 1 else Column(c.heading, c.kind, c.texts, c.unit, c.ordered, c.absent, c.numbers, c.marks)
        for c in columns
    ]
