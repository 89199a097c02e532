"""Steps that bring a second table in: below, or beside by keys."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Annotated, ClassVar, Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray
from pydantic import Field

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.strict_model import MOST_PARTS, StrictModel
from echelle.tables.coding import code_texts
from echelle.tables.column_builders import count_marks, put, stood_in_of, take_cells, take_rows, words_of
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.steps.base import Changed, ColumnName, FieldForm, StepBase, StepGroup, free_name, list_some
from echelle.tables.steps.shape import in_use
from echelle.tables.table import PART_KEYS, Column, RowIds, Table

if TYPE_CHECKING:
    # Named in registry.py, which knows all of them.
    Step = StepBase

_MOST_ROWS = 5_000_000


class TableRef(StrictModel):
    """Another table: its file by SHA-256 (``name`` says what to look for), how it is read, and its own preparation."""

    name: str
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    options: ReadingOptions = Field(default_factory=ReadingOptions)
    prepare: list[Step] = Field(max_length=MOST_PARTS, default_factory=list)


class SecondTable(StepBase):
    """A step that brings another table in."""

    table: Annotated[TableRef, FieldForm("Table", asks="table")]

    @abstractmethod
    def apply(self, table: Table, other: Table) -> Changed:
        """The table after the step, with the other one prepared, and a few words on what it did. Raises InputError where they
        do not fit.
        """


class KeyPair(StrictModel):
    """A column of this table and the one of the other table that it must equal."""

    here: str
    there: str


class Append(SecondTable):
    """The rows of another table below these; ``source`` names a column that says where each row came from."""

    title: ClassVar[str] = "Append a table"
    help: ClassVar[str] = "Its rows below these, with a column that says where each came from"
    group: ClassVar[StepGroup] = "Tables"

    step: Literal["append"] = "append"
    source: Annotated[ColumnName, FieldForm("Source column")] = "source"
    here: Annotated[str, FieldForm("These rows are", optional=True)] = ""

    def apply(self, table: Table, other: Table) -> Changed:
        """The other table's rows below; columns by name, blanks where one lacks a column. ``source`` says where from.

        Raises InputError where a column is a measure in one table and not in the other.
        """
        other = in_use(other)
        here, there = self.here or "this table", self.table.name
        known = {column.name: column for column in table.columns}
        given = {column.name: column for column in other.columns}
        columns = []
        for name in dict.fromkeys([*known, *given]):
            columns.append(_stack(known.get(name), given.get(name), table.rows, other.rows))
        source = known.get(self.source)
        where = pl.concat([source.texts if source is not None else pl.Series([here] * table.rows, dtype=pl.String),
                           pl.Series([there] * other.rows, dtype=pl.String)])  # fmt: skip
        rows = table.rows + other.rows
        made = Table(tuple(columns), rows, _ids_below(table, other, there), None, table.source)
        if table.left_out is not None:
            made = replace(made, left_out=np.concatenate([table.left_out, np.zeros(other.rows, dtype=np.bool_)]))
        words = words_of(self.source, "category", where)
        return put(
            made, words, made.column(self.source) if source is not None else None
        ), f"{plural(other.rows, 'row')} from {there}"

    def row_local(self) -> bool:
        return False

    def words(self) -> str:
        return f"append {self.table.name}"


def _ids_below(table: Table, other: Table, name: str) -> RowIds:
    ids, theirs = table.row_ids, other.row_ids
    parts = list(ids.parts)
    lookup = []
    for part in theirs.parts:
        wanted = f"{name} · {part}" if part else name
        while wanted in parts:
            wanted += "′"
        parts.append(wanted)
        lookup.append(len(parts) - 1)

    def moved(keys: NDArray[np.int64]) -> NDArray[np.int64]:
        return keys % PART_KEYS + np.array(lookup, dtype=np.int64)[keys // PART_KEYS] * PART_KEYS

    keys = np.concatenate([ids.keys, moved(theirs.keys)])
    if ids.members is None and theirs.members is None:
        return RowIds(keys, tuple(parts))
    # A row that stands for itself is a list of one.
    members, ends = (ids.keys if ids.members is None else ids.members), ids.list_ends
    more = moved(theirs.keys if theirs.members is None else theirs.members)
    return RowIds(keys, tuple(parts), np.concatenate([members, more]), np.concatenate([ends, theirs.list_ends + len(members)]))


def _stack(upper: Column | None, lower: Column | None, rows: int, more: int) -> Column:
    """One column below another."""
    first = upper if upper is not None else lower
    assert first is not None
    if upper is not None and lower is not None and (upper.numbers is None) != (lower.numbers is None):
        raise InputError(
            f"“{upper.name}” is a {upper.kind} here and a {lower.kind} there",
            where=upper.name,
            remedy="Give both the same kind first.",
        )
    if upper is not None and lower is not None and upper.numbers is not None and upper.unit != lower.unit:
        raise InputError(
            f"“{upper.name}” is in {upper.unit or 'no unit'} here and in {lower.unit or 'no unit'} there", where=upper.name,
            remedy="Convert one of them first.",
        )  # fmt: skip
    top = upper if upper is not None else take_cells(first, np.full(rows, -1))
    below = lower if lower is not None else take_cells(first, np.full(more, -1))
    numbers = marks = None
    if first.numbers is not None:
        assert top.numbers is not None and below.numbers is not None and top.marks is not None and below.marks is not None
        numbers, marks = np.concatenate([top.numbers, below.numbers]), np.concatenate([top.marks, below.marks])
    kind = top.kind if top.kind == below.kind else "category" if first.numbers is None else "measure"
    absent = dict.fromkeys([*top.absent, *below.absent], 0)
    order = top.order + tuple(level for level in below.order if level not in top.order)
    return count_marks(
        Column(
            name=top.name, kind=kind, cells=pl.concat([top.texts, below.texts]), unit=first.unit,
            ordered=top.ordered, absent=absent, numbers=numbers, marks=marks, order=order, stood_in=stood_in_of([top, below]),
        )
    )  # fmt: skip


@dataclass(frozen=True, eq=False, kw_only=True)
class KeyOverlap:
    """How keys of two tables meet: rows here with a match and without, rows there that nobody asked for, and examples.

    ``most`` is the largest number of rows there behind one key.
    """

    matched: int
    unmatched: int
    unused: int
    most: int
    unmatched_first: tuple[str, ...]
    unused_first: tuple[str, ...]
    starts: NDArray[np.int64]
    counts: NDArray[np.int64]
    order: NDArray[np.intp]


def key_overlap(table: Table, other: Table, keys: list[KeyPair]) -> KeyOverlap:
    """Match rows by their keys as written; a row with a missing key matches nothing."""
    here = _keys(table, [pair.here for pair in keys])
    there = _keys(other, [pair.there for pair in keys])
    codes = code_texts(pl.concat([here, there]))[0]
    mine, theirs = codes[: table.rows], codes[table.rows :]
    order = np.argsort(theirs, kind="stable")
    ordered = theirs[order]
    starts = np.searchsorted(ordered, mine, side="left")
    counts = np.where(mine < 0, 0, np.searchsorted(ordered, mine, side="right") - starts)
    unused = ~np.isin(theirs, mine[mine >= 0])
    times = np.bincount(theirs[theirs >= 0]) if (theirs >= 0).any() else np.zeros(1, dtype=np.int64)
    return KeyOverlap(
        matched=int((counts > 0).sum()), unmatched=int((counts == 0).sum()), unused=int(unused.sum()), most=int(times.max()),
        unmatched_first=_examples(here, counts == 0), unused_first=_examples(there, unused), starts=starts, counts=counts,
        order=order,
    )  # fmt: skip


def _keys(table: Table, names: list[str]) -> pl.Series:
    """Each row's key as one text, null where a part of it is missing."""
    columns = [table.column(name) for name in names]
    texts = columns[0].texts
    for column in columns[1:]:
        texts = texts + "\x1f" + column.texts
    gone = np.logical_or.reduce([column.codes < 0 for column in columns])
    return texts.set(pl.Series(gone), None)


def _examples(keys: pl.Series, chosen: NDArray[np.bool_]) -> tuple[str, ...]:
    head = keys.filter(pl.Series(chosen)).drop_nulls().unique(maintain_order=True).head(5)
    return tuple(text.replace("\x1f", " · ") for text in head.to_list())


class Join(SecondTable):
    """The columns of another table beside these, where keys agree. Every row here stays; several matches are refused
    unless ``multiply``."""

    title: ClassVar[str] = "Join a table"
    help: ClassVar[str] = "Its columns beside these, where keys agree"
    group: ClassVar[StepGroup] = "Tables"

    step: Literal["join"] = "join"
    keys: Annotated[list[KeyPair], FieldForm("Where", asks="keys")] = Field(max_length=20, min_length=1)
    multiply: Annotated[bool, FieldForm("Rows may multiply", asks="yes-no")] = False

    def apply(self, table: Table, other: Table) -> Changed:
        """The other table's columns beside, by keys; every row here stays.

        Raises InputError where a row matches several and multiplying was not asked for.
        """
        other = in_use(other)
        overlap = key_overlap(table, other, self.keys)
        if overlap.most > 1 and not self.multiply and (overlap.counts > 1).any():
            row = int(np.argmax(overlap.counts))
            key = ", ".join(f"{pair.here} {table.column(pair.here).texts[row]}" for pair in self.keys)
            raise InputError(
                f"{key} matches {int(overlap.counts[row])} rows of {self.table.name}, so rows would multiply",
                where=self.table.name, remedy="Add a key, combine repeats there first, or allow rows to multiply.",
            )  # fmt: skip
        times = np.maximum(overlap.counts, 1)
        if int(times.sum()) > _MOST_ROWS:
            raise InputError(
                f"the join would give {int(times.sum()):,} rows, more than the {_MOST_ROWS:,} allowed", where=self.table.name,
                remedy="Add a key.",
            )  # fmt: skip
        rows = np.repeat(np.arange(table.rows), times)
        nth = np.arange(len(rows)) - np.repeat(np.cumsum(times) - times, times)
        there = np.where(
            overlap.counts[rows] > 0, overlap.order[np.minimum(overlap.starts[rows] + nth, max(other.rows - 1, 0))], -1
        )
        base = table if len(rows) == table.rows else _multiply(table, rows, nth)
        keys = {other.column(pair.there).name for pair in self.keys}
        for column in other.columns:
            if column.name in keys:
                continue
            name = column.name if all(c.name != column.name for c in base.columns) else f"{column.name} ({self.table.name})"
            base = put(base, replace(take_cells(column, there), name=free_name(base, name)))
        words = f"{plural(overlap.matched, 'row')} matched, {overlap.unmatched} did not"
        return base, words + (f"; {plural(overlap.unused, 'row')} there unused" if overlap.unused else "")

    def row_local(self) -> bool:
        """Where no row multiplies."""
        return not self.multiply

    def words(self) -> str:
        return f"join {self.table.name} by {list_some([pair.here for pair in self.keys])}"


def _multiply(table: Table, rows: NDArray[np.int64], nth: NDArray[np.int64]) -> Table:
    """Rows repeated: the left record and which of its matches."""
    made = take_rows(table, rows)
    ids = table.row_ids
    parts = list(ids.parts)
    keys = ids.keys[rows]
    for match in range(1, int(nth.max(initial=0)) + 1):
        for part, name in enumerate(ids.parts):
            here = (nth == match) & (ids.keys[rows] // PART_KEYS == part)
            if here.any():
                parts.append(f"{name} · match {match + 1}".removeprefix(" · "))
                keys[here] = ids.keys[rows][here] % PART_KEYS + (len(parts) - 1) * PART_KEYS
    return replace(made, ids=replace(made.row_ids, keys=keys, parts=tuple(parts)))
