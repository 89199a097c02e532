"""A table as read: typed columns over the raw records."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from difflib import get_close_matches
from enum import IntEnum
from functools import cached_property
from typing import Any, Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.catalogue.catalogue import MessageValue, catalogue
from echelle.errors import InputError
from echelle.numbers.sample import Cells, Counts, Floats, Sample, tally_of
from echelle.tables.coding import Coded, code_texts, written
from echelle.tables.gathered import Gathered, Rows

Kind = Literal["measure", "category", "identifier", "date", "yes/no", "text"]


class Mark(IntEnum):
    """What one cell of a measure holds besides its number."""

    NUMBER = 0
    MISSING = 1
    BELOW = 2
    ABOVE = 3


class StandInState(IntEnum):
    """Whether a number stands for a limit ("<0.4"), or was computed from one that does."""

    NOT = 0
    ITSELF = 1
    COMPUTED = 2


@dataclass(frozen=True)
class Remedy:
    """What undoes a guess, as a message of the catalogue with its values: another way to read the file (``options``) or steps
    of the preparation, as records.
    """

    message: str
    values: Mapping[str, MessageValue] = field(default_factory=dict)
    options: dict[str, Any] = field(default_factory=dict)
    steps: tuple[dict[str, Any], ...] = ()

    @property
    def words(self) -> str:
        """The message, said."""
        return catalogue().say(self.message, **self.values)


@dataclass(frozen=True)
class Remark:
    """A guess or an irregularity that the reader met, as a message of the catalogue with its values; ``line`` counts the file's
    lines from 1, ``row`` the records. ``cells`` counts cells that hold something in the file and nothing in the table.
    """

    message: str
    values: Mapping[str, MessageValue] = field(default_factory=dict)
    column: str | None = None
    line: int | None = None
    remedies: tuple[Remedy, ...] = ()
    row: int | None = None
    cells: int = 0

    @property
    def text(self) -> str:
        """The message, said."""
        return catalogue().say(self.message, **self.values)


@dataclass(frozen=True, eq=False, kw_only=True)
class Column:
    """One column: what was written in each record, and what it means.

    ``cells`` holds the raw cell of each record, null where it is blank: a text, or the number of a file that keeps numbers;
    ``texts`` are the same as they are written. A measure adds ``numbers`` (float64, shape (rows,), NaN where there is none,
    the limit where the cell is one) and ``marks`` (int8, :class:`Mark`).
    ``absent`` counts missing cells by how they were written ("" for a blank). ``length`` is set in a table of one column
    a group: what lies below that many records is padding. ``order`` lists levels that come first, in that order.
    ``stood_in`` tells which numbers stand for a limit (int8, :class:`StandInState`, shape (rows,)). ``known`` hands over
    :func:`code_texts` of the cells without the absent ones, where whoever made the column has it; ``each_once`` says that every
    record has a value of its own. ``filled`` counts the cells that the file fills, where it was just read.
    """

    name: str
    kind: Kind
    cells: pl.Series
    unit: str | None = None
    ordered: bool = False
    absent: dict[str, int] = field(default_factory=dict)
    numbers: Floats | None = None
    marks: NDArray[np.int8] | None = None
    length: int | None = None
    order: tuple[str, ...] = ()
    known: Coded | None = field(default=None, repr=False)
    each_once: bool = False
    stood_in: NDArray[np.int8] | None = field(default=None, repr=False)
    filled: int | None = None

    @property
    def heading(self) -> str:
        """Name with unit, as a reader sees it."""
        return f"{self.name} ({self.unit})" if self.unit else self.name

    @cached_property
    def texts(self) -> pl.Series:
        """The cells as they are written, null where they are blank."""
        return written(self.cells)

    @cached_property
    def _given_codes(self) -> Coded:
        if self.known is not None:
            return self.known
        texts = self.texts if self.absent else self.cells
        return code_texts(texts.set(texts.is_in(list(self.absent)), None) if self.absent else texts)

    @cached_property
    def _code(self) -> tuple[NDArray[np.int32], tuple[str, ...]]:
        codes, distinct = self._given_codes
        levels = tuple(distinct.to_list())
        return _in_order(codes, levels, self.order) if self.order else (codes, levels)

    @property
    def codes(self) -> NDArray[np.int32]:
        """Each record's place in :attr:`levels`, −1 where it has none; shape (rows,)."""
        return self._code[0] if self.order else self._given_codes[0]

    @property
    def distinct(self) -> int:
        """How many distinct values there are."""
        return len(self.cells) if self.each_once else len(self._given_codes[1])

    @property
    def levels(self) -> tuple[str, ...]:
        """The distinct values: those of :attr:`order` first, then in the order of first appearance."""
        return self._code[1]

    @property
    def present(self) -> NDArray[np.bool_]:
        """Which records have a value; a limit ("<0.4") is one."""
        return np.asarray(self.codes >= 0) if self.marks is None else np.asarray(self.marks != Mark.MISSING)

    @property
    def missing(self) -> int:
        """How many records have no value."""
        return sum(self.absent.values())

    @property
    def censored(self) -> int:
        """How many cells are a limit ("<0.4") and not a number."""
        return 0 if self.marks is None else int(np.count_nonzero(self.marks >= Mark.BELOW))


def _in_order(
    codes: NDArray[np.int32], levels: tuple[str, ...], order: tuple[str, ...]
) -> tuple[NDArray[np.int32], tuple[str, ...]]:
    first = [level for level in order if level in set(levels)]
    arranged = tuple(first) + tuple(level for level in levels if level not in set(first))
    place = {level: i for i, level in enumerate(arranged)}
    lookup = np.array([place[level] for level in levels] + [-1], dtype=np.int32)
    return lookup[codes], arranged


PART_KEYS = 1 << 40


@dataclass(frozen=True, eq=False)
class RowIds:
    """Which raw records the rows of a prepared table come from.

    ``keys`` (int64, shape (rows,), all distinct) hold the raw record from 1 plus 2^40 times the place in ``parts``: the
    source column after wide to long, the appended table's name; parts[0] is "". After combining repeats ``ends`` (shape
    (rows,)) cuts ``members``, the combined keys, into one list a row; the row's own key is the first of its list.
    """

    keys: NDArray[np.int64]
    parts: tuple[str, ...] = ("",)
    members: NDArray[np.int64] | None = None
    ends: NDArray[np.int64] | None = None

    def taken(self, places: NDArray[np.intp]) -> RowIds:
        """The ids of some rows."""
        if self.members is None or self.ends is None:
            return RowIds(self.keys[places], self.parts)
        lists = [self.list_of(int(place)) for place in places]
        members = np.concatenate(lists) if lists else np.empty(0, dtype=np.int64)
        return RowIds(
            self.keys[places], self.parts, members, np.cumsum([len(row_members) for row_members in lists], dtype=np.int64)
        )

    def list_of(self, place: int) -> NDArray[np.int64]:
        """The keys that stand behind a row; one unless repeats were combined."""
        if self.members is None or self.ends is None:
            return self.keys[place : place + 1]
        return self.members[int(self.ends[place - 1]) if place else 0 : int(self.ends[place])]

    @property
    def list_ends(self) -> NDArray[np.int64]:
        """Where each row's list ends; shape (rows,)."""
        return self.ends if self.ends is not None else np.arange(1, len(self.keys) + 1, dtype=np.int64)

    def written(self, key: int) -> str:
        """A key for people: "12", or "12 · Lot B"."""
        part = self.parts[key // PART_KEYS]
        return f"{key % PART_KEYS} · {part}" if part else str(key)


@dataclass(frozen=True)
class RowChange:
    """What a step of the preparation did to the rows: how many there were before and after it. ``leaves_out`` is set where it
    takes rows away and does nothing else.
    """

    step: str
    before: int
    after: int
    leaves_out: bool


@dataclass(frozen=True, eq=False)
class Source:
    """The file that a table was read from; its digest and its raw table are asked for only when rows are left out."""

    digest: Callable[[], str]
    load: Callable[[], Table]

    @cached_property
    def sha256(self) -> str:
        """The file's SHA-256."""
        return self.digest()

    @cached_property
    def raw(self) -> Table:
        """The table as read."""
        return self.load()


@dataclass(frozen=True, eq=False)
class Tally:
    """What makes a table one of different rows, each counted: how often each stands in the source (shape (rows,)), and a table
    of some rows of the source with the same columns, which may be drawn one by one. ``parts`` is of how many of the source's
    files the counts are, ``of`` how many there are; ``others`` holds what was counted of further measures, by their name.
    ``gathered`` tells which rows stand for the cells of grids that lanes of too many different values gather into.
    """

    counts: Counts
    examples: Table
    parts: int
    of: int
    others: Mapping[str, Table] = field(default_factory=dict)
    gathered: Gathered | None = None

    def at(self, rows: Rows, examples: Table) -> Tally:
        """The same of some of the rows, by their places, with other examples."""
        gathered = None if self.gathered is None else self.gathered.at(rows)
        return replace(self, counts=self.counts[rows], examples=examples, gathered=gathered)

    def sample(self, numbers: Floats, rows: Rows) -> Sample:
        """The values of some rows, with how often each occurs."""
        values, counts = numbers[rows], self.counts[rows]
        if self.gathered is None:
            return tally_of(values, counts)
        here = self.gathered.at(rows)
        return tally_of(values, counts, Cells(here.cells, here.wanted), here.sums_of(values, counts))


@dataclass(frozen=True, eq=False)
class Table:
    """Columns over the same rows. As read, row i has id i + 1; ``ids`` is set once a preparation changed that.

    ``left_out`` (bool, shape (rows,)) marks rows that the preparation leaves out: they stay visible and count nowhere.
    ``prepared`` lists the steps that changed how many rows are in use. With a ``tally`` each row stands for many of a source.
    """

    columns: tuple[Column, ...]
    rows: int
    ids: RowIds | None = None
    left_out: NDArray[np.bool_] | None = None
    source: Source | None = None
    prepared: tuple[RowChange, ...] = ()
    tally: Tally | None = None

    def count(self, mask: NDArray[np.bool_]) -> int:
        """How many rows a mask (shape (rows,)) holds; with a tally, of the source."""
        return int(np.count_nonzero(mask) if self.tally is None else self.tally.counts[mask].sum())

    def counted_for(self, measure: str) -> Table:
        """With a tally, what was counted of a measure; else the table itself."""
        return self if self.tally is None else self.tally.others.get(measure, self)

    @cached_property
    def row_ids(self) -> RowIds:
        """The rows' ids."""
        return self.ids if self.ids is not None else RowIds(np.arange(1, self.rows + 1, dtype=np.int64))

    @property
    def records(self) -> int:
        """How many rows there are, left out or not; with a tally, of the source."""
        return self.rows if self.tally is None else int(self.tally.counts.sum())

    @property
    def in_use(self) -> int:
        """How many rows are not left out."""
        return self.records - (0 if self.left_out is None else self.count(self.left_out))

    @property
    def read(self) -> int:
        """How many rows were read, before any step."""
        return self.prepared[0].before if self.prepared else self.in_use

    @cached_property
    def _places(self) -> dict[str, Column]:
        return {spelling: c for c in reversed(self.columns) for spelling in (c.heading, c.name)}

    def column(self, name: str, *, where: str = "") -> Column:
        """The column of that name, with or without its unit.

        Raises InputError naming the nearest columns where there is none.
        """
        result = self._places.get(name)
        if result is None:
            near = get_close_matches(name, [c.name for c in self.columns], n=3, cutoff=0.4)
            names = near or [c.name for c in self.columns[:8]]
            quoted = ", ".join(f"“{n}”" for n in names)
            raise InputError(
                f"the table has no column “{name}”",
                where=where,
                remedy=f"{'Nearest' if near else 'It has'}: {quoted}.",
            )
        return result

    def measures(self) -> Iterable[Column]:
        """The columns of numbers."""
        return (c for c in self.columns if c.kind == "measure")
