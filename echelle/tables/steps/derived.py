"""Steps that add a column computed from others."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import polars as pl

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.tables.column_builders import computed_from, format_numbers, measure_of, put, words_of
from echelle.tables.dates import MONTHS, WEEKDAYS
from echelle.tables.formulas.evaluate import Evaluation
from echelle.tables.formulas.functions import date_part, within_groups
from echelle.tables.formulas.values import column_from, value_of
from echelle.tables.grouping import groups_of
from echelle.tables.intervals import interval_names, interval_places
from echelle.tables.steps.columns import free
from echelle.tables.steps.conditions import rows_where
from echelle.tables.steps.models import DatePart, Derive, Intervals, Relative
from echelle.tables.table import Mark, Table

Changed = tuple[Table, str]


def intervals(table: Table, step: Intervals) -> Changed:
    """A number's interval, as an ordered category. Limits and missing numbers stay missing.

    Raises InputError for edges that do not rise, or names that are not one an interval.
    """
    column = table.column(step.column)
    if column.numbers is None or column.marks is None:
        raise InputError(f"“{column.name}” holds no numbers", where=column.name, remedy="Choose a measure.")
    edges = np.array(step.edges, dtype=np.float64)
    if (np.diff(edges) <= 0).any():
        raise InputError("the edges do not rise", where="edges", remedy="Give them from low to high, each once.")
    names = step.names or interval_names(edges, step.closed, step.open_low, step.open_high)
    wanted = len(edges) - 1 + step.open_low + step.open_high
    if len(names) != wanted or len(set(names)) != wanted or not wanted:
        raise InputError(f"{wanted} intervals need {wanted} different names", where="names", remedy="Give one name each.")
    numbers = column.numbers
    place = interval_places(numbers, edges, step.closed)
    # The outermost edges belong to the outermost closed intervals, unless an open one follows there.
    if step.closed == "left" and not step.open_high:
        place[numbers == edges[-1]] = len(edges) - 1
    if step.closed == "right" and not step.open_low:
        place[numbers == edges[0]] = 1
    place = place - (0 if step.open_low else 1)
    known = (column.marks == Mark.NUMBER) & (place >= 0) & (place < wanted)
    texts = pl.Series([*names, None], dtype=pl.String).gather(pl.Series(np.where(known, place, wanted)))
    made = replace(words_of(free(table, step.to), "category", texts, None, tuple(names)), ordered=True)
    outside = int(((column.marks == Mark.NUMBER) & ~known).sum())
    return put(table, made), plural(wanted, "interval") + (f", {plural(outside, 'value')} outside" if outside else "")


def part_of_date(table: Table, step: DatePart) -> Changed:
    """Year, month or weekday as an ordered category in calendar order."""
    column = table.column(step.column)
    if column.kind != "date":
        raise InputError(f"“{column.name}” is a {column.kind}, not a date", where=column.name, remedy="Make it a date first.")
    value = date_part(step.part, value_of(column))
    order: tuple[str, ...] = WEEKDAYS
    if value.texts is not None:
        texts = value.texts
    else:
        assert value.numbers is not None
        codes = format_numbers(value.numbers)
        if step.part == "month":
            texts = codes.replace_strict([str(i) for i in range(1, 13)], MONTHS, default=None, return_dtype=pl.String)
            order = MONTHS
        else:
            texts, order = codes, tuple(sorted(codes.drop_nulls().unique().to_list()))
    there = set(texts.drop_nulls().unique().to_list())
    levels = tuple(level for level in order if level in there)
    made = replace(words_of(free(table, step.to), "category", texts, None, levels), ordered=True)
    return put(table, made), plural(len(levels), "level")


def derive(table: Table, step: Derive) -> Changed:
    """A column by a formula."""
    evaluation = Evaluation(step.formula, table)
    made = column_from(free(table, step.to), evaluation.value(), table.rows, step.unit)
    if made.numbers is not None:
        made = replace(made, stood_in=computed_from(table.column(name) for name in evaluation.columns()))
    lost = int((evaluation.lost & (made.codes < 0 if made.marks is None else made.marks == Mark.MISSING)).sum())
    limits = sum(table.column(name).censored for name in set(evaluation.columns()))
    notes = [f"{lost} without an answer" if lost else "", f"{plural(limits, 'limit')} taken as missing" if limits else ""]
    return put(table, made), ", ".join(note for note in notes if note) or plural(table.rows - made.missing, "value")


_NAMES = {"ratio to mean": "mean", "ratio to median": "median", "change": "mean", "z-score": "mean"}


def relative(table: Table, step: Relative) -> Changed:
    """A value relative to its group's reference rows; missing where the group has none, or a divisor is zero."""
    column = table.column(step.column)
    if column.numbers is None or column.marks is None:
        raise InputError(f"“{column.name}” holds no numbers", where=column.name, remedy="Choose a measure.")
    values = np.where(column.marks == Mark.NUMBER, column.numbers, np.nan)
    used = np.ones(table.rows, dtype=np.bool_) if step.reference is None else rows_where(table, step.reference, "reference")
    if table.left_out is not None:
        used = used & ~table.left_out
    groups, count = groups_of(table, step.within)
    centre = within_groups(_NAMES[step.how], values, groups, count, used)
    with np.errstate(all="ignore"):
        if step.how == "change":
            out = values - centre
        elif step.how == "z-score":
            out = (values - centre) / within_groups("sd", values, groups, count, used)
        else:
            out = values / centre
    unit = column.unit if step.how == "change" else None
    made = measure_of(free(table, step.to), np.where(np.isfinite(out), out, np.nan), unit)
    lost = int((~np.isnan(values) & ~np.isfinite(out)).sum())
    made = replace(made, stood_in=computed_from([column]))
    return put(table, made), f"{plural(lost, 'value')} without a reference" if lost else plural(count, "group")
