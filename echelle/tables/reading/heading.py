"""Where in a grid the table is: titles above, one or two heading rows, a units row, totals and footnotes below."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.tables.numerals import MISSING_MARKS
from echelle.tables.reading.grid import Grid
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.table import Remark, Remedy
from echelle.tables.units import is_unit

_NUMERIC = re.compile(r"^\s*(?:[<>≤≥]=?)?\s*[+\-\u2212]?(?:\d[\d.,'\s\u00a0\u2009\u202f]*|[.,]\d+)([eE][+-]?\d+)?\s*%?\s*$")
_TOTAL = re.compile(
    r"^(?:(?:grand |sub)?totals?|sum|mean|average|median|sd|std\.? ?dev\.?|n|count|min|max|minimum|maximum|cv ?%?"
    r"|summe|gesamt|mittelwert|durchschnitt|standardabweichung|anzahl"
    r"|somme|moyenne|écart[- ]type|suma|media|promedio|totale?)\s*:?$",
    re.I,
)
_NOTE = re.compile(r"^(?:[*†‡§¹²³]|\(?[a-d1-9]\)\s|note|source|legend|footnote|comment|remark|printed|exported|end of)", re.I)
_HEAD = 60
_TAIL = 15

Row = Sequence[str | None]


@dataclass(frozen=True, eq=False)
class Cells:
    """The table's own cells: names and units by column, records with their lines; ``header_row`` 0 without a heading."""

    names: list[str]
    units: list[str | None]
    frame: pl.DataFrame
    lines: NDArray[np.int64]
    header_row: int
    remarks: list[Remark]


def cut_table(grid: Grid, options: ReadingOptions, limits: ReadingLimits) -> Cells:
    """Find the table in a grid. Raises InputError without rows, beyond the limits, or for a heading line that is blank."""
    remarks = list(grid.remarks)
    frame, lines = grid.frame, grid.lines
    heads: Sequence[str | None]
    units: Sequence[str | None]
    if grid.names is not None:
        heads, units, start, line = grid.names, [None] * len(grid.names), 0, 0
    else:
        heads, units, start, line = _heading(frame.head(_HEAD).rows(), grid, options.header_row, remarks)
    cut = grid.names is None and options.tail != "keep"
    end = _end(frame, lines, start, remarks) if cut else frame.height
    frame, lines = frame.slice(start, end - start), lines[start:end]
    _ragged_remarks(grid, lines, remarks)
    kept = [i for i in range(frame.width) if heads[i] or frame.to_series(i).null_count() < frame.height]
    if frame.height == 0:
        raise InputError("no rows below the header", where=f"line {line}", remedy="Bring a file that holds data rows too.")
    if frame.height > limits.rows:
        raise InputError(
            f"the file has {frame.height:,} rows, more than the {limits.rows:,} allowed", remedy="Keep the rows you need."
        )
    names = _name_columns([heads[i] or "" for i in kept], line, remarks)
    frame = frame.select(frame.columns[i] for i in kept).rename(dict(zip((frame.columns[i] for i in kept), names, strict=True)))
    return Cells(names, [units[i] for i in kept], frame, lines, line, remarks)


def _heading(
    rows: Sequence[Row], grid: Grid, header_row: int | None, remarks: list[Remark]
) -> tuple[list[str | None], list[str | None], int, int]:
    """Names, units, the first record's place and the heading's line (0 for none)."""
    width = grid.frame.width
    none: list[str | None] = [None] * width
    if not rows:
        return none, none, 0, 1
    if header_row == 0:
        return _unnamed_remarks(rows, width), none, 0, 0
    if header_row is not None:
        places = np.flatnonzero(grid.lines[: len(rows)] == header_row)
        if len(places) == 0:
            raise InputError(f"line {header_row} holds nothing", where="--header-row", remedy="Name the line of the headings.")
        first = int(places[0])
    else:
        first = _first(rows, grid)
        for place in range(first):
            text = " · ".join(cell for cell in rows[place] if cell)
            line = int(grid.lines[place])
            undo = Remedy("undo-above-heading", {}, {"header_row": line})
            remarks.append(Remark("read-above-heading", {"text": text[:120]}, line=line, remedies=(undo,)))
        if all(cell is None or _NUMERIC.match(cell) for cell in rows[first]) or _rows_of_groups(rows[first:]):
            line = int(grid.lines[first])
            undo = Remedy("undo-no-heading", {"line": line}, {"header_row": line})
            remarks.append(Remark("read-no-heading", line=line, remedies=(undo,)))
            return _unnamed_remarks(rows[first:], width), none, first, 0
    line = int(grid.lines[first])
    heads = list(rows[first])
    after = first + 1
    if after + 1 < len(rows) and _is_second(rows, first, grid):
        heads = _join_lines(_spread(rows[first], line, grid), rows[after])
        after += 1
    units = none
    if after < len(rows) and _is_units(rows, after):
        units = [_bare_unit(cell) if cell else None for cell in rows[after]]
        after += 1
    return heads, units, after, line


def _unnamed_remarks(rows: Sequence[Row], width: int) -> list[str | None]:
    """Names for columns without headings: "value", or "group" for words before numbers."""
    worded = width > 1 and not _is_number(rows[0][0])
    numbers = [i for i in range(width) if not (worded and i == 0)]
    if len(numbers) == 1 and not worded:
        return ["value"]
    return ["group" if worded and i == 0 else f"value {i + (0 if worded else 1)}" for i in range(width)]


def _rows_of_groups(rows: Sequence[Row]) -> bool:
    """Whether every row is a word and then numbers, the first row among them: groups in rows, without a heading.

    Whole numbers in the first row could be names (years, doses); with a decimal in it, they are values.
    """
    if len(rows) < 2 or len(rows[0]) < 3:
        return False
    if not any(cell and re.search(r"\d[.,]\d", cell) for cell in rows[0][1:]):
        return False
    return all(row[0] and not _is_number(row[0]) and all(c is None or _is_number(c) for c in row[1:]) for row in rows)


def _first(rows: Sequence[Row], grid: Grid) -> int:
    """The heading's place: the first row that is about as full as the table, or that spans its columns."""
    filled = [sum(cell is not None for cell in row) for row in rows]
    usual = sorted(filled)[len(filled) // 2]
    if usual < 2:
        return 0
    full = [count >= max(2, 0.5 * usual + 0.5) for count in filled]
    for place, row in enumerate(rows):
        heads = place + 1 < len(rows) and full[place + 1] and _spans(row, int(grid.lines[place]), grid)
        unnamed_first = row[0] is None and None not in row[1:] and not any(_is_number(cell) for cell in row)
        if heads or unnamed_first or (full[place] and not _is_note(rows, place, usual)):
            return place
    return 0


def _is_note(rows: Sequence[Row], place: int, usual: int) -> bool:
    """Whether a row that leaves the last columns blank stands above a fuller row of words with numbers below it."""
    row = rows[place]
    if row[-1] is not None or sum(cell is not None for cell in row) >= usual:
        return False
    for later in range(place + 1, min(place + 6, len(rows) - 1)):
        words = [cell for cell in rows[later] if cell is not None]
        if len(words) >= usual and not any(map(_is_number, words)) and any(map(_is_number, rows[later + 1])):
            return True
    return False


def _is_number(cell: str | None) -> bool:
    return cell is not None and bool(_NUMERIC.match(cell))


def _spans(row: Row, line: int, grid: Grid) -> bool:
    """Whether a sparse row heads groups of columns rather than being a title or a note."""
    if any(at == line and right - left + 1 < grid.frame.width for at, left, right in grid.spans):
        return True
    places = [i for i, cell in enumerate(row) if cell]
    return len(places) >= 2 and any(b - a > 1 for a, b in itertools.pairwise(places))


def _is_second(rows: Sequence[Row], first: int, grid: Grid) -> bool:
    """Whether the row after ``first`` is a second heading row."""
    above, below, data = rows[first], rows[first + 1], rows[first + 2]
    if any(map(_is_number, below)) or not any(below):
        return False
    if not any(map(_is_number, data)):
        return False
    line = int(grid.lines[first])
    if any(at == line for at, _, _ in grid.spans):
        return True
    return sum(cell is None for cell in above) > sum(cell is None for cell in below) and _spans(above, line, grid)


def _spread(row: Row, line: int, grid: Grid) -> list[str | None]:
    """The upper heading over every column that it heads."""
    out = list(row)
    spans = [(left, right) for at, left, right in grid.spans if at == line]
    if spans:
        for left, right in spans:
            out[left : right + 1] = [row[left]] * (right - left + 1)
        return out
    for place in range(1, len(out)):
        out[place] = out[place] if out[place] is not None else out[place - 1]
    return out


def _join_lines(upper: Row, lower: Row) -> list[str | None]:
    return [f"{a} · {b}" if a and b and a != b else (b or a) for a, b in zip(upper, lower, strict=True)]


def _is_units(rows: Sequence[Row], place: int) -> bool:
    """Whether a row holds units alone, with numbers below some of them."""
    row, below = rows[place], rows[place + 1 : place + 6]
    cells = [cell for cell in row if cell]
    if not cells or not below or not all(is_unit(_bare_unit(cell)) or cell in MISSING_MARKS for cell in cells):
        return False
    return any(cell and is_unit(_bare_unit(cell)) and _numbers_at(below, i) for i, cell in enumerate(row))


def _numbers_at(rows: Sequence[Row], place: int) -> bool:
    """Whether a column holds numbers and nothing else."""
    cells = [row[place] for row in rows if row[place]]
    return bool(cells) and all(map(_is_number, cells))


def _bare_unit(cell: str) -> str:
    return cell.strip("()[] ")


def _end(frame: pl.DataFrame, lines: NDArray[np.int64], start: int, remarks: list[Remark]) -> int:
    """Where the records end: totals and footnotes below them are left out and remarked."""
    end = frame.height
    floor = max(start + 1, frame.height - _TAIL)
    result = []
    while end > floor:
        row = frame.row(end - 1)
        cells = [cell for cell in row if cell]
        label = cells[0]
        # A total without its number is one only where most of a row is blank.
        named = bool(row[0] and _TOTAL.match(row[0])) and (len(cells) >= 2 or frame.width >= 3)
        total = named and not _is_level(frame, start, end - 1)
        note = frame.width > 1 and len(cells) == 1 and bool(_NOTE.match(label) or (row[0] and label.count(" ") >= 3))
        if not (total or note):
            break
        end -= 1
        undo = Remedy("undo-tail", {}, {"tail": "keep"})
        result.append(
            Remark(
                "read-tail", {"what": "total" if total else "note", "text": label[:120]}, line=int(lines[end]), remedies=(undo,)
            )
        )
    remarks.extend(reversed(result))
    return end


def _is_level(frame: pl.DataFrame, start: int, place: int) -> bool:
    """Whether the first cell of a row stands in other rows too: then it is a level and no total."""
    first = frame.to_series(0).slice(start, place - start)
    return bool((first == frame.row(place)[0]).any())


def _ragged_remarks(grid: Grid, lines: NDArray[np.int64], remarks: list[Remark]) -> None:
    """Remarks on records with fewer or more cells than most."""
    here = set(lines.tolist()) if grid.short or grid.long else set()
    for wrong, message in ((grid.short, "read-short-rows"), (grid.long, "read-long-rows")):
        inside = [line for line in wrong if line in here]
        if inside:
            remarks.append(Remark(message, {"count": len(inside)}, line=inside[0]))


def _name_columns(cells: list[str], line: int, remarks: list[Remark]) -> list[str]:
    """Names for the columns: blanks numbered, doubles told apart."""
    seen: set[str] = set()
    names: list[str] = []
    for place, cell in enumerate(cells, 1):
        wanted = " ".join(cell.split()) or f"column {place}"
        name, times = wanted, 1
        while name in seen:
            times += 1
            name = f"{wanted} ({times})"
        if not cell:
            remarks.append(Remark("read-nameless", {"place": place, "name": name}, name, line))
        elif times > 1:
            remarks.append(Remark("read-double-name", {"wanted": wanted, "name": name}, name, line))
        seen.add(name)
        names.append(name)
    return names
