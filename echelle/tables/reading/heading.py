"""Where in a grid the heading is: titles and settings above it, one or two heading rows, a units row."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.tables.coding import Coded
from echelle.tables.missing_marks import MISSING_MARKS
from echelle.tables.reading.body import records_of
from echelle.tables.reading.grid import Grid
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.table import Remark, Remedy
from echelle.tables.units import is_unit

_BLANK = r"['\s\u00a0\u2009\u202f]"
_NUMERIC = re.compile(
    rf"^\s*(?:[<>≤≥]=?)?\s*[+\-\u2212]?(?:\d{{1,3}}(?:(?:[.,]|{_BLANK})\d{{3}})+(?:[.,]\d*)?|\d+(?:[.,]\d*)?|[.,]\d+)"
    r"(?:[eE][+-]?\d+)?\s*%?\s*$"
)
_HEAD = 120
_WIDTHS = 2_000

Row = Sequence[str | None]


@dataclass(frozen=True, eq=False)
class Cells:
    """The table's own cells: names and units by column, records with their lines; ``header_row`` 0 without a heading. ``coded``
    holds the codes of columns, by name, that are known already.
    """

    names: list[str]
    units: list[str | None]
    frame: pl.DataFrame
    lines: NDArray[np.int64]
    header_row: int
    remarks: list[Remark]
    coded: Mapping[str, Coded] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class _Heading:
    heads: list[str | None]
    units: list[str | None]
    start: int
    line: int


def cut_table(grid: Grid, options: ReadingOptions, limits: ReadingLimits) -> Cells:
    """Find the table in a grid. Raises InputError without rows, beyond the limits, or for a heading line that is blank."""
    remarks = list(grid.remarks)
    frame, lines = grid.frame, grid.lines
    if grid.names is not None:
        heading = _Heading(list(grid.names), list(grid.units or [None] * len(grid.names)), 0, 0)
    else:
        heading = _heading(frame.head(_HEAD).rows(), grid, options.header_row, remarks)
        heading = _short_heading(heading, frame, remarks)
        rest = frame.slice(heading.start)
        frame, lines = records_of(rest, lines[heading.start :], heading.heads, options.tail == "keep", remarks)
    if frame.height == 0:
        raise InputError(
            "no rows below the header", where=f"line {heading.line}", remedy="Bring a file that holds data rows too."
        )
    if frame.height > limits.rows:
        raise InputError(
            f"the file has {frame.height:,} rows, more than the {limits.rows:,} allowed", remedy="Keep the rows you need."
        )
    _ragged_remarks(grid, lines, remarks)
    blanks = frame.null_count().row(0) if frame.width else ()
    kept = [i for i in range(frame.width) if heading.heads[i] or blanks[i] < frame.height]
    names = _name_columns([heading.heads[i] or "" for i in kept], heading.line, remarks)
    frame = frame[:, kept]
    frame.columns = names
    # A file that names its columns has all its records in the table.
    known = ((name, grid.known.get(place)) for name, place in zip(names, kept, strict=True))
    coded = {name: texts.coded for name, texts in known if texts is not None and texts.coded is not None}
    return Cells(names, [heading.units[i] for i in kept], frame, lines, heading.line, remarks, coded)


def _heading(rows: Sequence[Row], grid: Grid, header_row: int | None, remarks: list[Remark]) -> _Heading:
    """Names, units, the first record's place and the heading's line (0 for none)."""
    width = grid.frame.width
    none: list[str | None] = [None] * width
    if not rows:
        return _Heading(none, none, 0, 1)
    if header_row == 0:
        return _Heading(_unnamed(rows, width), none, 0, 0)
    if header_row is not None:
        rows = grid.frame.head(max(_HEAD, header_row + 1)).rows()
        places = np.flatnonzero(grid.lines[: len(rows)] == header_row)
        if len(places) == 0:
            raise InputError(f"line {header_row} holds nothing", where="--header-row", remedy="Name the line of the headings.")
        first = int(places[0])
    else:
        first = _first(rows, grid)
        _above_remarks(rows[:first], grid, remarks)
        if _has_no_heading(rows[first:], width):
            line = int(grid.lines[first])
            undo = Remedy("undo-no-heading", {"line": line}, {"header_row": line})
            remarks.append(Remark("read-no-heading", line=line, remedies=(undo,)))
            return _Heading(_unnamed(rows[first:], width), none, first, 0)
    line = int(grid.lines[first])
    heads = [_bare_head(cell, place) for place, cell in enumerate(rows[first])]
    after = first + 1
    if after + 1 < len(rows) and _is_second(rows, first, grid):
        heads = _join_lines(_spread(rows[first], line, grid), rows[after])
        after += 1
    units = none
    if after < len(rows) and _is_units(rows, after):
        units = [_bare_unit(cell) if cell and is_unit(_bare_unit(cell)) else None for cell in rows[after]]
        after += 1
    return _Heading(heads, units, after, line)


def _above_remarks(rows: Sequence[Row], grid: Grid, remarks: list[Remark]) -> None:
    for place, row in enumerate(rows):
        text = " · ".join(cell for cell in row if cell)
        line = int(grid.lines[place])
        undo = Remedy("undo-above-heading", {}, {"header_row": line})
        cells = sum(cell is not None for cell in row)
        remarks.append(Remark("read-above-heading", {"text": text[:120]}, line=line, remedies=(undo,), cells=cells))


def _bare_head(cell: str | None, place: int) -> str | None:
    """A heading without the sign of a comment before its first name."""
    return cell if cell is None or place else re.sub(r"^(?:#|//|%)\s*(?=\w)", "", cell)


def _has_no_heading(rows: Sequence[Row], width: int) -> bool:
    """Whether the first row is a record like those below: all numbers, or numbers over numbers beside words that come back."""
    head, below = rows[0], rows[1:]
    cells = [cell for cell in head if cell]
    if cells and all(_NUMERIC.match(cell) for cell in cells):
        return not _numbers_name_columns(cells, below)
    numbered = [i for i, cell in enumerate(head) if _is_number(cell) and below and _numbers_at(below, i)]
    if not numbered:
        return False
    worded = [i for i, cell in enumerate(head) if cell and i not in numbered]
    comes_back = sum(any(row[i] == head[i] for row in below) for i in worded)
    if any(re.search(r"\d[.,]\d", head[i] or "") for i in numbered):
        repeated = any(len({row[i] for row in below}) < len(below) for i in worded)
        return not (len(worded) > 1 and repeated and not comes_back)
    all_numbers = [i for i in range(width) if below and _numbers_at(below, i)]
    return bool(comes_back) and len(numbered) >= 0.5 * len(all_numbers)


def _numbers_name_columns(cells: Sequence[str], below: Sequence[Row]) -> bool:
    """Whether a row of numbers heads the columns: different whole numbers that rise evenly, over cells of another size."""
    if len(cells) < 3 or not all(re.fullmatch(r"\d{1,4}", cell) for cell in cells):
        return False
    values = [int(cell) for cell in cells]
    steps = {b - a for a, b in itertools.pairwise(values)}
    if len(steps) != 1 or steps.pop() < 1:
        return False
    years = values[0] >= 1800 and values[-1] <= 2100
    return (years or any(cell and re.search(r"\d[.,]\d", cell) for row in below[:20] for cell in row)) and len(below) > 0


def _unnamed(rows: Sequence[Row], width: int) -> list[str | None]:
    """Names for columns without headings: "value", or "group" for words before numbers; none for a column without cells."""
    worded = width > 1 and not _is_number(rows[0][0])
    numbers = [i for i in range(width) if not (worded and i == 0)]
    if len(numbers) == 1:
        return ["group", "value"] if worded else ["value"]
    names = ["group" if worded and i == 0 else f"value {i + (0 if worded else 1)}" for i in range(width)]
    return [name if any(row[i] for row in rows) else None for i, name in enumerate(names)]


def _first(rows: Sequence[Row], grid: Grid) -> int:
    """The heading's place: the first row that is about as full as the table, or that spans its columns."""
    filled = [sum(cell is not None for cell in row) for row in rows]
    usual = _usual_fill(grid)
    if usual < 2:
        return _first_of_one_column(rows)
    full = [count >= max(2, 0.5 * usual + 0.5) for count in filled]
    for place, row in enumerate(rows):
        if _is_comment(rows, place) or (place == 0 and _counts_table(rows, grid.frame.height)):
            continue
        heads = place + 1 < len(rows) and full[place + 1] and _spans(row, int(grid.lines[place]), grid)
        unnamed_first = row[0] is None and None not in row[1:] and not any(_is_number(cell) for cell in row)
        if heads or unnamed_first or (full[place] and not _is_note(rows, place, usual)):
            return place
    return 0


def _counts_table(rows: Sequence[Row], height: int) -> bool:
    """Whether a first row says how many rows and columns follow, as files of examples for machine learning do."""
    if len(rows) < 2 or len(rows[0]) < 2:
        return False
    cells = sum(cell is not None for cell in rows[1])
    return rows[0][0] == str(height - 1) and rows[0][1] in (str(cells), str(cells - 1))


def _usual_fill(grid: Grid) -> int:
    """How many cells most rows fill: the widest count that at least a quarter of the rows reach, of the file's start."""
    frame = grid.frame.head(_WIDTHS)
    if frame.width == 0 or frame.height == 0:
        return 0
    counts = Counter(frame.select(pl.sum_horizontal(pl.all().is_not_null().cast(pl.Int32))).to_series().to_list())
    middle = int(sorted(counts.elements())[frame.height // 2])
    often = [count for count, rows in counts.items() if rows >= max(3, 0.25 * frame.height)]
    return max(middle, *(int(count) for count in often), 0)


def _first_of_one_column(rows: Sequence[Row]) -> int:
    """In a table of one column a comment above it is no heading."""
    for place in range(len(rows) - 1):
        if not _is_comment(rows, place):
            return place
    return 0


def _is_comment(rows: Sequence[Row], place: int) -> bool:
    """Whether a row is set off by a sign before its first cell, and is no heading itself: those name every column, with numbers
    below, and no sign stands below them.
    """
    first = rows[place][0]
    if first is None or not re.match(r"^(?:#|//|%%)", first) or place + 1 >= len(rows):
        return False
    below = rows[place + 1]
    if below[0] is not None and re.match(r"^(?:#|//|%%)", below[0]):
        return True
    heads = [i for i, cell in enumerate(rows[place]) if cell]
    named = len(heads) == sum(cell is not None for cell in below) and len(heads) > 1
    return not (named and any(map(_is_number, below)) and not any(_is_number(cell) for cell in rows[place]))


def _is_note(rows: Sequence[Row], place: int, usual: int) -> bool:
    """Whether a row that leaves the last columns blank stands above a fuller row of words with numbers below it."""
    row = rows[place]
    if row[-1] is not None or sum(cell is not None for cell in row) >= usual:
        return False
    for later in range(place + 1, min(place + 40, len(rows) - 1)):
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
    """Whether a row holds units for the most part, with numbers below some of them."""
    row, below = rows[place], rows[place + 1 : place + 6]
    cells = [cell for cell in row if cell and cell not in MISSING_MARKS]
    if not cells or not below or any(map(_is_number, cells)):
        return False
    units = [cell for cell in cells if is_unit(_bare_unit(cell))]
    if len(units) <= 0.5 * len(cells):
        return False
    over_numbers = [i for i, cell in enumerate(row) if cell and is_unit(_bare_unit(cell)) and _numbers_at(below, i)]
    return bool(over_numbers) and (len(units) == len(cells) or len(over_numbers) >= 2)


def _numbers_at(rows: Sequence[Row], place: int) -> bool:
    """Whether a column holds numbers and nothing else but marks of missing cells."""
    cells = [row[place] for row in rows if row[place] and row[place] not in MISSING_MARKS]
    return bool(cells) and all(map(_is_number, cells))


def _bare_unit(cell: str) -> str:
    return cell.strip("()[] ")


def _short_heading(heading: _Heading, frame: pl.DataFrame, remarks: list[Remark]) -> _Heading:
    """A heading one cell short names the columns from the second on: the first holds the rows' names."""
    heads, body = heading.heads, frame.slice(heading.start)
    if heading.line == 0 or len(heads) < 2 or heads[-1] is not None or None in heads[:-1] or body.height == 0:
        return heading
    if body.to_series(len(heads) - 1).null_count() > 0.5 * body.height:
        return heading
    labels = body.to_series(0)
    if labels.null_count() or labels.n_unique() < body.height:
        return heading
    remarks.append(Remark("read-short-heading", line=heading.line))
    return _Heading([None, *heads[:-1]], [None, *heading.units[:-1]], heading.start, heading.line)


def _ragged_remarks(grid: Grid, lines: NDArray[np.int64], remarks: list[Remark]) -> None:
    """Remarks on records with fewer or more cells than most."""
    here = set(lines.tolist()) if grid.short or grid.long else set()
    for wrong, message in ((grid.short, "read-short-rows"), (grid.long, "read-long-rows")):
        inside = [line for line in wrong if line in here]
        if inside:
            remarks.append(Remark(message, {"count": len(inside)}, line=inside[0]))


def _name_columns(cells: list[str], line: int, remarks: list[Remark]) -> list[str]:
    """Names for the columns: blanks numbered, doubles told apart, the longest cut."""
    seen: set[str] = set()
    names: list[str] = []
    taken = {" ".join(cell.split()) for cell in cells}
    for place, cell in enumerate(cells, 1):
        wanted = " ".join(cell.split())[:_LONGEST] or f"column {place}"
        name, times = wanted, 1
        while name in seen or (times > 1 and name in taken):
            times += 1
            name = f"{wanted} ({times})"
        if not cell:
            remarks.append(Remark("read-nameless", {"place": place, "column": name}, name, line))
        elif times > 1:
            remarks.append(Remark("read-double-name", {"wanted": wanted, "column": name}, name, line))
        elif len(" ".join(cell.split())) > _LONGEST:
            remarks.append(Remark("read-long-name", {"column": name, "most": _LONGEST}, name, line))
        seen.add(name)
        names.append(name)
    return names


_LONGEST = 200
