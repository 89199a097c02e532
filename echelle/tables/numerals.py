"""Written numbers: decimal marks, thousands, signs, limits and the marks that mean missing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.quantiles import Floats
from echelle.tables.table import Mark

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
_LIMIT = r"^(?:<=?|>=?|≤|≥)\s*"


@dataclass(frozen=True, eq=False)
class Numerals:
    """Cells read as numbers: values (NaN for none), marks, and which cells are words or another decimal mark."""

    numbers: Floats
    marks: NDArray[np.int8]
    words: pl.Series
    odd_decimals: NDArray[np.bool_]
    percent: bool


def decimal_of(columns: Iterable[pl.Series]) -> tuple[Decimal, bool]:
    """The decimal mark that the file's cells settle, and whether anything did.

    "1,9", "0,998" and "1.234,5" speak for a comma; "1.9", "0.998" and "1,234.5" for a point; "1,234" for neither.
    """
    comma = point = 0
    for cells in columns:
        body = cells.drop_nulls().str.replace(_LIMIT, "")
        body = body.filter(body.str.contains(r"^[+\-\u2212]?[\d.,]*\d[\d.,]*(?:[eE][+-]?\d+)?%?$"))
        comma += _speaks(body, ",", ".")
        point += _speaks(body, r"\.", ",")
    return ("comma" if comma > point else "point"), comma != point


def _speaks(body: pl.Series, mark: str, other: str) -> int:
    digits = (
        rf"^[+\-\u2212]?(?:\d*{mark}(?:\d{{1,2}}|\d{{4,}})|0{mark}\d+|\d[\d{other}]*[{other}]\d{{3}}{mark}\d*)(?:[eE%].*)?$"
    )
    return int(body.str.contains(digits).sum())


def read_numerals(cells: pl.Series, decimal: Decimal) -> Numerals:
    """Read a column of raw cells (null for blank)."""
    plain = cells.str.replace_all("\u2212", "-")
    is_limit = plain.str.contains(_LIMIT).fill_null(False)
    below = (plain.str.contains(r"^[<≤]")).fill_null(False).to_numpy()
    body = plain.str.replace(_LIMIT, "")
    percent = body.str.contains(r"\d\s*%$").fill_null(False)
    body = body.str.replace(r"\s*%$", "")
    body = pl.select(
        pl.when(body.str.contains(rf"^[+-]?\d{{1,3}}(?:{_SPACES}\d{{3}})+(?:[.,]\d*)?$"))
        .then(body.str.replace_all(_SPACES, ""))
        .otherwise(body)
    ).to_series()
    absent = cells.is_null() | cells.is_in(list(MISSING_MARKS))
    numbers = _cast(body, decimal)
    odd = np.zeros(len(cells), dtype=np.bool_)
    open_cells = numbers.is_null() & ~absent
    if open_cells.any():
        others = _cast(body, "point" if decimal == "comma" else "comma").filter(open_cells)
        if others.drop_nulls().len():
            places = np.flatnonzero(open_cells.to_numpy())
            odd[places[others.is_not_null().to_numpy()]] = True
            numbers = numbers.scatter(places, others)
    values = numbers.fill_null(float("nan")).to_numpy().copy()
    known = numbers.is_not_null().to_numpy()
    marks = np.where(known, Mark.NUMBER, Mark.MISSING).astype(np.int8)
    limits = is_limit.to_numpy() & known
    marks[limits] = np.where(below[limits], Mark.BELOW, Mark.ABOVE)
    values[values == 0.0] = 0.0
    words = cells.filter(pl.Series(~known) & ~absent)
    return Numerals(values, marks, words, odd, bool(percent.sum() > 0))


def _cast(body: pl.Series, decimal: Decimal) -> pl.Series:
    fits = body.str.contains(_NUMBER[decimal]) & body.str.contains(r"\d")
    group, mark = (",", ".") if decimal == "point" else (r"\.", ",")
    bare = body.str.replace_all(group, "")
    if mark == ",":
        bare = bare.str.replace(",", ".", literal=True)
    cast = bare.cast(pl.Float64, strict=False)
    return pl.select(pl.when(fits).then(cast)).to_series()
