"""Text to a rectangle of raw cells."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass
from itertools import chain

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.tables.limits import ReadingLimits
from echelle.tables.table import Remark

_NUMERIC = re.compile(r"^\s*[<>≤≥]?\s*[+\-\u2212]?\d[\d.,\s]*([eE][+-]?\d+)?\s*%?\s*$")


@dataclass(frozen=True, eq=False)
class Cells:
    """Raw cells as strings, one polars column a file column; null where a cell is blank.

    ``lines`` (shape (rows,)) counts the file's lines from 1; ``header_row`` is 0 where the file has no heading.
    """

    names: list[str]
    frame: pl.DataFrame
    lines: NDArray[np.int64]
    header_row: int
    remarks: list[Remark]


def split_cells(text: str, delimiter: str, limits: ReadingLimits) -> Cells:
    """Cut ``text`` into cells. Raises InputError without rows or beyond the limits."""
    _check_width(text, delimiter, limits)
    whole = _regular(text, delimiter)
    frame, lines = whole if whole is not None else _irregular(text, delimiter)
    remarks: list[Remark] = []
    if frame.height and any(_NUMERIC.match(cell or "") for cell in frame.row(0)) and _all_numeric(frame.row(0)):
        width = frame.width
        names = ["value"] if width == 1 else [f"value {i + 1}" for i in range(width)]
        header_row = 0
        remarks.append(Remark("No heading: the columns are named value.", line=int(lines[0])))
    else:
        names = _named([cell or "" for cell in frame.row(0)] if frame.height else [], remarks, lines)
        header_row = int(lines[0]) if frame.height else 1
        frame, lines = frame.slice(1), lines[1:]
    frame, lines, names = _without_blanks(frame, lines, names)
    if frame.height == 0:
        raise InputError(
            "no rows below the header", where=f"line {header_row}", remedy="Bring a file that holds data rows too."
        )
    if frame.height > limits.rows:
        raise InputError(
            f"the file has {frame.height:,} rows, more than the {limits.rows:,} allowed",
            remedy="Keep the rows you need and bring those.",
        )
    frame = frame.rename(dict(zip(frame.columns, names, strict=True)))
    return Cells(names, frame, lines, header_row, remarks + _ragged(frame, text, delimiter, whole is None))


def _check_width(text: str, delimiter: str, limits: ReadingLimits) -> None:
    first = text.lstrip("\n").split("\n", 1)[0]
    width = first.count(delimiter) + 1
    if width > limits.columns:
        raise InputError(
            f"the file has {width:,} columns, more than the {limits.columns:,} allowed",
            where="line 1",
            remedy="Keep the columns you need, or put them in rows.",
        )


def _regular(text: str, delimiter: str) -> tuple[pl.DataFrame, NDArray[np.int64]] | None:
    """The quick way for a file without quotes in which every line has the same number of cells; else None."""
    if '"' in text:
        return None
    data = text.rstrip("\n").encode()
    codes = np.frombuffer(data, dtype=np.uint8)
    ends = np.append(np.flatnonzero(codes == 10), len(codes))
    cuts = np.flatnonzero(codes == ord(delimiter))
    counts = np.diff(np.searchsorted(cuts, ends), prepend=0)
    if counts.min() != counts.max() or counts[0] == 0:
        return None
    frame = pl.read_csv(
        io.BytesIO(data), has_header=False, infer_schema=False, separator=delimiter, quote_char=None, raise_if_empty=False
    )
    if frame.height != len(ends) or frame.width != counts[0] + 1:
        return None
    frame = frame.with_columns(pl.all().str.strip_chars())
    return frame.with_columns(pl.when(pl.all() != "").then(pl.all())), np.arange(1, frame.height + 1)


def _irregular(text: str, delimiter: str) -> tuple[pl.DataFrame, NDArray[np.int64]]:
    """Any other file, record by record; short records are filled with blanks."""
    csv.field_size_limit(1 << 30)
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    records: list[list[str | None]] = []
    lines: list[int] = []
    before = 0
    for record in reader:
        start, before = before + 1, reader.line_num
        cells: list[str | None] = [cell.strip() or None for cell in record]
        if any(cells):
            records.append(cells)
            lines.append(start)
    width = max(map(len, records), default=0)
    columns = {
        f"column_{i + 1}": pl.Series([r[i] if i < len(r) else None for r in records], dtype=pl.String) for i in range(width)
    }
    return pl.DataFrame(columns), np.array(lines, dtype=np.int64)


def _all_numeric(cells: tuple[str | None, ...]) -> bool:
    return all(cell is None or _NUMERIC.match(cell) for cell in cells)


def _named(cells: list[str], remarks: list[Remark], lines: NDArray[np.int64]) -> list[str]:
    """Names for the columns: blanks numbered, doubles told apart."""
    seen: dict[str, int] = {}
    names: list[str] = []
    for place, cell in enumerate(cells, 1):
        name = " ".join(cell.split()) or f"column {place}"
        seen[name] = seen.get(name, 0) + 1
        if seen[name] > 1:
            twin = f"{name} ({seen[name]})"
            remarks.append(Remark(f"Two columns are named “{name}”; the later one is “{twin}”.", twin, int(lines[0])))
            name = twin
        names.append(name)
    return names


def _without_blanks(
    frame: pl.DataFrame, lines: NDArray[np.int64], names: list[str]
) -> tuple[pl.DataFrame, NDArray[np.int64], list[str]]:
    """Drop records and nameless columns that hold nothing."""
    if frame.width == 0 or frame.height == 0:
        return frame, lines, names
    kept = frame.select(pl.any_horizontal(pl.all().is_not_null())).to_series().to_numpy()
    if not kept.all():
        frame, lines = frame.filter(pl.Series(kept)), lines[kept]
    empty = [
        column
        for column, name in zip(frame.columns, names, strict=True)
        if name.startswith("column ") and frame[column].null_count() == frame.height
    ]
    names = [name for column, name in zip(frame.columns, names, strict=True) if column not in empty]
    return frame.drop(empty), lines, names


def _ragged(frame: pl.DataFrame, text: str, delimiter: str, irregular: bool) -> list[Remark]:
    """Remarks on records with fewer or more cells than the heading."""
    if not irregular:
        return []
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    widths = ((reader.line_num, len(record)) for record in reader if any(cell.strip() for cell in record))
    first = next(widths, None)
    if first is None:
        return []
    short = long = 0
    short_line = long_line = 0
    for line, width in chain(widths):
        if width < first[1]:
            short, short_line = short + 1, short_line or line
        elif width > first[1]:
            long, long_line = long + 1, long_line or line
    remarks = []
    if short:
        remarks.append(Remark(f"{short} short rows were filled with missing cells.", line=short_line))
    if long:
        remarks.append(Remark(f"{long} rows hold more cells than the heading; each got a column of its own.", line=long_line))
    return remarks
