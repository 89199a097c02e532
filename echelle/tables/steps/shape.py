"""Steps that change what a row stands for."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from typing import Annotated, ClassVar, Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray
from pydantic import Field

from echelle.errors import InputError
from echelle.numbers.decimals import decimals_of, rounded
from echelle.numbers.sample import Floats
from echelle.strict_model import MOST_PARTS
from echelle.tables.column_builders import count_marks, measure_of, put, stood_in_of, take_cells, take_rows, words_of
from echelle.tables.grouping import groups_of
from echelle.tables.steps.base import LEVELS, Changed, ColumnName, FieldForm, OneTableStep, StepGroup, free_name, list_some
from echelle.tables.table import PART_KEYS, Column, Mark, RowIds, StandInState, Table

Rows = NDArray[np.int64]
MOST_COLUMNS = 2_000


def in_use(table: Table) -> Table:
    """The table without the rows that were left out."""
    if table.left_out is None or not table.left_out.any():
        return replace(table, left_out=None)
    return replace(take_rows(table, np.flatnonzero(~table.left_out)), left_out=None)


class WideToLong(OneTableStep):
    """Several columns become one of names and one of values; a row for each cell, padding aside."""

    title: ClassVar[str] = "Wide to long"
    help: ClassVar[str] = "Several columns become one of names and one of values"
    group: ClassVar[StepGroup] = "Tables"

    step: Literal["wide to long"] = "wide to long"
    columns: Annotated[list[str], FieldForm("Columns", asks="columns", start="measures")] = Field(
        max_length=2_000, min_length=1
    )
    names: Annotated[ColumnName, FieldForm("Names to", start="group")]
    values: Annotated[ColumnName, FieldForm("Values to", start="value")]

    def apply(self, table: Table) -> Changed:
        """A row for each cell of the chosen columns, row by row; padding below shorter columns gives none.

        Raises InputError where kinds differ.
        """
        chosen = list({id(c): c for c in map(table.column, self.columns)}.values())
        kinds = {column.kind for column in chosen}
        if len(kinds) > 1:
            raise InputError(
                f"the columns hold {', '.join(sorted(kinds))}", where=", ".join(c.name for c in chosen[:3]),
                remedy="Choose columns of one kind.",
            )  # fmt: skip
        rest = [column for column in table.columns if all(column is not c for c in chosen)]
        base = replace(table, columns=tuple(rest))
        for name in (self.names, self.values):
            free_name(base, name)
        if self.names == self.values:
            raise InputError("names and values need two columns", where=self.names, remedy="Give them different names.")
        width = len(chosen)
        cell = np.arange(table.rows * width)
        row, which = cell // width, cell % width
        lengths = np.array([table.rows if c.length is None else c.length for c in chosen])
        held = row < lengths[which]
        row, which = row[held], which[held]
        long = take_rows(base, row)
        names = pl.Series([c.name for c in chosen], dtype=pl.String).gather(pl.Series(which))
        values = _stack(chosen, row, which, self.values)
        long = put(long, words_of(self.names, "category", names))
        ids = ids_of_cells(long.row_ids, table.row_ids, [c.name for c in chosen], row, which)
        return put(replace(long, ids=ids), values), f"{width} columns into one"

    def row_local(self) -> bool:
        return False

    def words(self) -> str:
        return f"{len(self.columns)} columns to {self.names} and {self.values}"


def ids_of_cells(taken_ids: RowIds, ids: RowIds, names: list[str], row: Rows, which: Rows) -> RowIds:
    """Each cell's id: its row's and the column's name. Parts are added, so that lists of combined rows stay valid."""
    parts = [*ids.parts, *(f"{part} · {name}" if part else name for part in ids.parts for name in names)]
    old, record = ids.keys[row] // PART_KEYS, ids.keys[row] % PART_KEYS
    keys = record + (len(ids.parts) + old * len(names) + which) * PART_KEYS
    return replace(taken_ids, keys=keys, parts=tuple(parts))


def _stack(chosen: list[Column], row: Rows, which: Rows, name: str) -> Column:
    """The cells of several columns as one column, in the order of the new rows."""
    units = {column.unit for column in chosen}
    unit = units.pop() if len(units) == 1 else None
    height = len(chosen[0].cells)
    texts = pl.concat([column.texts for column in chosen]).gather(pl.Series(which * height + row))
    absent = {mark: 0 for column in chosen for mark in column.absent if mark}
    first = chosen[0]
    numbers = marks = None
    stood = stood_in_of(chosen)
    if first.numbers is not None:
        numbers = np.concatenate([c.numbers for c in chosen if c.numbers is not None])[which * height + row]
        marks = np.concatenate([c.marks for c in chosen if c.marks is not None])[which * height + row]
    order = first.order if first.ordered else ()
    stood = None if stood is None else stood[which * height + row]
    made = Column(
        name=name,
        kind=first.kind,
        cells=texts,
        unit=unit,
        ordered=first.ordered,
        absent=absent,
        numbers=numbers,
        marks=marks,
        length=None,
        order=order,
        stood_in=stood,
    )
    return count_marks(made)


class LongToWide(OneTableStep):
    """The levels of ``names`` become columns that hold ``values``; one row for each combination of ``by``."""

    title: ClassVar[str] = "Long to wide"
    help: ClassVar[str] = "The levels of a category become columns"
    group: ClassVar[StepGroup] = "Tables"

    step: Literal["long to wide"] = "long to wide"
    names: Annotated[str, FieldForm("A column per", asks="column", kinds=LEVELS)]
    values: Annotated[str, FieldForm("holds", asks="column", start="measure")]
    by: Annotated[list[str], FieldForm("One row per", asks="columns", start="identifier")] = Field(
        max_length=MOST_PARTS, min_length=1
    )

    def apply(self, table: Table) -> Changed:
        """One row a group, one column a level. Raises InputError where a group holds two values for one level."""
        table = in_use(table)
        names, values = table.column(self.names), table.column(self.values)
        if len(names.levels) > MOST_COLUMNS:
            raise InputError(
                f"“{names.name}” has {len(names.levels):,} levels",
                where=names.name,
                remedy=f"At most {MOST_COLUMNS:,} columns.",
            )
        group, count = groups_of(table, self.by)
        firsts = np.unique(group, return_index=True)[1]
        cell = group * len(names.levels) + names.codes
        cell = cell[names.codes >= 0]
        twice, times = np.unique(cell, return_counts=True)
        if (times > 1).any():
            at = int(twice[np.argmax(times > 1)])
            row = int(firsts[at // len(names.levels)])
            said = ", ".join(f"{name} {table.column(name).texts[row]}" for name in self.by)
            raise InputError(
                f"{said} has {int(times.max())} values for {names.levels[at % len(names.levels)]}", where=", ".join(self.by),
                remedy="Add a column to “by”, or combine repeats first.",
            )  # fmt: skip
        places = np.full(count * len(names.levels), -1, dtype=np.intp)
        places[cell] = np.flatnonzero(names.codes >= 0)
        base = take_rows(table, firsts)
        base = replace(base, columns=tuple(base.column(name) for name in self.by))
        wide = tuple(
            replace(take_cells(values, places[place :: len(names.levels)]), name=free_name(base, level))
            for place, level in enumerate(names.levels)
        )
        members = [table.row_ids.list_of(int(i)) for i in np.argsort(group, kind="stable")]
        ids = _combined_ids(table.row_ids, group, members)
        return Table((*base.columns, *wide), count, ids, None, table.source), f"{len(names.levels)} columns of {values.name}"

    def row_local(self) -> bool:
        return False

    def words(self) -> str:
        return f"{self.values} to a column per {self.names}"


def _combined_ids(ids: RowIds, group: NDArray[np.int64], members: list[NDArray[np.int64]]) -> RowIds:
    """Row ids of groups: all that stand behind each."""
    sizes = np.array([len(member) for member in members], dtype=np.int64)
    by_group = np.bincount(np.sort(group), weights=sizes).astype(np.int64) if len(group) else np.empty(0, dtype=np.int64)
    flat = np.concatenate(members) if members else np.empty(0, dtype=np.int64)
    ends = np.cumsum(by_group)
    return RowIds(flat[ends - by_group], ids.parts, flat, ends)


class Combine(OneTableStep):
    """Repeats become one row for each combination of ``by``: numbers by ``how``, other columns where they agree."""

    title: ClassVar[str] = "Combine repeats"
    help: ClassVar[str] = "One row for each subject, by mean, median, sum, first value or count"
    group: ClassVar[StepGroup] = "Rows"

    step: Literal["combine"] = "combine"
    by: Annotated[list[str], FieldForm("One row per", asks="columns", start="identifier")] = Field(
        max_length=MOST_PARTS, min_length=1
    )
    how: Annotated[Literal["mean", "median", "sum", "first", "count"], FieldForm("Numbers by", asks="choice")] = "mean"

    def apply(self, table: Table) -> Changed:
        """One row a group, in the order in which groups first appear.

        Numbers by mean, median, sum or first value of the rows that have one; with ``count`` they become how many there are. A
        value known only by its limit takes no part in a mean, and is counted as missing where nothing else is there. Other
        columns stay where the group agrees and are missing where it does not.
        """
        table = in_use(table)
        group, count = groups_of(table, self.by)
        firsts = np.unique(group, return_index=True)[1]
        order = np.argsort(group, kind="stable")
        keys = {table.column(name).name for name in self.by}
        columns = []
        for column in table.columns:
            if column.name in keys:
                columns.append(take_cells(column, firsts))
            elif column.numbers is not None and column.marks is not None:
                columns.append(_reduce(column, group, order, count, self.how))
            elif self.how == "first":
                columns.append(take_cells(column, _first_present(column, group, count)))
            else:
                columns.append(take_cells(column, np.where(_agree(column, group, firsts, count), firsts, -1)))
        members = [table.row_ids.list_of(int(i)) for i in order]
        ids = _combined_ids(table.row_ids, group, members)
        made = Table(tuple(replace(c, length=None) for c in columns), count, ids, None, table.source)
        return made, f"{table.rows} rows became {count}"

    def row_local(self) -> bool:
        return False

    def words(self) -> str:
        return f"{self.how} per {list_some(self.by)}"


def _first_present(column: Column, group: NDArray[np.int64], count: int) -> NDArray[np.intp]:
    places = np.full(count, -1, dtype=np.intp)
    present = np.flatnonzero(column.codes >= 0)[::-1]
    places[group[present]] = present
    return places


def _agree(column: Column, group: NDArray[np.int64], firsts: NDArray[np.intp], count: int) -> NDArray[np.bool_]:
    differs = column.codes != column.codes[firsts][group]
    return np.asarray(np.bincount(group[differs], minlength=count) == 0)


def _reduce(column: Column, group: NDArray[np.int64], order: NDArray[np.intp], count: int, how: str) -> Column:
    assert column.numbers is not None and column.marks is not None
    used = column.marks == Mark.NUMBER
    if how == "first":
        places = np.full(count, -1, dtype=np.intp)
        present = np.flatnonzero(column.marks != Mark.MISSING)[::-1]
        places[group[present]] = present
        return take_cells(replace(column, length=None), places)
    n = np.bincount(group[used], minlength=count)
    if how == "count":
        return measure_of(column.name, n.astype(np.float64))
    inside = order[used[order]]
    values, codes = column.numbers[inside], group[inside]
    out = np.full(count, np.nan)
    if how == "median":
        by_value = np.lexsort((values, codes))
        values, codes = values[by_value], codes[by_value]
    starts = np.searchsorted(codes, np.arange(count))
    some = np.flatnonzero(n)
    if len(some) and how == "mean":
        # Sums from each group's first value keep digits where values are large and close.
        base = values[starts[some]]
        shifted = values - np.repeat(base, n[some])
        out[some] = base + np.add.reduceat(shifted, starts[some]) / n[some]
    elif len(some) and how == "sum":
        out[some] = _sums(values, starts[some], n[some])
    elif len(some):
        low, high = values[starts[some] + (n[some] - 1) // 2], values[starts[some] + n[some] // 2]
        out[some] = low + (high - low) / 2
    return replace(measure_of(column.name, out, column.unit), stood_in=_stand_ins(column, group, used, count))


def _sums(values: Floats, starts: NDArray[np.intp], n: NDArray[np.intp]) -> Floats:
    """The sum of each run of values, of the decimals that they are, rounded once."""
    decimals = decimals_of(values)
    sums = np.add.reduceat(decimals.samples[0], starts)
    return np.array(
        [
            rounded(decimals.pivot * times + decimals.step * Fraction(total))
            for total, times in zip(sums.tolist(), n.tolist(), strict=True)
        ]
    )


def _stand_ins(column: Column, group: NDArray[np.int64], used: NDArray[np.bool_], count: int) -> NDArray[np.int8] | None:
    """Which groups hold a value that stands for a limit: what is made of them was computed from it."""
    if column.stood_in is None:
        return None
    some = np.bincount(group[used & (column.stood_in != StandInState.NOT)], minlength=count) > 0
    return np.where(some, np.int8(StandInState.COMPUTED), np.int8(StandInState.NOT))
