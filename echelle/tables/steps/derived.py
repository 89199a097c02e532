"""Steps that add a column computed from others."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
import polars as pl
from pydantic import Field

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.strict_model import MOST_PARTS
from echelle.tables.column_builders import computed_from, format_numbers, measure_of, put, words_of
from echelle.tables.dates import MONTHS, WEEKDAYS
from echelle.tables.formulas.functions import date_part, within_groups
from echelle.tables.formulas.values import column_from, value_of
from echelle.tables.grouping import groups_of
from echelle.tables.intervals import interval_names, interval_places
from echelle.tables.steps.base import (
    LEVELS,
    MEASURE,
    Changed,
    ColumnName,
    FieldForm,
    OneTableStep,
    StepGroup,
    UnitName,
    free_name,
    list_some,
)  # fmt: skip
from echelle.tables.steps.conditions import Condition, rows_where
from echelle.tables.table import Mark, Table


class Intervals(OneTableStep):
    """A number cut into named intervals at ``edges``. Without names they are written from their edges.

    ``open_low`` and ``open_high`` add an interval beyond each end; else such values are missing. ``closed`` says which
    side of an interval belongs to it; of the outermost both do, unless an open one follows.
    """

    title: ClassVar[str] = "Cut into intervals"
    help: ClassVar[str] = "A number becomes an ordered category of named intervals"
    group: ClassVar[StepGroup] = "Numbers"

    step: Literal["intervals"] = "intervals"
    column: Annotated[str, MEASURE]
    to: Annotated[ColumnName, FieldForm("New column", start="{column} class")]
    edges: Annotated[list[float], FieldForm("Edges", asks="numbers", help="Rising, with commas or spaces")] = Field(
        max_length=MOST_PARTS, min_length=1
    )
    names: Annotated[
        list[str], FieldForm("Names", asks="list", help="One an interval, with commas; empty writes the edges", optional=True)
    ] = Field(default_factory=list, max_length=MOST_PARTS + 1)
    closed: Annotated[Literal["left", "right"], FieldForm("An edge belongs", asks="choice")] = "left"
    open_low: Annotated[bool, FieldForm("Below the first", asks="yes-no")] = True
    open_high: Annotated[bool, FieldForm("Above the last", asks="yes-no")] = True

    def apply(self, table: Table) -> Changed:
        """A number's interval, as an ordered category. Limits and missing numbers stay missing.

        Raises InputError for edges that do not rise, or names that are not one an interval.
        """
        column = table.column(self.column)
        if column.numbers is None or column.marks is None:
            raise InputError(f"“{column.name}” holds no numbers", where=column.name, remedy="Choose a measure.")
        edges = np.array(self.edges, dtype=np.float64)
        if (np.diff(edges) <= 0).any():
            raise InputError("the edges do not rise", where="edges", remedy="Give them from low to high, each once.")
        names = self.names or interval_names(edges, self.closed, lanes=False, open_low=self.open_low, open_high=self.open_high)
        wanted = len(edges) - 1 + self.open_low + self.open_high
        if len(names) != wanted or len(set(names)) != wanted or not wanted:
            raise InputError(f"{wanted} intervals need {wanted} different names", where="names", remedy="Give one name each.")
        numbers = column.numbers
        place = interval_places(numbers, edges, self.closed)
        # The outermost edges belong to the outermost closed intervals, unless an open one follows there.
        if self.closed == "left" and not self.open_high:
            place[numbers == edges[-1]] = len(edges) - 1
        if self.closed == "right" and not self.open_low:
            place[numbers == edges[0]] = 1
        place = place - (0 if self.open_low else 1)
        known = (column.marks == Mark.NUMBER) & (place >= 0) & (place < wanted)
        texts = pl.Series([*names, None], dtype=pl.String).gather(pl.Series(np.where(known, place, wanted)))
        made = replace(words_of(free_name(table, self.to), "category", texts, None, tuple(names)), ordered=True)
        outside = int(((column.marks == Mark.NUMBER) & ~known).sum())
        return put(table, made), plural(wanted, "interval") + (f", {plural(outside, 'value')} outside" if outside else "")

    def makes(self) -> str:
        return self.to

    def words(self) -> str:
        return f"{self.to}: {self.column} cut at {list_some([f'{edge:g}' for edge in self.edges])}"


class DatePart(OneTableStep):
    """Year, month or weekday of a date, as an ordered category."""

    title: ClassVar[str] = "Part of a date"
    help: ClassVar[str] = "Year, month or weekday as an ordered category"
    group: ClassVar[StepGroup] = "New columns"

    step: Literal["date part"] = "date part"
    column: Annotated[str, FieldForm("Date", asks="column", kinds=("date",))]
    part: Annotated[Literal["year", "month", "weekday"], FieldForm("Part", asks="choice", start="month")]
    to: Annotated[ColumnName, FieldForm("New column", start="month")]

    def apply(self, table: Table) -> Changed:
        """Year, month or weekday as an ordered category in calendar order."""
        column = table.column(self.column)
        if column.kind != "date":
            raise InputError(
                f"“{column.name}” is a {column.kind}, not a date", where=column.name, remedy="Make it a date first."
            )
        value = date_part(self.part, value_of(column))
        order: tuple[str, ...] = WEEKDAYS
        if value.texts is not None:
            texts = value.texts
        else:
            assert value.numbers is not None
            codes = format_numbers(value.numbers)
            if self.part == "month":
                texts = codes.replace_strict([str(i) for i in range(1, 13)], MONTHS, default=None, return_dtype=pl.String)
                order = MONTHS
            else:
                texts, order = codes, tuple(sorted(codes.drop_nulls().unique().to_list()))
        there = set(texts.drop_nulls().unique().to_list())
        levels = tuple(level for level in order if level in there)
        made = replace(words_of(free_name(table, self.to), "category", texts, None, levels), ordered=True)
        return put(table, made), plural(len(levels), "level")

    def makes(self) -> str:
        return self.to

    def words(self) -> str:
        return f"{self.to}: {self.part} of {self.column}"


class Derive(OneTableStep):
    """A column by a formula."""

    title: ClassVar[str] = "Derive by a formula"
    help: ClassVar[str] = "log10(cortisol), a − mean(a within plate), if dose > 5 then 'high' else 'low'"
    group: ClassVar[StepGroup] = "New columns"

    step: Literal["derive"] = "derive"
    to: Annotated[ColumnName, FieldForm("New column")]
    formula: Annotated[
        Annotated[str, Field(min_length=1, max_length=4000)],
        FieldForm(
            "=", asks="formula", help="Names with spaces in \"double\", words in 'single' quotes", start="log10({measure})"
        ),
    ]
    unit: Annotated[UnitName | None, FieldForm("Unit", none="none")] = None

    def apply(self, table: Table) -> Changed:
        """A column by a formula."""
        from echelle.tables.formulas.evaluate import Evaluation

        evaluation = Evaluation(self.formula, table)
        made = column_from(free_name(table, self.to), evaluation.value(), table.rows, self.unit)
        if made.numbers is not None:
            made = replace(made, stood_in=computed_from(table.column(name) for name in evaluation.columns()))
        lost = int((evaluation.lost & (made.codes < 0 if made.marks is None else made.marks == Mark.MISSING)).sum())
        limits = sum(table.column(name).censored for name in set(evaluation.columns()))
        notes = [f"{lost} without an answer" if lost else "", f"{plural(limits, 'limit')} taken as missing" if limits else ""]
        return put(table, made), ", ".join(note for note in notes if note) or plural(table.rows - made.missing, "value")

    def row_local(self) -> bool:
        """Nothing is asked within a group of rows."""
        from echelle.tables.formulas.grammar import parse_formula

        return all(node.data != "within" for node in parse_formula(self.formula).iter_subtrees())

    def makes(self) -> str:
        return self.to

    def words(self) -> str:
        return f"{self.to} = {self.formula}"


_NAMES = {"ratio to mean": "mean", "ratio to median": "median", "change": "mean", "z-score": "mean"}


class Relative(OneTableStep):
    """A value relative to its own group (rows that agree in ``within``).

    ``ratio to mean`` and ``ratio to median`` divide by that of the group's reference rows, ``change`` subtracts their
    mean, ``z-score`` takes their mean away and divides by their SD. ``reference`` null takes the whole group.
    """

    title: ClassVar[str] = "Relative to its group"
    help: ClassVar[str] = "÷ mean or median of reference rows, change from them, or z-score"
    group: ClassVar[StepGroup] = "Numbers"

    step: Literal["relative"] = "relative"
    column: Annotated[str, MEASURE]
    how: Annotated[Literal["ratio to mean", "ratio to median", "change", "z-score"], FieldForm("How", asks="choice")]
    within: Annotated[list[str], FieldForm("Within", asks="columns", kinds=(*LEVELS, "date"), optional=True)] = Field(
        max_length=MOST_PARTS, default_factory=list
    )
    reference: Annotated[Condition | None, FieldForm("Reference rows", asks="condition", none="all rows of the group")] = None
    to: Annotated[ColumnName, FieldForm("New column", start="{column} relative")]

    def apply(self, table: Table) -> Changed:
        """A value relative to its group's reference rows; missing where the group has none, or a divisor is zero."""
        column = table.column(self.column)
        if column.numbers is None or column.marks is None:
            raise InputError(f"“{column.name}” holds no numbers", where=column.name, remedy="Choose a measure.")
        values = np.where(column.marks == Mark.NUMBER, column.numbers, np.nan)
        used = np.ones(table.rows, dtype=np.bool_) if self.reference is None else rows_where(table, self.reference, "reference")
        if table.left_out is not None:
            used = used & ~table.left_out
        groups, count = groups_of(table, self.within)
        centre = within_groups(_NAMES[self.how], values, groups, count, used)
        with np.errstate(all="ignore"):
            if self.how == "change":
                out = values - centre
            elif self.how == "z-score":
                out = (values - centre) / within_groups("sd", values, groups, count, used)
            else:
                out = values / centre
        unit = column.unit if self.how == "change" else None
        made = measure_of(free_name(table, self.to), np.where(np.isfinite(out), out, np.nan), unit)
        lost = int((~np.isnan(values) & ~np.isfinite(out)).sum())
        made = replace(made, stood_in=computed_from([column]))
        return put(table, made), f"{plural(lost, 'value')} without a reference" if lost else plural(count, "group")

    def row_local(self) -> bool:
        return False

    def makes(self) -> str:
        return self.to

    def words(self) -> str:
        within = f" within {list_some(self.within)}" if self.within else ""
        return f"{self.to}: {self.column}, {self.how}{within}"
