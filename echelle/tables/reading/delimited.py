"""Delimited text to a grid."""

from __future__ import annotations

import csv
import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.tables.reading.byte_pieces import count_of_byte, pieces_of, touches
from echelle.tables.reading.delimiter import BLANKS, Dialect, csv_reader, words_of_line
from echelle.tables.reading.grid import Grid, frame_of, without_blank_records
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.table import Remark

# What str.strip takes off besides ASCII, as UTF-8.
_WIDE_SPACES = [chr(c).encode() for c in (0x85, 0xA0, 0x1680, *range(0x2000, 0x200B), 0x2028, 0x2029, 0x202F, 0x205F, 0x3000)]
_HINT = re.compile(r"^\ufeff?\"?sep=(.|\\t)\"?$", re.I)
_MOST_BROKEN = 200


def separator_hint(text: str) -> tuple[str | None, int]:
    """The separator that a first line such as "sep=;" names, and how many lines the hint takes."""
    first = text[:40].partition("\n")[0]
    match = _HINT.match(first.strip("\r"))
    return (match[1].replace("\\t", "\t"), 1) if match else (None, 0)


def grid_of_text(data: bytes, dialect: Dialect, limits: ReadingLimits) -> Grid:
    """Cut UTF-8 text into cells. Raises InputError for more columns than allowed."""
    delimiter = dialect.delimiter
    _, skipped = separator_hint(data[:200].decode(errors="ignore"))
    if skipped:
        data = data.partition(b"\n")[2]
    start = len(data) - len(data.lstrip(b"\n")) if data.startswith(b"\n") else 0
    end = data.find(b"\n", start)
    width = data[start : end if end >= 0 else len(data)].count(delimiter.encode()) + 1
    if width > limits.columns and delimiter != BLANKS:
        raise InputError(
            f"the file has {width:,} columns, more than the {limits.columns:,} allowed",
            where="line 1",
            remedy="Keep the columns you need, or put them in rows.",
        )
    if delimiter == BLANKS:
        return _irregular(_by_tabs(data.decode()), replace(dialect, delimiter="\t"), skipped)
    grid = _regular(data, dialect, skipped)
    return grid if grid is not None else _irregular(data.decode(), dialect, skipped)


def _by_tabs(text: str) -> str:
    """Runs of blanks as tabs: between words where most lines have as many, else where blanks go through all lines."""
    lines = [line.rstrip() for line in text.expandtabs().split("\n")]
    words = [words_of_line(line) for line in lines]
    widths = Counter(len(row) for row in words if row)
    _, often = widths.most_common(1)[0] if widths else (0, 0)
    cuts = _fixed_cuts([line for line in lines if line.strip()]) if often < 0.6 * widths.total() else []
    if cuts:
        edges = list(zip([0, *cuts], [*cuts, None], strict=True))
        return "\n".join("\t".join(line[a:b].strip() for a, b in edges) if line.strip() else "" for line in lines)
    return "\n".join("\t".join(row) for row in words)


def _fixed_cuts(lines: list[str]) -> list[int]:
    """Places where columns of fixed width begin: blanks go through every line before them."""
    width = max(map(len, lines))
    blank = [all(len(line) <= i or line[i] == " " for line in lines) for i in range(width)]
    return [i for i in range(1, width) if blank[i - 1] and not blank[i]]


def _regular(data: bytes, dialect: Dialect, skipped: int) -> Grid | None:
    """The quick way for a file without quotes in which every line has the same number of cells; else None."""
    delimiter = dialect.delimiter
    if (dialect.quote != "none" and dialect.quote.encode() in data) or not delimiter.isascii() or b"\r" in data:
        return None
    if data.endswith(b"\n\n"):
        data = data.rstrip(b"\n")
    ends, cuts = count_of_byte(data, 0x0A), count_of_byte(data, ord(delimiter))
    records = ends if data.endswith(b"\n") else ends + 1
    if cuts == 0 or cuts % records:
        return None
    try:
        # A record with more cells than the first is an error here; with as many cuts as full records have, none is short.
        read = pl.read_csv(
            data, has_header=False, infer_schema=False, separator=delimiter, quote_char=None, raise_if_empty=False
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
    return Grid(frame=frame, lines=lines, padded=padded, commas=delimiter != "," and b"," in data)


def _spaces_at_edges(data: bytes, delimiter: bytes) -> bool:
    """Whether any cell may begin or end with a space; where spaces of other scripts stand anywhere, each cell is asked."""
    for piece in () if data.isascii() else pieces_of(data, overlap=2):
        leads = np.flatnonzero(piece >= 0xC2)
        if len(leads) and any(_at(piece, leads, space).any() for space in _WIDE_SPACES):
            return True
    return any(touches(data, space, delimiter + b"\n") for space in (b" " if delimiter == b"\t" else b" \t"))


def _at(letters: NDArray[np.uint8], places: NDArray[np.intp], wanted: bytes) -> NDArray[np.bool_]:
    """At which places a sequence of bytes stands."""
    inside = places[places + len(wanted) <= len(letters)]
    return np.asarray(np.logical_and.reduce([letters[inside + i] == byte for i, byte in enumerate(wanted)]))


def _irregular(text: str, dialect: Dialect, skipped: int) -> Grid:
    """Any other file, record by record; short records are filled with blanks."""
    csv.field_size_limit(1 << 30)
    lines_of_text = text.split("\n")
    if lines_of_text and not lines_of_text[-1]:
        lines_of_text.pop()
    records: list[list[str | None]] = []
    lines: list[int] = []
    padded: set[int] = set()
    broken: list[int] = []
    for at, record in _records(lines_of_text, dialect, broken):
        cells: list[str | None] = [cell.strip() or None for cell in record]
        if any(cells):
            padded.update(i for i, (raw, cell) in enumerate(zip(record, cells, strict=True)) if cell and raw != cell)
            records.append(cells)
            lines.append(at + 1 + skipped)
    widths = [len(record) for record in records]
    usual = max(set(widths), key=lambda w: (widths.count(w), w)) if widths else 0
    columns = [[r[i] if i < len(r) else None for r in records] for i in range(max(widths, default=0))]
    remarks = [Remark("read-broken-quote", {"count": len(broken)}, line=broken[0] + 1 + skipped)] if broken else []
    return Grid(
        frame=frame_of(columns),
        lines=np.array(lines, dtype=np.int64),
        padded=frozenset(padded),
        short=tuple(line for line, width in zip(lines, widths, strict=True) if width < usual),
        long=tuple(line for line, width in zip(lines, widths, strict=True) if width > usual),
        remarks=tuple(remarks),
    )


def _records(lines: list[str], dialect: Dialect, broken: list[int]) -> Iterator[tuple[int, list[str]]]:
    """Each record with the place of its first line. Where a quote is not closed as it should be, its line is cut without quotes
    and named in ``broken``: otherwise it would swallow the records below it.
    """
    for strict in (True, False):
        records = _all_records(lines, dialect, strict)
        if records is not None:
            yield from records
            return
    start, used, plain = 0, dialect, replace(dialect, quote="none")
    while start < len(lines):
        ends = _Lines(lines, start)
        before = start
        try:
            for record in csv_reader(ends, used, strict=True):
                yield before, record
                before = ends.place
            return
        except csv.Error:
            broken.append(before)
            yield before, next(csv_reader([lines[before].replace("\r", " ")], plain))
            start = before + 1
            if len(broken) > _MOST_BROKEN:
                used = plain


class _Lines(Iterator[str]):
    """Lines with their ends, and how far they were read."""

    def __init__(self, lines: list[str], place: int) -> None:
        self._lines, self.place = lines, place

    def __next__(self) -> str:
        if self.place >= len(self._lines):
            raise StopIteration
        self.place += 1
        return self._lines[self.place - 1] + "\n"


def _all_records(lines: list[str], dialect: Dialect, strict: bool) -> list[tuple[int, list[str]]] | None:
    """All records of a file whose quotes are closed as they should be. Where they are not (not ``strict``), only if each
    record is a line and has as many cells as the first; else None.
    """
    ends = _Lines(lines, 0)
    records: list[tuple[int, list[str]]] = []
    before = 0
    try:
        for record in csv_reader(ends, dialect, strict):
            if record:
                if not strict and (ends.place != before + 1 or (records and len(record) != len(records[0][1]))):
                    return None
                records.append((before, record))
            before = ends.place
    except csv.Error:
        return None
    return records
