"""Written numbers: decimal marks, thousands, signs, limits and the marks that mean missing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.sample import Floats
from echelle.tables.coding import code_texts
from echelle.tables.missing_marks import MISSING_MARKS, is_missing_mark
from echelle.tables.spellings import Spelling, read_spelling
from echelle.tables.table import Mark
from echelle.tables.text_search import any_fits, count_fits

Decimal = Literal["point", "comma"]

_SPACES = r"[ \u00a0\u2009\u202f'’]"
# A group of thousands never begins with a zero: "0.375" is no 375.
_NUMBER = {
    "point": r"^[+-]?(?:\d+|[1-9]\d{0,2}(?:,\d{3})+)?(?:\.\d*)?(?:[eE][+-]?\d+)?$",
    "comma": r"^[+-]?(?:\d+|[1-9]\d{0,2}(?:\.\d{3})+)?(?:,\d*)?(?:[eE][+-]?\d+)?$",
}
_SAMPLE = 2_000
_ASKED = 20_000
_NUMBER_LIKE = r"^\s*(?:[<>≤≥]=?)?\s*[+\-\u2212]?[\d.,' \u00a0\u2009\u202f]*\d[\d.,]*(?:[eE][+-]?\d+)?\s*%?$"
_UNCLEAR = r"^[+\-\u2212]?[1-9]\d{0,2}\.\d{3}$"
_POINTED = r"^[+\-\u2212]?(?:\d*\.(?:\d{1,2}|\d{4,})|0?\.\d+|\d{4,}\.\d+)(?:[eE][+-]?\d+)?$"
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
    spellings: Mapping[Spelling, tuple[int, int]] = field(default_factory=dict)
    unit: str | None = None

    @cached_property
    def known(self) -> int:
        """How many cells are a number or a limit."""
        return int(np.count_nonzero(self.marks != Mark.MISSING)) if self.marks.any() else len(self.marks)

    @property
    def strangers(self) -> dict[str, int]:
        """The words that are no missing mark, each with its cells."""
        return {word: count for word, count in self.words.items() if not is_missing_mark(word)}


@dataclass(frozen=True)
class DecimalEvidence:
    """How many cells of a column need a decimal comma, how many a decimal point, and how many hold one point that may also
    stand before thousands ("48.842").
    """

    comma: int
    point: int
    unclear: int = 0


def evidence_of(cells: pl.Series, commas: bool = True) -> DecimalEvidence:
    """What a column's cells say of the decimal mark.

    "1,9", "0,998" and "1.234,5" speak for a comma; "1.9", "0.998" and "1,234.5" for a point; "1,234" for neither. Of a
    long column cells all over it are asked.
    """
    if cells.dtype != pl.String:
        return DecimalEvidence(0, int(cells.dtype.is_float()))
    if len(cells) > _ASKED:
        cells = cells.gather_every(len(cells) // _ASKED + 1)
    if not commas or not any_fits(cells, ","):
        # Without a comma a column can speak for a point alone, and its start is enough to know.
        start = cells.head(_SAMPLE)
        return DecimalEvidence(0, count_fits(start, _POINTED), count_fits(start, _UNCLEAR))
    body = cells.drop_nulls().str.replace(_LIMIT, "")
    body = body.filter(body.str.contains(rf"^[+\-\u2212]?[\d.,]*\d(?:[\d.,]|{_SPACES}\d)*(?:[eE][+-]?\d+)?%?$"))
    body = body.str.replace_all(_SPACES, "")
    return DecimalEvidence(_speaks(body, ",", "."), _speaks(body, r"\.", ","))


def decimal_of(evidence: Iterable[DecimalEvidence], commas_separate: bool = False) -> tuple[Decimal, bool]:
    """The decimal mark that a file's columns settle, and whether anything did. A column has one voice, for the mark that most
    of its cells need; where as many speak for each, the cells are counted. Where ``commas_separate`` the cells, a point is
    taken for a decimal point.
    """
    listed = list(evidence)
    comma = sum(column.comma > column.point for column in listed)
    point = sum(
        column.point > column.comma or (commas_separate and column.unclear > 0 and column.comma == 0) for column in listed
    )
    if commas_separate and comma == point and any(column.point or column.unclear for column in listed):
        return "point", True
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
    """Read a column of raw cells (null for blank), texts or numbers.

    Most cells of a column of numbers are plain and are cast at once; only the others are looked at more closely, each
    distinct text once.
    """
    return read_columns([cells], [decimal])[0]


def read_columns(columns: Sequence[pl.Series], decimals: Sequence[Decimal]) -> list[Numerals]:
    """Read columns, each by its decimal mark. What needs a closer look is looked at once for all of them, which makes wide
    tables as quick as long ones.
    """
    starts = [_Start.of(cells, decimal) for cells, decimal in zip(columns, decimals, strict=True)]
    known: dict[Decimal, _Parsed] = {}
    for decimal in dict.fromkeys(decimals):
        texts = [start.texts for start, own in zip(starts, decimals, strict=True) if own == decimal and start.texts is not None]
        if texts:
            together = pl.concat(texts).unique(maintain_order=True) if len(texts) > 1 else texts[0]
            known[decimal] = _parse(together, decimal)
    return [start.numerals(known.get(decimal)) for start, decimal in zip(starts, decimals, strict=True)]


@dataclass(eq=False)
class _Start:
    """A column after its plain numbers were cast: the rest by ``places``, coded by ``keys`` into ``texts``."""

    values: Floats
    marks: NDArray[np.int8]
    words: dict[str, int]
    places: NDArray[np.intp] | None = None
    keys: NDArray[np.int32] | None = None
    texts: pl.Series | None = None

    @staticmethod
    def of(cells: pl.Series, decimal: Decimal) -> _Start:
        """Cast what is plain."""
        if cells.dtype != pl.String:
            floats = cells.cast(pl.Float64)
            numbers = (floats.fill_null(np.nan) if cells.null_count() else floats).to_numpy()
            if cells.dtype.is_float():
                numbers = numbers + 0.0  # a zero below 0 becomes one like any other
            if not cells.null_count():
                return _Start(numbers, np.zeros(len(numbers), dtype=np.int8), {})
            return _Start(numbers, np.where(np.isnan(numbers), np.int8(Mark.MISSING), np.int8(Mark.NUMBER)), {})
        if _hopeless(cells, cells):
            # Without memory: nobody changes them.
            values, marks = np.broadcast_to(np.nan, len(cells)), np.broadcast_to(np.int8(Mark.MISSING), len(cells))
            return _Start(values, marks, {str(cells.drop_nulls()[0]): len(cells) - cells.null_count()})
        values = _direct(cells, decimal)
        finite = np.isfinite(values)
        if finite.all():
            negative_zeros = np.signbit(values) & (values == 0)
            return _Start(values + 0.0 if negative_zeros.any() else values, np.zeros(len(cells), dtype=np.int8), {})
        marks = np.where(finite, np.int8(Mark.NUMBER), np.int8(Mark.MISSING))
        places = np.flatnonzero(~finite & cells.is_not_null().to_numpy())
        values = np.where(finite, values, np.nan) + 0.0
        if len(places) == 0:
            return _Start(values, marks, {})
        rest = cells.gather(places)
        if _hopeless(rest, cells):
            return _Start(values, marks, {str(rest[0]): len(places)})
        keys, texts = code_texts(rest)
        return _Start(values, marks, {}, places, keys, texts)

    def numerals(self, parsed: _Parsed | None) -> Numerals:
        """The column's numbers, with what was read of the rest."""
        if parsed is None or self.places is None or self.keys is None or self.texts is None:
            none = np.broadcast_to(np.False_, len(self.values))
            return Numerals(numbers=self.values, marks=self.marks, words=self.words, odd_decimals=none)
        own = parsed.of(self.texts)
        units = {own.units[place] for place in own.spellings if own.spellings[place] == "unit"}
        if len(units) > 1:
            own = own.without("unit")  # amounts in several units are no one measure: their cells stay words
        self.values[self.places], self.marks[self.places] = own.values[self.keys] + 0.0, own.marks[self.keys]
        odd = np.zeros(len(self.values), dtype=np.bool_)
        odd[self.places] = own.odd[self.keys]
        counts = np.bincount(self.keys, minlength=len(self.texts))
        spellings: dict[Spelling, tuple[int, int]] = {}
        for text, way in own.spellings.items():
            first = int(self.places[int(np.argmax(self.keys == text))])
            count, place = spellings.get(way, (0, first))
            spellings[way] = (count + int(counts[text]), min(place, first))
        missing = np.flatnonzero(own.marks == Mark.MISSING)
        return Numerals(
            numbers=self.values,
            marks=self.marks,
            words={str(self.texts[int(i)]): int(counts[i]) for i in missing},
            odd_decimals=odd,
            percent=bool(own.percent.any()),
            spellings=spellings,
            unit=units.pop() if len(units) == 1 else None,
        )


def _direct(cells: pl.Series, decimal: Decimal) -> Floats:
    """Plain numbers cast at once; not finite for everything that needs a closer look."""
    if decimal == "comma":
        pointed = cells.str.contains(".", literal=True)
        cells = pl.select(pl.when(~pointed).then(cells.str.replace(",", ".", literal=True))).to_series()
    return np.asarray(cells.cast(pl.Float64, strict=False).to_numpy(), dtype=np.float64)


def _hopeless(rest: pl.Series, cells: pl.Series) -> bool:
    """Whether a sample says that a column is one of words, so that nobody need look at each of them."""
    if len(rest) <= _SAMPLE or len(rest) - rest.null_count() < (len(cells) - cells.null_count()) * 0.5:
        return False
    sample = rest.gather_every(max(1, len(rest) // _SAMPLE)).drop_nulls()
    return len(sample) > 0 and not sample.str.contains(_NUMBER_LIKE).any()


@dataclass(eq=False)
class _Parsed:
    """Distinct texts read as numbers; ``spellings`` and ``units`` by the place of a text that is written in an unusual way."""

    texts: pl.Series
    values: Floats
    marks: NDArray[np.int8]
    odd: NDArray[np.bool_]
    percent: NDArray[np.bool_]
    spellings: dict[int, Spelling] = field(default_factory=dict)
    units: dict[int, str] = field(default_factory=dict)

    @cached_property
    def _places(self) -> dict[str, int]:
        return {text: place for place, text in enumerate(self.texts.to_list())}

    def of(self, texts: pl.Series) -> _Parsed:
        """The part that holds some of the texts."""
        if texts is self.texts:
            return self
        places = np.array([self._places[text] for text in texts.to_list()], dtype=np.intp)
        new = {old: place for place, old in enumerate(places.tolist()) if old in self.spellings}
        return _Parsed(
            texts, self.values[places], self.marks[places], self.odd[places], self.percent[places],
            {new[old]: self.spellings[old] for old in new}, {new[old]: self.units[old] for old in new if old in self.units},
        )  # fmt: skip

    def without(self, spelling: Spelling) -> _Parsed:
        """The texts in one spelling as words."""
        here = [place for place, way in self.spellings.items() if way == spelling]
        values, marks = self.values.copy(), self.marks.copy()
        values[here], marks[here] = np.nan, Mark.MISSING
        left = {place: way for place, way in self.spellings.items() if way != spelling}
        return replace(self, values=values, marks=marks, spellings=left)


def _parse(cells: pl.Series, decimal: Decimal) -> _Parsed:
    """Distinct texts that are no plain number: limits, percents, thousands, other minus signs, the other decimal mark; what is
    still unknown then, by its spelling.
    """
    parsed = _parse_plain(cells, decimal)
    unknown = np.flatnonzero(parsed.marks == Mark.MISSING)[:_MOST_SPELLINGS]
    spelled = [
        (int(place), result)
        for place in unknown
        if not is_missing_mark(text := str(cells[int(place)])) and (result := read_spelling(text)) is not None
    ]
    if spelled:
        bodies = _parse_plain(pl.Series([result.body for _, result in spelled], dtype=pl.String), decimal)
        for at, (place, result) in enumerate(spelled):
            if bodies.marks[at] == Mark.MISSING or bodies.odd[at]:
                continue
            parsed.values[place], parsed.marks[place] = bodies.values[at], bodies.marks[at]
            parsed.spellings[place] = result.spelling
            parsed.units[place] = result.unit
    for grouped in cells.str.contains(r"^(?:[<>≤≥]=?\s*)?[+-]?\d{1,3}(?:['’]\d{3})+").arg_true().to_list():
        parsed.spellings[grouped] = "thousands"
    return parsed


def _parse_plain(cells: pl.Series, decimal: Decimal) -> _Parsed:
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
    values = numbers.fill_null(float("nan")).to_numpy(writable=True)
    return _Parsed(cells, values, marks, odd, percent.to_numpy() & known)


def _cast(body: pl.Series, decimal: Decimal) -> pl.Series:
    fits = body.str.contains(_NUMBER[decimal]) & body.str.contains(r"\d")
    group, mark = (",", ".") if decimal == "point" else (r"\.", ",")
    bare = body.str.replace_all(group, "")
    if mark == ",":
        bare = bare.str.replace(",", ".", literal=True)
    cast = bare.cast(pl.Float64, strict=False)
    return pl.select(pl.when(fits & cast.is_finite()).then(cast)).to_series()
