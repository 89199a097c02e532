"""Steps that change what a column is, or what its cells say."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import polars as pl

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.tables.column_builders import counted, measure_of, put, unstood, words_of
from echelle.tables.dates import iso_dates
from echelle.tables.numerals import decimal_of, read_numerals
from echelle.tables.steps.models import (
    AsMissing,
    Convert,
    JoinLevels,
    Rename,
    SetKind,
    SetLabels,
    SetOrder,
    SetUnit,
    StandIn,
)  # fmt: skip
from echelle.tables.table import Column, Mark, Stood, Table

Changed = tuple[Table, str]


def free(table: Table, name: str) -> str:
    """A name that no column has yet. Raises InputError otherwise."""
    if any(column.name == name for column in table.columns):
        raise InputError(f"there is a column “{name}” already", remedy="Choose another name.")
    return name


def rename(table: Table, step: Rename) -> Changed:
    """Another name."""
    column = table.column(step.column)
    if step.to == column.name:
        return table, "no change"
    return put(table, replace(column, name=free(table, step.to)), column), "renamed"


def set_kind(table: Table, step: SetKind) -> Changed:
    """Another kind, from the cells as they are written. Raises InputError where no cell fits it."""
    column = table.column(step.column)
    present = len(column.texts) - column.texts.null_count()
    if step.kind == "measure":
        decimal = step.decimal or decimal_of([column.texts])[0]
        numerals = read_numerals(column.texts, decimal)
        if present and not numerals.known:
            raise InputError(f"no cell of “{column.name}” is a number", where=column.name, remedy="Choose another kind for it.")
        made = counted(replace(column, kind="measure", ordered=False, order=(), numbers=numerals.numbers, marks=numerals.marks))
        words = sum(numerals.words.values())
        return put(table, made, column), f"{words} cells are no number and missing" if words else "every cell is a number"
    if step.kind == "date":
        known = words_of(column.name, "category", column.texts)
        here = pl.Series(known.codes >= 0)
        dates, _ = iso_dates(column.texts.filter(here), {None: None, "day first": True, "month first": False}[step.dates])
        if dates is None:
            raise InputError(
                f"“{column.name}” does not read as dates", where=column.name, remedy="Say day first or month first, or keep it."
            )
        made = replace(known, kind="date", texts=column.texts.scatter(here.arg_true(), dates), unit=column.unit)
        return put(table, made, column), f"{len(dates)} dates"
    made = words_of(column.name, step.kind, column.texts, column.unit, column.order)
    if step.kind == "yes/no" and len(made.levels) > 2:
        raise InputError(
            f"“{column.name}” has {len(made.levels)} levels, not two", where=column.name, remedy="Make it a category."
        )
    made = replace(made, ordered=column.ordered and step.kind == "category")
    return put(table, made, column), f"{len(made.levels)} levels"


def set_unit(table: Table, step: SetUnit) -> Changed:
    """Another unit; the numbers stay."""
    column = table.column(step.column)
    return put(table, replace(column, unit=step.unit), column), "numbers unchanged"


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


def set_order(table: Table, step: SetOrder) -> Changed:
    """Levels in an order. Levels that the column lacks are no fault: a newer file may bring them back."""
    column = _category(table, step.column)
    order = tuple(step.levels) if step.ordered else ()
    made = replace(column, ordered=step.ordered, order=order)
    others = len(set(made.levels) - set(order)) if step.ordered else 0
    return put(table, made, column), f"{others} more levels follow" if others else f"{len(made.levels)} levels"


def _relabelled(column: Column, labels: dict[str, str]) -> Column:
    texts = column.texts.replace(list(labels), list(labels.values()))
    order = tuple(dict.fromkeys(labels.get(level, level) for level in column.order))
    return counted(replace(column, texts=texts, order=order))


def set_labels(table: Table, step: SetLabels) -> Changed:
    """Levels by other words. Raises InputError where two levels would become one: that is for join levels to do."""
    column = _category(table, step.column)
    _known_levels(column, list(step.labels))
    made = _relabelled(column, step.labels)
    if len(made.levels) < len(column.levels):
        raise InputError("two levels would get the same name", where=column.name, remedy="Use join levels for that.")
    return put(table, made, column), f"{len(step.labels)} levels named"


def join_levels(table: Table, step: JoinLevels) -> Changed:
    """Several levels as one."""
    column = _category(table, step.column)
    _known_levels(column, step.levels)
    rows = int(np.isin(column.codes, [column.levels.index(level) for level in step.levels if level != step.into]).sum())
    made = _relabelled(column, dict.fromkeys(step.levels, step.into))
    return put(table, made, column), f"{plural(rows, 'row')} now say {step.into}"


def as_missing(table: Table, step: AsMissing) -> Changed:
    """Cells written in one of some ways become missing, still counted by how they were written."""
    chosen = [table.column(step.column)] if step.column is not None else list(table.columns)
    total = 0
    for column in chosen:
        hit = column.texts.is_in(step.marks).fill_null(False)
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
            made = replace(column, absent=column.absent | dict.fromkeys(step.marks, 0))
        table = put(table, counted(made), column)
    return table, f"{plural(total, 'cell')} now missing"


def _absent_cells(column: Column) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    return np.asarray(column.codes < 0 if column.marks is None else column.marks == Mark.MISSING)


def _measure(table: Table, name: str) -> Column:
    column = table.column(name)
    if column.numbers is None or column.marks is None:
        raise InputError(f"“{column.name}” holds no numbers", where=column.name, remedy="Make it a measure first.")
    return column


_BELOW = {"limit": 1.0, "half": 0.5, "limit/√2": 0.5**0.5}


def stand_in(table: Table, step: StandIn) -> Changed:
    """A number for each limit, or a missing cell."""
    column = _measure(table, step.column)
    assert column.numbers is not None and column.marks is not None
    numbers, marks = column.numbers.copy(), column.marks.copy()
    stood = unstood(len(marks)) if column.stood_in is None else column.stood_in.copy()
    changed = 0
    for mark, how in ((Mark.BELOW, step.below), (Mark.ABOVE, step.above)):
        here = column.marks == mark
        if how == "as it is" or not here.any():
            continue
        changed += int(here.sum())
        marks[here] = Mark.MISSING if how == "left out" else Mark.NUMBER
        numbers[here] = np.nan if how == "left out" else numbers[here] * _BELOW[how]
        stood[here] = Stood.NOT if how == "left out" else Stood.ITSELF
    texts = measure_of(column.name, numbers, column.unit, marks).texts
    # What was left out stays named as it was written.
    kept = column.texts.set(pl.Series(column.marks != marks) & pl.Series(marks != Mark.MISSING), None)
    made = counted(replace(column, texts=kept.fill_null(texts), numbers=numbers, marks=marks, stood_in=stood))
    return put(table, made, column), f"{plural(changed, 'value')}, {_stand_in_words(step)}"


def _stand_in_words(step: StandIn) -> str:
    words = [f"{name}: {how}" for name, how in (("below", step.below), ("above", step.above)) if how != "as it is"]
    return ", ".join(words) or "unchanged"


def convert(table: Table, step: Convert) -> Changed:
    """Numbers and limits times a factor. Raises InputError without a factor, or with one that is not positive."""
    column = _measure(table, step.column)
    assert column.numbers is not None and column.marks is not None
    marks = column.marks.copy()
    if step.by is None:
        if step.factor is None:
            raise InputError("the conversion has no factor", where=column.name, remedy="Say how many new units make one old.")
        factors = np.full(table.rows, step.factor)
    else:
        units = table.column(step.by)
        by_level = np.array([step.factors.get(level, np.nan) for level in units.levels] + [np.nan])
        factors = by_level[units.codes]
    if (factors <= 0).any():
        raise InputError("a factor must be above zero", where=column.name, remedy="Give a factor such as 27.59.")
    lost = int((np.isnan(factors) & (marks != Mark.MISSING)).sum())
    marks[np.isnan(factors)] = Mark.MISSING
    made = measure_of(column.name, column.numbers * factors, step.to, marks)
    # Missing cells keep the word they were written as.
    texts = pl.select(pl.when(pl.Series(marks == Mark.MISSING)).then(column.texts).otherwise(made.texts)).to_series()
    made = counted(replace(made, texts=texts, length=column.length, stood_in=column.stood_in))
    return put(table, made, column), f"{lost} values without a factor are missing" if lost else f"in {step.to}"
