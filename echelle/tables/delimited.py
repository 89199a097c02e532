"""Delimited text to a grid."""

from __future__ import annotations

import csv
import io
import re

import numpy as np
import polars as pl

from echelle.errors import InputError
from echelle.tables.grid import Grid, frame_of, without_blank_records
from echelle.tables.limits import ReadingLimits

_HINT = re.compile(r"^\ufeff?\"?sep=(.|\\t)\"?$", re.I)


def separator_hint(text: str) -> tuple[str | None, int]:
    """The separator that a first line such as "sep=;" names, and how many lines the hint takes."""
    first = text[:40].partition("\n")[0]
    found = _HINT.match(first.strip("\r"))
    return (found[1].replace("\\t", "\t"), 1) if found else (None, 0)


def grid_of_text(text: str, delimiter: str, limits: ReadingLimits) -> Grid:
    """Cut text into cells. Raises InputError for more columns than allowed and for a quote that is never closed."""
    _, skipped = separator_hint(text)
    if skipped:
        text = text.partition("\n")[2]
    start = next((i for i, c in enumerate(text) if c != "\n"), 0)
    end = text.find("\n", start)
    first = text[start : end if end >= 0 else len(text)]
    width = first.count(delimiter) + 1
    if width > limits.columns:
        raise InputError(
            f"the file has {width:,} columns, more than the {limits.columns:,} allowed",
            where="line 1",
            remedy="Keep the columns you need, or put them in rows.",
        )
    grid = _regular(text, delimiter, skipped)
    return grid if grid is not None else _irregular(text, delimiter, skipped)


def _regular(text: str, delimiter: str, skipped: int) -> Grid | None:
    """The quick way for a file without quotes in which every line has the same number of cells; else None."""
    if '"' in text:
        return None
    data = text.rstrip("\n").encode()
    records, cuts = data.count(b"\n") + 1, data.count(delimiter.encode())
    if cuts == 0 or cuts % records:
        return None
    try:
        # A record with more cells than the first is an error here; with as many cuts as full records have, none is short.
        read = pl.read_csv(
            io.BytesIO(data), has_header=False, infer_schema=False, separator=delimiter, quote_char=None, raise_if_empty=False
        )
    except pl.exceptions.PolarsError:
        return None
    if read.height != records or (read.width - 1) * records != cuts:
        return None
    columns = [read.to_series(i) for i in range(read.width)]
    padded: frozenset[int] = frozenset()
    if _spaces_at_edges(data, delimiter.encode()):
        bare = [column.str.strip_chars() for column in columns]
        padded = frozenset(i for i, (a, b) in enumerate(zip(columns, bare, strict=True)) if bool((a != b).any()))
        columns = [column.set(column == "", None) for column in bare]
    frame, lines = without_blank_records(frame_of(columns), np.arange(1, read.height + 1) + skipped)
    return Grid(frame, lines, padded=padded, commas=delimiter != "," and b"," in data)


def _spaces_at_edges(data: bytes, delimiter: bytes) -> bool:
    """Whether any cell may begin or end with a space; spaces of other scripts are looked for closely."""
    if not data.isascii():
        return True
    if data[:1].isspace() or data[-1:].isspace():
        return True
    spaces = [b" "] if delimiter == b"\t" else [b" ", b"\t"]
    return any(s + edge in data or edge + s in data for s in spaces for edge in (delimiter, b"\n"))


def _irregular(text: str, delimiter: str, skipped: int) -> Grid:
    """Any other file, record by record; short records are filled with blanks."""
    csv.field_size_limit(1 << 30)
    reader = csv.reader(io.StringIO(text), delimiter=delimiter, skipinitialspace=delimiter != "\t")
    records: list[list[str | None]] = []
    lines: list[int] = []
    padded: set[int] = set()
    before = skipped
    try:
        for record in reader:
            start, before = before + 1, reader.line_num + skipped
            cells: list[str | None] = [cell.strip() or None for cell in record]
            if any(cells):
                padded.update(i for i, (raw, cell) in enumerate(zip(record, cells, strict=True)) if cell and raw != cell)
                records.append(cells)
                lines.append(start)
    except csv.Error as error:
        raise InputError(str(error), where=f"line {before + 1}", remedy="Mend the quotes there.") from None
    widths = [len(record) for record in records]
    usual = max(set(widths), key=lambda w: (widths.count(w), w)) if widths else 0
    columns = [[r[i] if i < len(r) else None for r in records] for i in range(max(widths, default=0))]
    return Grid(
        frame_of(columns),
        np.array(lines, dtype=np.int64),
        padded=frozenset(padded),
        short=tuple(line for line, width in zip(lines, widths, strict=True) if width < usual),
        long=tuple(line for line, width in zip(lines, widths, strict=True) if width > usual),
    )
