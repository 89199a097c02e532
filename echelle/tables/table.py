"""A table as read: typed columns over the raw records."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from difflib import get_close_matches
from enum import IntEnum
from functools import cached_property
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.numbers.quantiles import Floats

Kind = Literal["measure", "category", "identifier", "date", "yes/no", "text"]


class Mark(IntEnum):
    """What one cell of a measure holds besides its number."""

    NUMBER = 0
    MISSING = 1
    BELOW = 2
    ABOVE = 3


def coded(texts: pl.Series) -> tuple[NDArray[np.int32], tuple[str, ...]]:
    """Each text's place among the distinct ones, −1 for null; and those, in the order of first appearance.

    By Arrow's dictionaries: polars' own categories share a registry that threads can lock one another out of.
    """
    found = texts.to_arrow().dictionary_encode()
    codes = found.indices.fill_null(-1).to_numpy(zero_copy_only=False).astype(np.int32)
    return codes, tuple(found.dictionary.to_pylist())


@dataclass(frozen=True)
class Remark:
    """A guess or an irregularity that the reader met; ``line`` counts the file's lines from 1."""

    text: str
    column: str | None = None
    line: int | None = None


@dataclass(frozen=True, eq=False)
class Column:
    """One column: what was written in each record, and what it means.

    ``texts`` holds the raw cell of each record, null where it is blank. A measure adds ``numbers`` (float64, shape
    (rows,), NaN where there is none, the limit where the cell is one) and ``marks`` (int8, :class:`Mark`).
    ``absent`` counts missing cells by how they were written ("" for a blank). ``length`` is set in a table of one column
    a group: what lies below that many records is padding.
    """

    name: str
    kind: Kind
    texts: pl.Series
    unit: str | None = None
    ordered: bool = False
    absent: dict[str, int] = field(default_factory=dict)
    numbers: Floats | None = None
    marks: NDArray[np.int8] | None = None
    length: int | None = None

    @property
    def heading(self) -> str:
        """Name with unit, as a reader sees it."""
        return f"{self.name} ({self.unit})" if self.unit else self.name

    @cached_property
    def _coded(self) -> tuple[NDArray[np.int32], tuple[str, ...]]:
        texts = self.texts
        if self.absent:
            texts = texts.set(texts.is_in(list(self.absent)), None)
        return coded(texts)

    @property
    def codes(self) -> NDArray[np.int32]:
        """Each record's place in :attr:`levels`, −1 where it has none; shape (rows,)."""
        return self._coded[0]

    @property
    def levels(self) -> tuple[str, ...]:
        """The distinct values, in the order of first appearance."""
        return self._coded[1]

    @property
    def missing(self) -> int:
        """How many records have no value."""
        return sum(self.absent.values())

    @property
    def censored(self) -> int:
        """How many cells are a limit ("<0.4") and not a number."""
        return 0 if self.marks is None else int(np.count_nonzero(self.marks >= Mark.BELOW))


@dataclass(frozen=True, eq=False)
class Table:
    """Columns over the same records; record i has row id i + 1."""

    columns: tuple[Column, ...]
    rows: int

    @cached_property
    def _places(self) -> dict[str, Column]:
        return {spelling: c for c in reversed(self.columns) for spelling in (c.heading, c.name)}

    def column(self, name: str, *, where: str = "") -> Column:
        """The column of that name, with or without its unit.

        Raises InputError naming the nearest columns where there is none.
        """
        found = self._places.get(name)
        if found is None:
            near = get_close_matches(name, [c.name for c in self.columns], n=3, cutoff=0.4)
            names = near or [c.name for c in self.columns[:8]]
            quoted = ", ".join(f"“{n}”" for n in names)
            raise InputError(
                f"the table has no column “{name}”",
                where=where,
                remedy=f"{'Nearest' if near else 'It has'}: {quoted}.",
            )
        return found

    def measures(self) -> Iterable[Column]:
        """The columns of numbers."""
        return (c for c in self.columns if c.kind == "measure")
