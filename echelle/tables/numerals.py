"""Written numbers: decimal marks, thousands, signs, limits and the marks that mean missing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.quantiles import Floats
from echelle.tables.table import Mark, code_texts

Decimal = Literal["point", "comma"]

MISSING_MARKS = frozenset(
    ["NA", "N/A", "n/a", "na", "NaN", "nan", "NULL", "null", "ND", "nd", "n.d.", "QNS", "qns", "-", "–", "—", ".", "..",
     "#N/A", "#NA", "?", "missing", "Missing", "NR"]
)  # fmt: skip

_SPACES = r"[ \u00a0\u2009\u202f']"
_NUMBER = {
    "point": r"^[+-]?(?:\d+|\d{1,3}(?:,\d{3})+)?(?:\.\d*)?(?:[eE][+-]?\d+)?$",
    "comma": r"^[+-]?(?:\d+|\d{1,3}(?:\.\d{3})+)?(?:,\d*)?(?:[eE][+-]?\d+)?$",
}
_SAMPLE = 2_000
_NUMBER_LIKE = r"^\s*(?:[<>≤≥]=?)?\s*[+\-\u2212]?[\d.,' \u00a0\u2009\u202f]*\d[\d.,]*(?:[eE][+-]?\d+)?\s*%?$"
_LIMIT = r"^(?:<=?|>=?|≤|≥)\s*"


@dataclass(frozen=True, eq=False)
class Numerals:
    """Cells read as numbers: values (NaN for none), marks, and which cells are words or another decimal mark.

    ``words`` counts the cells that are neither number nor blank, missing marks among them.
    """

    numbers: Floats
    marks: NDArray[np.int8]
    words: dict[str, int]
    odd_decimals: NDArray[np.bool_]
    percent: bool
    plain: bool

    @property
    def known(self) -> int:
        """How many cells are a number or a limit."""
        return int(np.count_nonzero(self.marks != Mark.MISSING))

    @property
    def strangers(self) -> int:
        """How many cells hold a word that is no missing mark."""
        return sum(count for word, count in self.words.items() if word not in MISSING_MARKS)


def decimal_of(columns: Iterable[pl.Series], commas: bool = True) -> tuple[Decimal, bool]:
    """The decimal mark that the file's cells settle, and whether anything did.

    "1,9", "0,998" and "1.234,5" speak for a comma; "1.9", "0.998" and "1,234.5" for a point; "1,234" for neither.
    """
    comma = point = 0
    for cells in columns:
        if not commas or not cells.str.contains(",", literal=True).any():
            # Without a comma anywhere a column can speak for a point alone, and one cell is enough to know.
            point += bool(cells.head(_SAMPLE).str.contains(r"^[+\-\u2212]?\d*\.\d+$").any())
            continue
        body = cells.drop_nulls().unique().str.replace(_LIMIT, "")
        body = body.filter(body.str.contains(rf"^[+\-\u2212]?[\d.,]*\d(?:[\d.,]|{_SPACES}\d)*(?:[eE][+-]?\d+)?%?$"))
        body = body.str.replace_all(_SPACES, "")
        comma += _speaks(body, ",", ".")
        point += _speaks(body, r"\.", ",")
    return ("comma" if comma > point else "point"), comma != point


def _speaks(body: pl.Series, mark: str, other: str) -> int:
    digits = (
        rf"^[+\-\u2212]?(?:\d*{mark}(?:\d{{1,2}}|\d{{4,}})|0{mark}\d+|\d[\d{other}]*[{other}]\d{{3}}{mark}\d*)(?:[eE%].*)?$"
    )
    return int(body.str.contains(digits).sum())


def read_numerals(cells: pl.Series, decimal: Decimal) -> Numerals:
    """Read a column of raw cells (null for blank).

    Most cells of a column of numbers are plain and are cast at once; only the others are looked at more closely, each
    distinct text once.
    """
    odd = np.zeros(len(cells), dtype=np.bool_)
    if _hopeless(cells, cells):
        values, marks = np.full(len(cells), np.nan), np.full(len(cells), Mark.MISSING, dtype=np.int8)
        return Numerals(values, marks, {str(cells.drop_nulls()[0]): len(cells) - cells.null_count()}, odd, False, False)
    values = _direct(cells, decimal)
    finite = np.isfinite(values)
    marks = np.where(finite, np.int8(Mark.NUMBER), np.int8(Mark.MISSING))
    places = np.flatnonzero(~finite & cells.is_not_null().to_numpy())
    values[~finite] = np.nan
    words: dict[str, int] = {}
    percent = False
    if len(places):
        rest = cells.gather(places)
        if _hopeless(rest, cells):
            words = {str(rest[0]): len(places)}
        else:
            keys, texts = code_texts(rest)
            parsed = _parse(texts, decimal)
            values[places], marks[places], odd[places] = parsed.values[keys], parsed.marks[keys], parsed.odd[keys]
            percent = parsed.percent
            counts = np.bincount(keys, minlength=len(texts))
            words = {str(texts[int(i)]): int(counts[i]) for i in np.flatnonzero(parsed.marks == Mark.MISSING)}
    values += 0.0
    return Numerals(values, marks, words, odd, percent, plain=len(places) == 0)


def _direct(cells: pl.Series, decimal: Decimal) -> Floats:
    """Plain numbers cast at once; not finite for everything that needs a closer look."""
    if decimal == "comma":
        pointed = cells.str.contains(".", literal=True)
        cells = pl.select(pl.when(~pointed).then(cells.str.replace(",", ".", literal=True))).to_series()
    return cells.cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy(writable=True)


def _hopeless(rest: pl.Series, cells: pl.Series) -> bool:
    """Whether a sample says that a column is one of words, so that nobody need look at each of them."""
    if len(rest) <= _SAMPLE or len(rest) - rest.null_count() < (len(cells) - cells.null_count()) * 0.5:
        return False
    sample = rest.gather_every(max(1, len(rest) // _SAMPLE)).drop_nulls()
    return len(sample) > 0 and not sample.str.contains(_NUMBER_LIKE).any()


@dataclass(frozen=True, eq=False)
class _Parsed:
    values: Floats
    marks: NDArray[np.int8]
    odd: NDArray[np.bool_]
    percent: bool


def _parse(cells: pl.Series, decimal: Decimal) -> _Parsed:
    """Texts that are no plain number: limits, percents, thousands, other minus signs, the other decimal mark."""
    plain = cells.str.replace_all("\u2212", "-")
    is_limit = plain.str.contains(_LIMIT)
    below = plain.str.contains(r"^[<≤]").to_numpy()
    body = plain.str.replace(_LIMIT, "")
    percent = body.str.contains(r"\d\s*%$")
    body = body.str.replace(r"\s*%$", "")
    body = pl.select(
        pl.when(body.str.contains(rf"^[+-]?\d{{1,3}}(?:{_SPACES}\d{{3}})+(?:[.,]\d*)?$"))
        .then(body.str.replace_all(_SPACES, ""))
        .otherwise(body)
    ).to_series()
    absent = cells.is_in(list(MISSING_MARKS))
    numbers = pl.select(pl.when(~absent).then(_cast(body, decimal))).to_series()
    others = _cast(body, "point" if decimal == "comma" else "comma")
    odd = (numbers.is_null() & others.is_not_null() & ~absent).to_numpy()
    numbers = pl.select(pl.when(pl.Series(odd)).then(others).otherwise(numbers)).to_series()
    known = numbers.is_not_null().to_numpy()
    marks = np.where(known, Mark.NUMBER, Mark.MISSING).astype(np.int8)
    limits = is_limit.to_numpy() & known
    marks[limits] = np.where(below[limits], Mark.BELOW, Mark.ABOVE)
    return _Parsed(numbers.fill_null(float("nan")).to_numpy(), marks, odd, bool((percent & pl.Series(known)).any()))


def _cast(body: pl.Series, decimal: Decimal) -> pl.Series:
    fits = body.str.contains(_NUMBER[decimal]) & body.str.contains(r"\d")
    group, mark = (",", ".") if decimal == "point" else (r"\.", ",")
    bare = body.str.replace_all(group, "")
    if mark == ",":
        bare = bare.str.replace(",", ".", literal=True)
    return pl.select(pl.when(fits).then(bare.cast(pl.Float64, strict=False))).to_series()
