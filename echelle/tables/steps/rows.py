"""Steps that take rows away."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from echelle.catalogue.catalogue import catalogue
from echelle.plurals import plural
from echelle.strict_model import MOST_LEVELS
from echelle.tables.column_builders import take_rows
from echelle.tables.steps.base import Changed, FieldForm, OneTableStep, StepGroup, list_some
from echelle.tables.steps.conditions import Condition, condition_words, rows_where
from echelle.tables.steps.left_out import LeftOut, mask_of
from echelle.tables.table import Table


class Keep(OneTableStep):
    """Only the rows for which a condition holds."""

    title: ClassVar[str] = "Keep rows"
    help: ClassVar[str] = "Only rows for which the conditions hold"
    group: ClassVar[StepGroup] = "Rows"
    leaves_out: ClassVar[bool] = True

    step: Literal["keep"] = "keep"
    where: Annotated[Condition, FieldForm("Where", asks="condition")]

    def apply(self, table: Table) -> Changed:
        """The rows for which the condition holds."""
        held = rows_where(table, self.where, "where")
        gone = table.rows - int(held.sum())
        kept = table if gone == 0 else take_rows(table, np.flatnonzero(held))
        return kept, f"{plural(gone, 'row')} left out"

    def words(self) -> str:
        return f"keep {condition_words(self.where, catalogue())}"


class LeaveOutWhere(OneTableStep):
    """A whole group of rows left out, for one reason."""

    title: ClassVar[str] = "Leave out a group"
    help: ClassVar[str] = "All rows for which the conditions hold, for one reason: never randomised"
    group: ClassVar[StepGroup] = "Rows"
    leaves_out: ClassVar[bool] = True

    step: Literal["leave out where"] = "leave out where"
    where: Annotated[Condition, FieldForm("Where", asks="condition")]
    reason: Annotated[str, FieldForm("Because", help="such as never randomised")] = Field(min_length=1, max_length=200)

    def apply(self, table: Table) -> Changed:
        """The rows for which the condition does not hold."""
        held = rows_where(table, self.where, "where")
        gone = int(held.sum())
        kept = table if gone == 0 else take_rows(table, np.flatnonzero(~held))
        return kept, f"{plural(gone, 'row')} left out"

    def words(self) -> str:
        return f"leave out {condition_words(self.where, catalogue())}: {self.reason}"


class LeaveOut(OneTableStep):
    """Single rows left out, each with its reason."""

    title: ClassVar[str] = "Leave out rows"
    help: ClassVar[str] = "Single rows, each with a reason: click a row's number in the table"
    group: ClassVar[StepGroup] = "Rows"
    leaves_out: ClassVar[bool] = True

    step: Literal["leave out"] = "leave out"
    rows: Annotated[list[LeftOut], FieldForm("Rows", asks="left out")] = Field(max_length=MOST_LEVELS, min_length=1)

    def apply(self, table: Table) -> Changed:
        """Single rows marked as left out; they count nowhere and stay visible."""
        out = mask_of(self.rows, table, "rows")
        mask = out if table.left_out is None else out | table.left_out
        return replace(table, left_out=mask), "; ".join(dict.fromkeys(f"“{entry.reason}”" for entry in self.rows))

    def row_local(self) -> bool:
        return False

    def words(self) -> str:
        rows = list_some([str(entry.row) + (f" · {entry.part}" if entry.part else "") for entry in self.rows])
        return f"leave out {'row' if len(self.rows) == 1 else 'rows'} {rows}"
