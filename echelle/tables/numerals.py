"""Written numbers: decimal marks, thousands, signs, limits and the marks that mean missing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.quantiles import Floats
from echelle.tables.missing_marks import MISSING_MARKS, is_missing_mark
from echelle.tables.spellings import Spelling, read_spelling
from echelle.tables.table import Mark, code_texts

Decimal = Literal["point", "comma"]

_SPACES = r"[ \u00a0\u2009\u202f'’]"
# A group of thousands never begins with a zero: "0.375" is no 375.
_NUMBER = {
    "point": r"^[+-]?(?:\d+|[1-9]\d{0,2}(?:,\d{3})+)?(?:\.\d*)?(?:[eE][+-]?\d+)?$",
    "comma": r"^[+-]?(?:\d+|[1-9]\d{0,2}(?:\.\d{3})+)?(?:,\d*)?(?:[eE][+-]?\d+)?$",
}
_SAMPLE = 2_000
_NUMBER_LIKE = r"^\s*(?:[<>≤≥]=?)?\s*[+\-\u2212]?[\d.,' \u00a0\u2009\u202f]*\d[\d.,]*(?:[eE][+-]?\d+)?\s*%?$"
_LIMIT = r"^(?:<=?|>=?|≤|≥|=<|=>)\s*"
_MOST_SPELLINGS = 20_000


@dataclass(frozen=True, eq=False, kw_only=True)
class Numerals:
    """Cells read as numbers: values (NaN for none), marks, and which cells are words or another decimal mark.

    ``words`` counts the cells that are neither number nor blank, missing marks among them. ``spellings`` counts the numbers
    written in an unusual way, each way with an example and the place of its first cell.
    """

    numbers: Floats
    marks: NDArray[np.int8]
    words: dict[str, int]
    odd_decimals: NDArray[np.bool_]
    percent: bool = False
    plain: bool = False
    spellings: Mapping[Spelling, tuple[int, int]] = field(default_factory=dict)
    unit: str | None = None

    @property
    def known(self) -> int:
        """How many cells are a number or a limit."""
        return int(np.count_nonzero(self.marks != Mark.MISSING))

    @property
    def strangers(self) -> dict[str, int]:
        """The words that are no missing mark, each with its cells."""
        return {word: count for word, count in self.words.items() if not is_missing_mark(word)}


@dataclass(frozen=True)
class DecimalEvidence:
    """How many cells of a column can be read with a decimal comma only, and with a decimal point only."""

    comma: int
    point: int


def evidence_of(cells: pl.Series, commas: bool = True) -> DecimalEvidence:
    """What a column's cells say of the decimal mark.

    "1,9", "0,998" and "1.234,5" speak for a comma; "1.9", "0.998" and "1,234.5" for a point; "1,234" for neither.
    """
    if not commas or not cells.str.contains(",", literal=True).any():
        # Without a comma a column can speak for a point alone, and its start is enough to know.
        point = cells.head(_SAMPLE).str.contains(
            r"^[+\-\u2212]?(?:\d*\.(?:\d{1,2}|\d{4,})|0?\.\d+|\d{4,}\.\d+)(?:[eE][+-]?\d+)?$"
        )
        return DecimalEvidence(0, int(point.sum()))
    body = cells.drop_nulls().str.replace(_LIMIT, "")
    body = body.filter(body.str.contains(rf"^[+\-\u2212]?[\d.,]*\d(?:[\d.,]|{_SPACES}\d)*(?:[eE][+-]?\d+)?%?$"))
    body = body.str.replace_all(_SPACES, "")
    return DecimalEvidence(_speaks(body, ",", "."), _speaks(body, r"\.", ","))


def decimal_of(evidence: Iterable[DecimalEvidence]) -> tuple[Decimal, bool]:
    """The decimal mark that a file's columns settle, and whether anything did. A column has one voice, for the mark that most
    of its cells need; where as many speak for each, the cells are counted.
    """
    listed = list(evidence)
    comma = sum(column.comma > column.point for column in listed)
    point = sum(column.point > column.comma for column in listed)
    if comma == point:
        comma, point = sum(column.comma for column in listed), sum(column.point for column in listed)
    return ("comma" if comma > point else "point"), comma != point


def decimal_of_column(evidence: DecimalEvidence, decimal: Decimal) -> Decimal:
    """A column's own mark where its cells need another one than the file's."""
    own = evidence.comma if decimal == "point" else evidence.point
    files = evidence.point if decimal == "point" else evidence.comma
    other: Decimal = "comma" if decimal == "point" else "point"
    return other if own > files and own > 1 else decimal


def _speaks(body: pl.Series, mark: str, other: str) -> int:
    digits = (
        rf"^[+\-\u2212]?(?:\d*{mark}(?:\d{{1,2}}|\d{{4,}})|0{mark}\d+|\d{{4,}}{mark}\d+|\d[\d{other}]*[{other}]\d{{3}}{mark}\d*)"
        r"(?:[eE%].*)?$"
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
        words = {str(cells.drop_nulls()[0]): len(cells) - cells.null_count()}
        return Numerals(numbers=values, marks=marks, words=words, odd_decimals=odd)
    values = _direct(cells, decimal)
    finite = np.isfinite(values)
    marks = np.where(finite, np.int8(Mark.NUMBER), np.int8(Mark.MISSING))
    places = np.flatnonzero(~finite & cells.is_not_null().to_numpy())
    values[~finite] = np.nan
    if len(places) == 0:
        values += 0.0
        return Numerals(numbers=values, marks=marks, words={}, odd_decimals=odd, plain=True)
    rest = cells.gather(places)
    if _hopeless(rest, cells):
        values += 0.0
        return Numerals(numbers=values, marks=marks, words={str(rest[0]): len(places)}, odd_decimals=odd)
    keys, texts = code_texts(rest)
    parsed = _parse(texts, decimal)
    ways, unit = _spell(texts, parsed, decimal)
    values[places], marks[places], odd[places] = parsed.values[keys], parsed.marks[keys], parsed.odd[keys]
    counts = np.bincount(keys, minlength=len(texts))
    spellings: dict[Spelling, tuple[int, int]] = {}
    for way, members in ways.items():
        held = np.isin(keys, members)
        spellings[way] = (int(held.sum()), int(places[int(np.flatnonzero(held)[0])]))
    words = {str(texts[int(i)]): int(counts[i]) for i in np.flatnonzero(parsed.marks == Mark.MISSING)}
    values += 0.0
    return Numerals(
        numbers=values, marks=marks, words=words, odd_decimals=odd, percent=parsed.percent, spellings=spellings, unit=unit
    )


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


@dataclass(eq=False)
class _Parsed:
    values: Floats
    marks: NDArray[np.int8]
    odd: NDArray[np.bool_]
    percent: bool


def _parse(cells: pl.Series, decimal: Decimal) -> _Parsed:
    """Texts that are no plain number: limits, percents, thousands, other minus signs, the other decimal mark."""
    plain = cells.str.replace_all("\u2212", "-")
    is_limit = plain.str.contains(_LIMIT)
    below = plain.str.contains(r"^(?:<|≤|=<)").to_numpy()
    body = plain.str.replace(_LIMIT, "")
    percent = body.str.contains(r"\d\s*%$")
    body = body.str.replace(r"\s*%$", "")
    body = pl.select(
        pl.when(body.str.contains(rf"^[+-]?[1-9]\d{{0,2}}(?:{_SPACES}\d{{3}})+(?:[.,]\d*)?$"))
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
    return _Parsed(
        numbers.fill_null(float("nan")).to_numpy(writable=True), marks, odd, bool((percent & pl.Series(known)).any())
    )


def _spell(texts: pl.Series, parsed: _Parsed, decimal: Decimal) -> tuple[dict[Spelling, list[int]], str | None]:
    """Read what is still unknown by its spelling, into ``parsed``; which texts are written in which way, and the one unit that
    all cells with a unit share.
    """
    ways: dict[Spelling, list[int]] = {}
    units: set[str] = set()
    for place in np.flatnonzero(parsed.marks == Mark.MISSING)[:_MOST_SPELLINGS]:
        text = str(texts[int(place)])
        if is_missing_mark(text):
            continue
        result = read_spelling(text)
        if result is None:
            continue
        value = _parse(pl.Series([result.body]), decimal)
        if value.marks[0] == Mark.MISSING or value.odd[0]:
            continue
        if result.spelling == "unit":
            units.add(result.unit)
        parsed.values[place], parsed.marks[place] = value.values[0], value.marks[0]
        ways.setdefault(result.spelling, []).append(int(place))
    for place in np.flatnonzero(texts.str.contains(r"^(?:[<>≤≥]=?\s*)?[+-]?\d{1,3}(?:['’]\d{3})+").to_numpy()):
        ways.setdefault("thousands", []).append(int(place))
    if len(units) > 1:
        # Amounts in several units are no one measure: their cells stay words, which the column's kind weighs.
        for place in ways.pop("unit"):
            parsed.values[place], parsed.marks[place] = np.nan, np.int8(Mark.MISSING)
    return ways, units.pop() if len(units) == 1 else None


def _cast(body: pl.Series, decimal: Decimal) -> pl.Series:
    fits = body.str.contains(_NUMBER[decimal]) & body.str.contains(r"\d")
    group, mark = (",", ".") if decimal == "point" else (r"\.", ",")
    bare = body.str.replace_all(group, "")
    if mark == ",":
        bare = bare.str.replace(",", ".", literal=True)
    cast = bare.cast(pl.Float64, strict=False)
    return pl.select(pl.when(fits & cast.is_finite()).then(cast)).to_series()
