"""A tallied table made whole."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np

from echelle.errors import InputError
from echelle.tables.column_builders import take_rows
from echelle.tables.steps.base import Changed, FieldForm, OneTableStep, StepGroup
from echelle.tables.steps.shape import ids_of_cells, in_use
from echelle.tables.table import Mark, Table

MOST_REPEATED = 2_000_000


class Repeat(OneTableStep):
    """A tallied table made whole: each row stands as often as its count says."""

    title: ClassVar[str] = "Repeat rows"
    help: ClassVar[str] = "A tallied table made whole: each row as often as its count says"
    group: ClassVar[StepGroup] = "Rows"

    step: Literal["repeat"] = "repeat"
    times: Annotated[str, FieldForm("As often as", asks="column", start="measure")]

    def apply(self, table: Table) -> Changed:
        """Rows by their count; 0 and missing give none. The column of counts goes: it would count each row again.

        Raises InputError for a count that is no whole number, and for more than 2 000 000 rows.
        """
        table = in_use(table)
        counts = table.column(self.times)
        if counts.numbers is None or counts.marks is None:
            raise InputError(f"“{counts.name}” holds no counts", where=counts.name, remedy="Choose a column of whole numbers.")
        known = counts.marks == Mark.NUMBER
        numbers = np.where(known, counts.numbers, 0.0)
        wrong = np.flatnonzero((numbers < 0) | (numbers != np.floor(numbers)) | (counts.marks >= Mark.BELOW))
        if len(wrong):
            first = int(wrong[0])
            raise InputError(
                f"row {table.row_ids.written(int(table.row_ids.keys[first]))} counts {counts.texts[first]}", where=counts.name,
                remedy="Counts are whole numbers from 0 on.",
            )  # fmt: skip
        if numbers.sum() > MOST_REPEATED:
            raise InputError(
                f"“{counts.name}” adds up to {numbers.sum():,.0f} rows", where=counts.name,
                remedy=f"At most {MOST_REPEATED:,} rows can be made; divide the counts first.",
            )  # fmt: skip
        times = numbers.astype(np.int64)
        row = np.repeat(np.arange(table.rows), times)
        nth = np.arange(len(row)) - np.repeat(np.cumsum(times) - times, times)
        base = replace(table, columns=tuple(column for column in table.columns if column is not counts))
        made = take_rows(base, row)
        made = replace(made, columns=tuple(replace(column, length=None) for column in made.columns))
        names = [str(k + 1) for k in range(1, int(times.max(initial=1)))]
        # The first keeps its row's own id, the others are told from it by their number.
        again = ids_of_cells(made.row_ids, table.row_ids, names, row, np.maximum(nth - 1, 0)) if names else made.row_ids
        keys = np.where(nth == 0, table.row_ids.keys[row], again.keys)
        return replace(made, ids=replace(again, keys=keys)), f"{table.rows} rows became {len(row)}"

    def row_local(self) -> bool:
        return False

    def words(self) -> str:
        return f"as often as {self.times}"
