"""Steps that change numbers: stand-ins for limits, another unit."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
import polars as pl
from pydantic import Field

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.strict_model import MOST_PARTS
from echelle.tables.column_builders import count_marks, measure_of, put, unstood
from echelle.tables.steps.base import LEVELS, MEASURE, Changed, FieldForm, OneTableStep, StepGroup, UnitName
from echelle.tables.table import Column, Mark, StandInState, Table

Below = Literal["limit", "half", "limit/√2", "left out", "as it is"]
Above = Literal["limit", "left out", "as it is"]
_BELOW = {"limit": 1.0, "half": 0.5, "limit/√2": 0.5**0.5}


class StandIn(OneTableStep):
    """A number for values known only by their limit: "<0.4" below, ">200" above."""

    title: ClassVar[str] = "Stand-ins for limits"
    help: ClassVar[str] = "A number for values such as <0.4, or leave them out"
    group: ClassVar[StepGroup] = "Numbers"

    step: Literal["stand-in"] = "stand-in"
    column: Annotated[str, FieldForm("Measure", asks="column", kinds=("measure",), start="limits")]
    below: Annotated[Below, FieldForm("Below a limit", asks="choice")] = "half"
    above: Annotated[Above, FieldForm("Above a limit", asks="choice")] = "as it is"

    def apply(self, table: Table) -> Changed:
        """A number for each limit, or a missing cell."""
        column = _measure(table, self.column)
        assert column.numbers is not None and column.marks is not None
        numbers, marks = column.numbers.copy(), column.marks.copy()
        stood = unstood(len(marks)) if column.stood_in is None else column.stood_in.copy()
        changed = 0
        for mark, how in ((Mark.BELOW, self.below), (Mark.ABOVE, self.above)):
            here = column.marks == mark
            if how == "as it is" or not here.any():
                continue
            changed += int(here.sum())
            marks[here] = Mark.MISSING if how == "left out" else Mark.NUMBER
            numbers[here] = np.nan if how == "left out" else numbers[here] * _BELOW[how]
            stood[here] = StandInState.NOT if how == "left out" else StandInState.ITSELF
        texts = measure_of(column.name, numbers, column.unit, marks).texts
        # What was left out stays named as it was written.
        kept = column.texts.set(pl.Series(column.marks != marks) & pl.Series(marks != Mark.MISSING), None)
        made = count_marks(replace(column, cells=kept.fill_null(texts), numbers=numbers, marks=marks, stood_in=stood))
        return put(table, made, column), f"{plural(changed, 'value')}, {_stand_in_words(self)}"

    def words(self) -> str:
        return f"limits of {self.column} stand at {_stand_in(self)}"


class Convert(OneTableStep):
    """Numbers times a factor, in a new unit. With ``by`` the factor depends on that column's level; a level without a
    factor makes the number missing."""

    title: ClassVar[str] = "Convert the unit"
    help: ClassVar[str] = "Numbers times a factor, or a factor for each unit of a column"
    group: ClassVar[StepGroup] = "Numbers"

    step: Literal["convert"] = "convert"
    column: Annotated[str, MEASURE]
    to: Annotated[UnitName, FieldForm("New unit")]
    by: Annotated[str | None, FieldForm("Unit column", asks="column", kinds=LEVELS, none="one unit throughout")] = None
    factor: Annotated[float | None, FieldForm("Times", asks="number", when=("by", None))] = None
    factors: Annotated[dict[str, float], FieldForm("Times", asks="map of numbers", of="by")] = Field(
        max_length=MOST_PARTS, default_factory=dict
    )

    def apply(self, table: Table) -> Changed:
        """Numbers and limits times a factor. Raises InputError without a factor, or with one that is not positive."""
        column = _measure(table, self.column)
        assert column.numbers is not None and column.marks is not None
        marks = column.marks.copy()
        if self.by is None:
            if self.factor is None:
                raise InputError(
                    "the conversion has no factor", where=column.name, remedy="Say how many new units make one old."
                )
            factors = np.full(table.rows, self.factor)
        else:
            units = table.column(self.by)
            by_level = np.array([self.factors.get(level, np.nan) for level in units.levels] + [np.nan])
            factors = by_level[units.codes]
        if (factors <= 0).any():
            raise InputError("a factor must be above zero", where=column.name, remedy="Give a factor such as 27.59.")
        lost = int((np.isnan(factors) & (marks != Mark.MISSING)).sum())
        marks[np.isnan(factors)] = Mark.MISSING
        made = measure_of(column.name, column.numbers * factors, self.to, marks)
        # Missing cells keep the word they were written as.
        texts = pl.select(pl.when(pl.Series(marks == Mark.MISSING)).then(column.texts).otherwise(made.texts)).to_series()
        made = count_marks(replace(made, cells=texts, length=column.length, stood_in=column.stood_in))
        return put(table, made, column), f"{lost} values without a factor are missing" if lost else f"in {self.to}"

    def words(self) -> str:
        how = f"by {self.by}" if self.by else f"× {self.factor:g}" if self.factor is not None else "without a factor"
        return f"{self.column} to {self.to} {how}"


def _measure(table: Table, name: str) -> Column:
    column = table.column(name)
    if column.numbers is None or column.marks is None:
        raise InputError(f"“{column.name}” holds no numbers", where=column.name, remedy="Make it a measure first.")
    return column


def _stand_in(step: StandIn) -> str:
    chosen = [how for how in (step.below, step.above) if how != "as it is"]
    return " and ".join(dict.fromkeys(chosen)) or "their place"


def _stand_in_words(step: StandIn) -> str:
    words = [f"{name}: {how}" for name, how in (("below", step.below), ("above", step.above)) if how != "as it is"]
    return ", ".join(words) or "unchanged"
