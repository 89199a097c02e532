"""Steps that order, name and join the levels of a category."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.strict_model import MOST_LEVELS
from echelle.tables.column_builders import count_marks, put
from echelle.tables.steps.base import CATEGORY, Changed, FieldForm, OneTableStep, StepGroup, list_some
from echelle.tables.table import Column, Table


class SetOrder(OneTableStep):
    """The order of a category's levels; levels not named follow as they come. ``ordered`` false takes the order away."""

    title: ClassVar[str] = "Order levels"
    help: ClassVar[str] = "Drag the levels into their real order"
    group: ClassVar[StepGroup] = "Levels"

    step: Literal["order"] = "order"
    column: Annotated[str, CATEGORY]
    levels: Annotated[list[str], FieldForm("From first to last", asks="order")] = Field(
        max_length=MOST_LEVELS, default_factory=list
    )
    ordered: Annotated[bool, FieldForm("Ordered", asks="yes-no")] = True

    def apply(self, table: Table) -> Changed:
        """Levels in an order. Levels that the column lacks are no fault: a newer file may bring them back."""
        column = _category(table, self.column)
        # Where the others have an order already, they keep it.
        rest = tuple(level for level in column.levels if level not in self.levels) if column.order else ()
        order = (*self.levels, *rest) if self.ordered else ()
        made = replace(column, ordered=self.ordered, order=order)
        others = len(set(made.levels) - set(self.levels)) if self.ordered else 0
        return put(table, made, column), f"{others} more levels follow" if others else f"{len(made.levels)} levels"

    def words(self) -> str:
        return f"{self.column}: {list_some(self.levels)}" if self.ordered else f"{self.column} has no order"


class SetLabels(OneTableStep):
    """Other words for levels."""

    title: ClassVar[str] = "Name levels"
    help: ClassVar[str] = "Other words for levels, such as 1 is female"
    group: ClassVar[StepGroup] = "Levels"

    step: Literal["labels"] = "labels"
    column: Annotated[str, CATEGORY]
    labels: Annotated[dict[str, str], FieldForm("Level is", asks="map")] = Field(max_length=MOST_LEVELS, min_length=1)

    def apply(self, table: Table) -> Changed:
        """Levels by other words. Raises InputError where two levels would become one: that is for join levels to do."""
        column = _category(table, self.column)
        _known_levels(column, list(self.labels))
        made = _relabel(column, self.labels)
        if len(made.levels) < len(column.levels):
            raise InputError("two levels would get the same name", where=column.name, remedy="Use join levels for that.")
        return put(table, made, column), f"{len(self.labels)} levels named"

    def words(self) -> str:
        return f"{self.column}: {list_some([f'{level} is {label}' for level, label in self.labels.items()])}"


class JoinLevels(OneTableStep):
    """Several levels become one."""

    title: ClassVar[str] = "Join levels"
    help: ClassVar[str] = "Several levels become one"
    group: ClassVar[StepGroup] = "Levels"

    step: Literal["join levels"] = "join levels"
    column: Annotated[str, CATEGORY]
    levels: Annotated[list[str], FieldForm("Levels", asks="levels")] = Field(min_length=1, max_length=MOST_LEVELS)
    into: Annotated[Annotated[str, Field(min_length=1, max_length=500)], FieldForm("become")]

    def apply(self, table: Table) -> Changed:
        """Several levels as one."""
        column = _category(table, self.column)
        _known_levels(column, self.levels)
        rows = int(np.isin(column.codes, [column.levels.index(level) for level in self.levels if level != self.into]).sum())
        made = _relabel(column, dict.fromkeys(self.levels, self.into))
        return put(table, made, column), f"{plural(rows, 'row')} now say {self.into}"

    def words(self) -> str:
        return f"{list_some(self.levels)} joins {self.into}"


def _category(table: Table, name: str) -> Column:
    column = table.column(name)
    if column.kind in ("measure", "date", "text"):
        raise InputError(
            f"“{column.name}” is a {column.kind} and has no levels", where=column.name, remedy="Make it a category first."
        )
    return column


def _known_levels(column: Column, levels: list[str]) -> None:
    """Raises InputError for a level that the column does not have."""
    for level in levels:
        if level not in set(column.levels):
            raise InputError(
                f"“{column.name}” has no level “{level}”", where=column.name,
                remedy=f"It has: {', '.join(f'“{known}”' for known in column.levels[:8])}.",
            )  # fmt: skip


def _relabel(column: Column, labels: dict[str, str]) -> Column:
    texts = column.texts.replace(list(labels), list(labels.values()))
    order = tuple(dict.fromkeys(labels.get(level, level) for level in column.order))
    return count_marks(replace(column, cells=texts, order=order))
