"""What a formula computes with: numbers, words, dates and truths over the rows of a table."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.sample import Floats
from echelle.tables.column_builders import measure_of, words_of
from echelle.tables.table import Column, Mark

ValueKind = Literal["number", "text", "date", "truth"]


@dataclass(frozen=True, eq=False)
class Value:
    """Values over rows: ``numbers`` (float64, NaN missing; a truth is 0 or 1) or ``texts`` (null missing; dates as ISO).

    Shape (rows,), or (1,) for what is the same in every row.
    """

    kind: ValueKind
    numbers: Floats | None = None
    texts: pl.Series | None = None

    @property
    def missing(self) -> NDArray[np.bool_]:
        """Where there is no value."""
        if self.numbers is not None:
            return np.isnan(self.numbers)
        assert self.texts is not None
        return self.texts.is_null().to_numpy()


def number(value: float | Floats) -> Value:
    """A number, the same everywhere or one a row."""
    return Value("number", numbers=np.atleast_1d(np.asarray(value, dtype=np.float64)))


def text(values: pl.Series) -> Value:
    """Words."""
    return Value("text", texts=values)


def truth(held: NDArray[np.bool_], known: NDArray[np.bool_] | None = None) -> Value:
    """Truths, missing where not known."""
    numbers = held.astype(np.float64)
    return Value("truth", numbers=numbers if known is None else np.where(known, numbers, np.nan))


def value_of(column: Column) -> Value:
    """A column's values. A limit ("<0.4") has no number here and counts as missing."""
    if column.numbers is not None and column.marks is not None:
        return number(np.where((column.marks == Mark.NUMBER) & np.isfinite(column.numbers), column.numbers, np.nan))
    texts = column.texts.set(pl.Series(~column.present), None)
    return Value("date" if column.kind == "date" else "text", texts=texts)


def column_from(name: str, value: Value, rows: int, unit: str | None) -> Column:
    """A value as a column of its own."""
    if value.kind == "number" and value.numbers is not None:
        return measure_of(name, np.broadcast_to(value.numbers, (rows,)).copy(), unit)
    if value.kind == "truth" and value.numbers is not None:
        held = np.broadcast_to(value.numbers, (rows,))
        texts = pl.Series(np.where(held == 1, "yes", "no"), dtype=pl.String).set(pl.Series(np.isnan(held)), None)
        return words_of(name, "yes/no", texts)
    assert value.texts is not None
    texts = value.texts if len(value.texts) == rows else pl.Series([value.texts[0]] * rows, dtype=pl.String)
    return words_of(name, "date" if value.kind == "date" else "category", texts)
