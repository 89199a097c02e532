"""Steps that change what a column is, or which of its cells have a value."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
import polars as pl
from pydantic import Field

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.strict_model import MOST_PARTS
from echelle.tables.column_builders import as_measure, count_marks, put, words_of
from echelle.tables.dates import iso_dates
from echelle.tables.numerals import Decimal
from echelle.tables.steps.base import (
    COLUMN,
    Changed,
    ColumnName,
    FieldForm,
    OneTableStep,
    StepGroup,
    UnitName,
    free_name,
    list_some,
)  # fmt: skip
from echelle.tables.table import Column, Kind, Mark, Table

DateOrder = Literal["day first", "month first"]


class Rename(OneTableStep):
    """A column gets another name."""

    title: ClassVar[str] = "Rename"
    help: ClassVar[str] = "Another name for a column"
    group: ClassVar[StepGroup] = "Columns"

    step: Literal["rename"] = "rename"
    column: Annotated[str, COLUMN]
    to: Annotated[ColumnName, FieldForm("New name")]

    def apply(self, table: Table) -> Changed:
        """Another name."""
        column = table.column(self.column)
        if self.to == column.name:
            return table, "no change"
        return put(table, replace(column, name=free_name(table, self.to)), column), "renamed"

    def makes(self) -> str:
        return self.to

    def words(self) -> str:
        return f"{self.column} is called {self.to}"


class SetKind(OneTableStep):
    """What a column is. ``decimal`` and ``dates`` say how its cells are written, where that is not clear."""

    title: ClassVar[str] = "Set the kind"
    help: ClassVar[str] = "Measure, category, identifier, date, yes/no or text"
    group: ClassVar[StepGroup] = "Columns"

    step: Literal["kind"] = "kind"
    column: Annotated[str, COLUMN]
    kind: Annotated[Kind, FieldForm("is", asks="choice", start="category")]
    decimal: Decimal | None = None
    dates: Annotated[DateOrder | None, FieldForm("Written", asks="choice", none="as settled", when=("kind", "date"))] = None

    def apply(self, table: Table) -> Changed:
        """Another kind, from the cells as they are written. Raises InputError where no cell fits it."""
        column = table.column(self.column)
        present = len(column.texts) - column.texts.null_count()
        if self.kind == "measure":
            made, words = as_measure(column, self.decimal)
            if present and not made.present.any():
                raise InputError(
                    f"no cell of “{column.name}” is a number", where=column.name, remedy="Choose another kind for it."
                )
            return put(table, made, column), f"{words} cells are no number and missing" if words else "every cell is a number"
        if self.kind == "date":
            known = words_of(column.name, "category", column.texts)
            here = pl.Series(known.codes >= 0)
            first = {None: None, "day first": True, "month first": False}[self.dates]
            dates = iso_dates(column.texts.filter(here), first).texts
            if dates is None:
                raise InputError(
                    f"“{column.name}” does not read as dates",
                    where=column.name,
                    remedy="Say day first or month first, or keep it.",
                )
            made = replace(known, kind="date", cells=column.texts.clone().scatter(here.arg_true(), dates), unit=column.unit)
            return put(table, made, column), f"{len(dates)} dates"
        made = words_of(column.name, self.kind, column.texts, column.unit, column.order)
        if self.kind == "yes/no" and len(made.levels) > 2:
            raise InputError(
                f"“{column.name}” has {len(made.levels)} levels, not two", where=column.name, remedy="Make it a category."
            )
        made = replace(made, ordered=column.ordered and self.kind == "category")
        return put(table, made, column), f"{len(made.levels)} levels"

    def words(self) -> str:
        return f"{self.column} is {_article(self.kind)}"


def _article(kind: str) -> str:
    return f"an {kind}" if kind == "identifier" else kind if kind in ("text", "yes/no") else f"a {kind}"


class SetUnit(OneTableStep):
    """A unit, or none; the numbers stay."""

    title: ClassVar[str] = "Set the unit"
    help: ClassVar[str] = "The numbers stay as they are"
    group: ClassVar[StepGroup] = "Columns"

    step: Literal["unit"] = "unit"
    column: Annotated[str, FieldForm("Column", asks="column", start="measure")]
    unit: Annotated[UnitName | None, FieldForm("Unit", none="none")]

    def apply(self, table: Table) -> Changed:
        """Another unit; the numbers stay."""
        column = table.column(self.column)
        return put(table, replace(column, unit=self.unit), column), "numbers unchanged"

    def words(self) -> str:
        return f"{self.column} in {self.unit}" if self.unit else f"{self.column} without a unit"


class AsMissing(OneTableStep):
    """Cells written like one of ``marks`` are missing; in every column where ``column`` is null."""

    title: ClassVar[str] = "Treat as missing"
    help: ClassVar[str] = "Cells written in these ways have no value; they stay counted by name"
    group: ClassVar[StepGroup] = "Columns"

    step: Literal["missing"] = "missing"
    column: Annotated[str | None, FieldForm("In", asks="column", none="every column")]
    marks: Annotated[list[str], FieldForm("Written as", asks="list", help="Several with commas: 999, none")] = Field(
        max_length=MOST_PARTS, min_length=1
    )

    def apply(self, table: Table) -> Changed:
        """Cells written in one of some ways become missing, still counted by how they were written."""
        chosen = [table.column(self.column)] if self.column is not None else list(table.columns)
        total = 0
        for column in chosen:
            hit = column.texts.is_in(self.marks).fill_null(False)
            fresh = hit.to_numpy() & ~_absent_cells(column)
            if not fresh.any():
                continue
            total += int(fresh.sum())
            if column.numbers is not None and column.marks is not None:
                made = replace(
                    column,
                    numbers=np.where(fresh, np.nan, column.numbers),
                    marks=np.where(fresh, np.int8(Mark.MISSING), column.marks).astype(np.int8),
                )
            else:
                made = replace(column, absent=column.absent | dict.fromkeys(self.marks, 0))
            table = put(table, count_marks(made), column)
        return table, f"{plural(total, 'cell')} now missing"

    def words(self) -> str:
        return f"{list_some(self.marks)} is missing" + (f" in {self.column}" if self.column else "")


def _absent_cells(column: Column) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    return np.asarray(column.codes < 0 if column.marks is None else column.marks == Mark.MISSING)
