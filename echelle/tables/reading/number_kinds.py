"""What a column of written numbers is: a measure, codes of a category, an identifier or years."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.pieces import pieces_of
from echelle.numbers.sample import Floats
from echelle.tables.dates import days_of
from echelle.tables.name_words import WEAK_HEADS, head_of, names_amount, names_group, names_unit_of_study, words_of
from echelle.tables.numerals import Numerals
from echelle.tables.table import Kind, Mark
from echelle.tables.text_search import all_fit, any_fits

NumberRemark = Literal["none", "codes", "zeros", "long", "years", "compact dates", "serial dates"]

_FEW = 12
_ENOUGH_ROWS = 30
_COUNTER_NAMES = frozenset(
    ["", "index", "idx", "row", "rownames", "rowname", "id", "no", "nr", "n", "obs", "unnamed", "x", "seq", "column"]
)
_DATE_WORDS = frozenset(
    ["date", "datum", "fecha", "data", "day", "dob", "birthdate", "dated", "collected", "received", "sampled", "taken", "visit"]
)
_YEAR_WORDS = frozenset(
    ["year", "years", "yr", "yrs", "jahr", "annee", "année", "anno", "año", "ano", "season", "vintage", "fiscal", "fy"]
)
_EXACT = 2.0**53
_WIDEST = 1 << 20


@dataclass(frozen=True)
class NumberKind:
    """The kind, whether its levels have an order that matters, and what has to be said of it."""

    kind: Kind
    ordered: bool = False
    remark: NumberRemark = "none"


_MEASURE = NumberKind("measure")
_CODES = NumberKind("category", remark="codes")
_IDENTIFIER = NumberKind("identifier", remark="codes")


def number_kind(
    name: str, unit: str | None, cells: pl.Series, numerals: Numerals, first: bool = False, days: bool = True
) -> NumberKind:
    """What a column is whose cells are numbers but for marks of missing cells; ``first`` for a table's first column. Without
    ``days`` no number is taken for a day.
    """
    known = numerals.marks == Mark.NUMBER
    numbers = numerals.numbers if known.all() else numerals.numbers[known]
    if len(numbers) == 0 or unit or bool((numerals.marks > Mark.MISSING).any()) or numerals.percent:
        return _MEASURE
    if not all(np.array_equal(piece, np.round(piece)) for piece in pieces_of(numbers)):
        if days and _days_in_series(name, numbers):
            return NumberKind("date", remark="serial dates")
        return NumberKind("category", True, "codes") if _half_steps(name, numbers) else _MEASURE
    if _any_zeros_lead(cells) and any_fits(cells, r"^0\d+$"):
        return NumberKind("identifier", remark="none" if all_fit(cells, r"^0\d+$") or _one_width(cells) else "zeros")
    if max(float(numbers.max()), -float(numbers.min())) >= _EXACT:
        return NumberKind("identifier", remark="long")
    if days and _days_in_series(name, numbers):
        return NumberKind("date", remark="serial dates")
    if days and _compact_dates(name, numbers):
        return NumberKind("date", remark="compact dates")
    return _whole_kind(name, cells, numerals, numbers, first)


def _any_zeros_lead(cells: pl.Series) -> bool:
    """Whether any cell may be a zero before other digits, which costs less to see than the digits."""
    return cells.dtype == pl.String and bool((cells.str.starts_with("0") & (cells.str.len_bytes() > 1)).any())


def _counted(whole: Floats) -> tuple[Floats, NDArray[np.int64]]:
    """The different whole numbers, rising, with how often each occurs."""
    low, high = float(whole.min()), float(whole.max())
    if high - low >= min(len(whole), _WIDEST):
        distinct, often = np.unique(whole, return_counts=True)
        return np.asarray(distinct, dtype=np.float64), np.asarray(often, dtype=np.int64)
    span = int(high - low) + 1
    if span == len(whole):
        there = np.zeros(span, dtype=np.bool_)
        for part in pieces_of(whole):
            there[(part - low).astype(np.int64)] = True
        if there.all():
            return np.arange(low, high + 1), np.broadcast_to(np.int64(1), span)
    counts = np.zeros(span, dtype=np.int64)
    for part in pieces_of(whole, span):
        counts += np.bincount((part - low).astype(np.int64), minlength=span)
    held = np.flatnonzero(counts)
    return np.asarray(held + low, dtype=np.float64), np.asarray(counts[held], dtype=np.int64)


def _whole_kind(name: str, cells: pl.Series, numerals: Numerals, numbers: Floats, first: bool) -> NumberKind:
    distinct, counts = _counted(numbers)
    few = len(distinct) <= _FEW
    if _counts_rows(name, numbers, distinct, len(cells), first):
        return _IDENTIFIER
    if _names_years(name, numbers, distinct):
        return (
            NumberKind("category", True, "years")
            if few and len(numbers) > len(distinct)
            else NumberKind("date", remark="years")
        )
    if names_unit_of_study(name) and not names_group(name) and _may_identify(name, distinct, counts):
        if len(distinct) > _FEW or len(distinct) == len(numbers):
            return _IDENTIFIER if float(distinct[0]) >= 0 else _MEASURE
        return _CODES
    if names_amount(name) and not _two_codes(distinct, name):
        return _MEASURE
    written = cells.dtype.is_float() or any_fits(cells, r"[.,]")
    if written and (cells.null_count() + sum(numerals.words.values()) == 0 or any_fits(cells, r",|\.\d*[1-9]")):
        return _MEASURE
    if names_group(name) and few and _repeats(len(numbers), counts):
        return _CODES
    return _CODES if few and _are_codes(len(numbers), distinct, counts) else _MEASURE


def _may_identify(name: str, distinct: Floats, counts: NDArray[np.int64]) -> bool:
    """Whether the numbers may be those of units. A head such as "run" or "no" counts things as often as it numbers them: then
    they must come once each or equally often, or run from 1 without a gap.
    """
    if head_of(name) not in WEAK_HEADS:
        return True
    if int(counts.min()) == int(counts.max()):
        return True
    gapless = float(distinct[-1] - distinct[0]) == len(distinct) - 1 and float(distinct[0]) == 1
    return gapless and head_of(name) not in ("no", "nr", "num", "number", "n")


def _two_codes(distinct: Floats, name: str) -> bool:
    """0 and 1 are answers even under the name of an amount ("kids": whether there are any)."""
    return len(distinct) == 2 and distinct.tolist() == [0.0, 1.0] and head_of(name) not in ("count", "number")


def _are_codes(rows: int, distinct: Floats, counts: NDArray[np.int64]) -> bool:
    low, high, many = float(distinct[0]), float(distinct[-1]), len(distinct)
    if not _repeats(rows, counts):
        return False
    uneven = float(counts.max()) / float(counts.min())
    if many == 1:
        return rows >= _ENOUGH_ROWS
    if many == 2:
        return rows >= _ENOUGH_ROWS or (low, high) in ((0.0, 1.0), (1.0, 2.0))
    if high - low == many - 1:
        if low < 0 or low > 5:
            return low == -1 and many == 3
        if low == 0 and many >= 6:
            return uneven <= 3
        return many <= 7 or uneven <= 4
    steps = np.diff(distinct)
    if rows < _ENOUGH_ROWS:
        return False
    if many <= 5 and bool((steps == steps[0]).all()) and high < 100:
        return uneven <= 6
    return many <= 6 and high < 10 and uneven <= 8


def _repeats(rows: int, counts: NDArray[np.int64]) -> bool:
    """Whether codes come back: in a table of many rows anyhow, in a small one each in several rows."""
    if rows >= _ENOUGH_ROWS:
        return True
    return rows >= 6 and int(counts.min()) >= 2 and len(counts) <= max(2, rows // 3)


def _counts_rows(name: str, numbers: Floats, distinct: Floats, rows: int, first: bool) -> bool:
    """Whether a column numbers the rows: 1 to n without a gap, or from 0 under no name or a counter's."""
    if len(distinct) != rows or len(numbers) != rows or float(distinct[-1] - distinct[0]) != rows - 1:
        return False
    words = words_of(name)
    nameless = (not words or words[0] in _COUNTER_NAMES) and len(words) <= 2
    if nameless and first and rows >= 2:
        return True
    start = float(distinct[0])
    return (start == 1 and rows >= 10) or (start == 0 and rows >= 10 and nameless)


def _names_years(name: str, numbers: Floats, distinct: Floats) -> bool:
    if float(distinct[0]) < 1500 or float(distinct[-1]) > 2200:
        return False
    words = set(words_of(name))
    if words & _YEAR_WORDS:
        return True
    return (
        len(distinct) >= 8
        and float(distinct[-1] - distinct[0]) == len(distinct) - 1
        and float(distinct[0]) >= 1700
        and float(distinct[-1]) <= 2100
        and bool((np.diff(numbers) >= 0).all())
    )


def _one_width(cells: pl.Series) -> bool:
    return cells.drop_nulls().str.len_chars().n_unique() == 1


def _half_steps(name: str, numbers: Floats) -> bool:
    """Grades in halves: 1, 1.5, 2 and so on, each with several rows."""
    distinct, counts = np.unique(numbers, return_counts=True)
    if not 3 <= len(distinct) <= _FEW or len(numbers) < _ENOUGH_ROWS or names_amount(name):
        return False
    contiguous = bool((np.diff(distinct) == 0.5).all()) and float(distinct[0]) in (0.0, 0.5, 1.0)
    return contiguous and float(counts.min()) >= 2


def _compact_dates(name: str, numbers: Floats) -> bool:
    """20260131 under the name of a date."""
    if not set(words_of(name)) & _DATE_WORDS or numbers.min() < 19_000_101 or numbers.max() > 22_001_231:
        return False
    return days_of(compact_days(numbers)).null_count() == 0


def compact_days(numbers: Floats) -> pl.Series:
    """20260131 as "2026-01-31"."""
    texts = pl.Series(numbers.astype(np.int64)).cast(pl.String)
    return texts.str.slice(0, 4) + "-" + texts.str.slice(4, 2) + "-" + texts.str.slice(6, 2)


def _days_in_series(name: str, numbers: Floats) -> bool:
    """Serial numbers of a spreadsheet's days, with parts of a day, under the name of a date."""
    return (
        bool(set(words_of(name)) & {"date", "datum", "fecha"})
        and float(numbers.min()) >= 20_000
        and float(numbers.max()) <= 80_000
    )


def serial_days(numbers: Floats) -> pl.Series:
    """Serial numbers of a spreadsheet (days since 1899-12-30) as ISO texts, with a time where they have parts."""
    seconds = np.round(numbers * 86_400).astype(np.int64) - 25_569 * 86_400
    stamps = pl.Series(seconds * 1_000).cast(pl.Datetime("ms"))
    texts = stamps.dt.strftime("%Y-%m-%d %H:%M:%S")
    return texts.str.strip_suffix(" 00:00:00")
