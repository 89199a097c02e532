"""What stands between and below the records of a table: headings again, subtotals, notes, totals, another table."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.tables.table import Remark, Remedy
from echelle.tables.text_search import fits
from echelle.tables.trade_words import TRADE_WORDS

_WORDS = "|".join(TRADE_WORDS["below"]["totals"])
_TOTAL = rf"(?i)^(?:grand |sub ?-?)?(?:{_WORDS})\s*(?:[:.=]|\(.*\)|(?:of|for|per|in)\s.*)?$"
_GROUP_TOTAL = (
    rf"(?i)^(?:sub ?-?totals?|zwischensumme|sous-total|subtotaal|subtotale|(?:{_WORDS})\s+\S.*|\S.*\s+(?:{_WORDS}))\s*:?$"
)
_NOTE = re.compile(rf"^(?:{'|'.join(TRADE_WORDS['below']['notes'])})", re.I)
_TAIL = 40
_MOST_GAPS = 400
_HEAD_ROWS = 5
_NUMBER = r"^\s*(?:[<>≤≥]=?)?\s*[+\-\u2212]?[\d.,]*\d[\d.,]*(?:[eE][+-]?\d+)?\s*%?$"


def records_of(
    frame: pl.DataFrame, lines: NDArray[np.int64], heads: Sequence[str | None], keep: bool, remarks: list[Remark]
) -> tuple[pl.DataFrame, NDArray[np.int64]]:
    """The records among the rows below a heading, with their lines; what is left out gets a remark with its cells. ``keep``
    leaves every row but repeated headings.
    """
    frame, lines = _without_headings(frame, lines, heads, remarks)
    if not keep:
        end = _second_table(frame, lines, remarks)
        frame, lines = _without_tail(frame.head(end), lines[:end], remarks)
        frame, lines = _without_subtotals(frame, lines, remarks)
    return frame, lines


def _without_headings(
    frame: pl.DataFrame, lines: NDArray[np.int64], heads: Sequence[str | None], remarks: list[Remark]
) -> tuple[pl.DataFrame, NDArray[np.int64]]:
    """Without rows that say the heading again."""
    named = [i for i, head in enumerate(heads) if head]
    if len(named) < 2 or frame.height == 0:
        return frame, lines
    again = (frame.to_series(named[0]) == heads[named[0]]).fill_null(False)
    for i in named[1:]:
        if again.any():
            again = again & (frame.to_series(i) == heads[i]).fill_null(False)
    if not again.any():
        return frame, lines
    places = again.arg_true().to_list()
    titles = [place - 1 for place in places if place and sum(cell is not None for cell in frame.row(place - 1)) == 1]
    gone = np.zeros(frame.height, dtype=np.bool_)
    gone[[*places, *titles]] = True
    cells = len(places) * len(named) + len(titles)
    text = [str(next(cell for cell in frame.row(place) if cell is not None)) for place in titles]
    values: dict[str, str | int | list[str]] = {"count": len(places), "titles": "yes" if titles else "no", "text": text}
    remarks.append(Remark("read-repeated-heading", values, line=int(lines[places[0]]), cells=cells))
    return frame.filter(pl.Series(~gone)), lines[~gone]


def _second_table(frame: pl.DataFrame, lines: NDArray[np.int64], remarks: list[Remark]) -> int:
    """Where another table begins: below a blank line, a row of words where numbers stand above."""
    gaps = np.flatnonzero(np.diff(lines) > 1) + 1
    if frame.height < 3 or len(gaps) == 0 or len(gaps) > _MOST_GAPS:
        return frame.height
    usual = _usual_blanks(frame.head(int(gaps[0])))
    for gap in gaps.tolist():
        above, row = frame.slice(max(0, gap - 50), min(50, gap)), frame.row(gap)
        filled = [i for i, cell in enumerate(row) if cell is not None]
        if not filled or gap + 1 >= frame.height:
            continue
        numbered = [i for i in range(frame.width) if _mostly_numbers(above.to_series(i))]
        over = [i for i in filled if i in numbered]
        names = len(filled) > 1 and len(over) >= max(1, 0.5 * len(numbered))
        names = names and not any(re.match(_NUMBER, str(row[i])) for i in over)
        if not (names or _begins_block(frame, gap, filled, numbered) or _is_narrow(frame, gap, usual)):
            continue
        rest = frame.height - gap
        line = int(lines[gap])
        undo = Remedy("undo-second-table", {"line": line}, {"header_row": line})
        cells = rest * frame.width - sum(frame.to_series(i).slice(gap).null_count() for i in range(frame.width))
        text = " · ".join(str(cell) for cell in row if cell)[:120]
        remarks.append(Remark("read-second-table", {"count": rest, "text": text}, line=line, remedies=(undo,), cells=cells))
        return gap
    return frame.height


def _begins_block(frame: pl.DataFrame, gap: int, filled: list[int], numbered: list[int]) -> bool:
    """Whether a title of one cell is followed by a row of words over the columns of numbers."""
    if len(filled) > 1 or gap + 2 >= frame.height:
        return False
    below = frame.row(gap + 1)
    words = [i for i in numbered if below[i] is not None and not re.match(_NUMBER, str(below[i]))]
    return len(words) >= max(1, 0.5 * len(numbered)) and len([c for c in below if c is not None]) >= 2


def _is_narrow(frame: pl.DataFrame, gap: int, usual: frozenset[int]) -> bool:
    """Whether every row from here on leaves most columns blank that the records above fill, and some hold two cells."""
    rest = frame.slice(gap)
    if len(usual) < 3 or rest.height < 2 or rest.height > _MOST_GAPS:
        return False
    there = [sum(row[i] is not None for i in usual) for row in rest.rows()]
    cells = [sum(cell is not None for cell in row) for row in rest.rows()]
    return max(there) <= 0.5 * len(usual) and sum(count >= 2 for count in cells) >= 2


def _mostly_numbers(cells: pl.Series) -> bool:
    there = cells.drop_nulls()
    return len(there) > 0 and int(there.str.contains(_NUMBER).sum()) >= 0.8 * len(there)


def _without_tail(
    frame: pl.DataFrame, lines: NDArray[np.int64], remarks: list[Remark]
) -> tuple[pl.DataFrame, NDArray[np.int64]]:
    """Without totals and notes below the records."""
    end = frame.height
    floor = max(1, end - _TAIL)
    usual = _usual_blanks(frame)
    result: list[Remark] = []
    for place in range(frame.height - 1, floor - 1, -1):
        what = _tail_row(frame, lines, place, end, usual)
        if what is None:
            break
        cells = [cell for cell in frame.row(place) if cell is not None]
        text = " · ".join(str(cell) for cell in (cells if what == "total" else cells[:1]))[:120]
        undo = Remedy("undo-tail", {}, {"tail": "keep"})
        result.append(
            Remark("read-tail", {"what": what, "text": text}, line=int(lines[place]), remedies=(undo,), cells=len(cells))
        )
        end = place
    remarks.extend(reversed(result))
    return frame.head(end), lines[:end]


def _tail_row(frame: pl.DataFrame, lines: NDArray[np.int64], place: int, end: int, usual: frozenset[int]) -> str | None:
    """What a last row is besides a record: "total", "note", or None."""
    row = frame.row(place)
    cells = [cell for cell in row if cell is not None]
    label = str(cells[0])
    gap = place > 0 and lines[place] - lines[place - 1] > 1
    if len(cells) == 1:
        if frame.width > 2 and row[0] and re.match(_TOTAL, label) and not _is_level(frame, place, label):
            return "total"
        if frame.width > 1 and (_NOTE.match(label) or label.count(" ") >= 3):
            return "note"
        apart = any(lines[i] - lines[i - 1] > 1 for i in range(place, min(place + 3, end)) if i > 0)
        return "note" if frame.width > 2 and row[0] and apart and not re.match(_NUMBER, label) else None
    worded = _label(row)
    if worded is None:
        return None
    lacking = any(row[i] is None for i in usual)
    total = re.match(_TOTAL, worded) and (lacking or len(worded) > 2 or row[0] == worded)
    group_total = re.match(_GROUP_TOTAL, worded) and lacking and (gap or row[0] == worded)
    return "total" if (total or group_total) and not _is_level(frame, place, worded) else None


def _label(row: tuple[str | None, ...]) -> str | None:
    """What a row of totals is called: the word in its first cell, or a longer one in the second."""
    filled = [(i, str(cell)) for i, cell in enumerate(row) if cell is not None][:2]
    words = [(i, cell) for i, cell in filled if not re.match(_NUMBER, cell)]
    totals = [cell for i, cell in words if (i == filled[0][0] or len(cell) > 3) and re.match(_TOTAL, cell)]
    return totals[0] if totals else words[0][1] if words and words[0][0] == filled[0][0] else None


def _is_level(frame: pl.DataFrame, place: int, word: str) -> bool:
    """Whether a row's word stands in other rows too: then it is a level and no total."""
    return any(bool((frame.to_series(i).slice(0, place) == word).any()) for i in range(min(3, frame.width)))


def _is_level_of_records(frame: pl.DataFrame, row: tuple[str | None, ...], word: str, lacking: pl.Series) -> bool:
    """Whether a word stands, in its column, in records that lack nothing."""
    column = frame.to_series(row.index(word))
    return bool(((column == word) & ~lacking).any())


def _usual_blanks(frame: pl.DataFrame) -> frozenset[int]:
    """The columns that hardly any record leaves blank."""
    return frozenset(i for i in range(frame.width) if frame.to_series(i).null_count() <= 0.2 * frame.height)


def _without_subtotals(
    frame: pl.DataFrame, lines: NDArray[np.int64], remarks: list[Remark]
) -> tuple[pl.DataFrame, NDArray[np.int64]]:
    """Without subtotals and notes between the records: rows that leave blank what nearly every record fills."""
    usual = _usual_blanks(frame)
    if frame.width < 2 or frame.height < 4 or not usual:
        return frame, lines
    summed = _rows_that_sum_up(frame)
    if not summed and all(frame.to_series(i).null_count() == 0 for i in usual):
        return frame, lines
    lacking = np.zeros(frame.height, dtype=np.bool_)
    for i in usual:
        lacking |= frame.to_series(i).is_null().to_numpy()
    candidates = np.flatnonzero(lacking)
    if len(candidates) > 0.34 * frame.height or len(candidates) > 20_000:
        candidates = candidates[:0]
    dropped: dict[str, list[int]] = {"total": summed, "note": []}
    for place in sorted(set(candidates.tolist()) - set(summed)):
        what = _inner_row(frame, place, usual, pl.Series(lacking))
        if what is not None:
            dropped[what].append(place)
    for what, places in dropped.items():
        if not places:
            continue
        rows = [[str(cell) for cell in frame.row(place) if cell is not None] for place in places]
        text = " · ".join(rows[0])[:80]
        undo = Remedy("undo-tail", {}, {"tail": "keep"})
        cells = sum(map(len, rows))
        values: dict[str, str | int] = {"what": what, "count": len(places), "text": text}
        remarks.append(Remark("read-inner-rows", values, line=int(lines[places[0]]), remedies=(undo,), cells=cells))
    gone = np.zeros(frame.height, dtype=np.bool_)
    gone[[place for places in dropped.values() for place in places]] = True
    return (frame.filter(pl.Series(~gone)), lines[~gone]) if gone.any() else (frame, lines)


def _rows_that_sum_up(frame: pl.DataFrame) -> list[int]:
    """Rows with the word of a total in their first cell whose numbers are the sum or mean of the rows since the last one."""
    first = frame.to_series(0)
    labels = fits(first, _TOTAL)
    places = labels.arg_true().to_list()
    if not places or len(places) > 0.34 * frame.height or len(places) > _MOST_GAPS:
        return []
    numbers = [
        column for i in range(1, frame.width)
        if (column := frame.to_series(i).str.replace(",", ".", literal=True).cast(pl.Float64, strict=False)).null_count()
        < 0.5 * frame.height
    ]  # fmt: skip
    result, start = [], 0
    for place in places:
        above = [column.slice(start, place - start).drop_nulls() for column in numbers]
        own = [column[place] for column in numbers]
        pairs = [(value, part) for value, part in zip(own, above, strict=True) if value is not None and len(part) > 1]
        if pairs and all(_sums_up(float(value), part) for value, part in pairs):
            result.append(place)
        start = place + 1
    return result if len(result) == len(places) else []


def _sums_up(value: float, part: pl.Series) -> bool:
    total = float(part.sum())
    near = 0.005 * max(abs(value), 0.1)
    return abs(value - total) <= near or abs(value - total / len(part)) <= near


def _inner_row(frame: pl.DataFrame, place: int, usual: frozenset[int], lacking: pl.Series) -> str | None:
    """What a row that leaves usual columns blank is besides a record: "total", "note", or None."""
    row = frame.row(place)
    cells = [str(cell) for cell in row if cell is not None]
    if len(cells) == 1:
        long = cells[0].count(" ") >= 3
        return "note" if len(usual) >= 2 and not re.match(_NUMBER, cells[0]) and (long or _NOTE.match(cells[0])) else None
    label = _label(row)
    if label is None or not (re.match(_TOTAL, label) or (re.match(_GROUP_TOTAL, label) and row[0] == label)):
        return None
    if _is_level_of_records(frame, row, label, lacking):
        return None
    return "total" if any(re.match(_NUMBER, cell) for cell in cells) else None
