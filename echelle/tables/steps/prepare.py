"""Replaying a preparation: step after step, until one no longer fits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.tables.steps.base import Changed, OneTableStep, StepBase
from echelle.tables.steps.joining import SecondTable, TableRef
from echelle.tables.table import RowChange, RowIds, Table, Tally

TableOf = Callable[[TableRef], Table]


@dataclass(frozen=True)
class StepResult:
    """What a step did: rows in use and columns after it, and a few words."""

    rows: int
    columns: int
    note: str


@dataclass(frozen=True, eq=False)
class PreparationResult:
    """The table after the last step that fits. ``stopped`` is the fault of the step at ``len(results)``, if any."""

    table: Table
    results: tuple[StepResult, ...]
    stopped: InputError | None


def no_tables(ref: TableRef) -> Table:
    """For preparations that bring no other table in."""
    raise InputError(f"{ref.name} is not at hand", remedy="Bring that file too.")


def prepare(table: Table, steps: Sequence[StepBase], tables: TableOf = no_tables) -> PreparationResult:
    """Replay the steps over a table as read. ``tables`` gives the raw table that a reference names.

    A step that no longer fits stops the preparation there; what came before stays.
    """
    results: list[StepResult] = []
    for step in steps:
        if not step.on:
            results.append(StepResult(table.in_use, len(table.columns), "switched off"))
            continue
        try:
            table, note = apply(table, step, tables)
        except InputError as error:
            return PreparationResult(table, tuple(results), error)
        results.append(StepResult(table.in_use, len(table.columns), note))
    return PreparationResult(table, tuple(results), None)


def apply(table: Table, step: StepBase, tables: TableOf = no_tables) -> Changed:
    """One step, with what it did to the rows noted in the table. Raises InputError where it does not fit."""
    if table.tally is not None:
        made, note = _apply_counted(table, table.tally, step, tables)
    else:
        made, note = _applied(table, step, tables)
    prepared = table.prepared
    if made.in_use != table.in_use:
        prepared = (*prepared, RowChange(step.words(), table.in_use, made.in_use, step.leaves_out))
    return replace(made, prepared=prepared), note


def _applied(table: Table, step: StepBase, tables: TableOf) -> Changed:
    if isinstance(step, SecondTable):
        return step.apply(table, all_steps(tables(step.table), step.table.prepare, tables))
    assert isinstance(step, OneTableStep)
    return step.apply(table)


def _apply_counted(table: Table, tally: Tally, step: StepBase, tables: TableOf) -> Changed:
    """A step over counted rows: what it makes of one it makes of all that the count stands for. Raises InputError for a step
    that looks at several rows.
    """
    if not step.row_local():
        raise InputError(
            f"“{step.title}” looks at several rows together, which a far table's parts do not allow", where=step.step_name(),
            remedy="Do it where the files are made, or leave the step out.",
        )  # fmt: skip
    places = RowIds(np.arange(1, table.rows + 1, dtype=np.int64))
    made, note = _applied(replace(table, ids=places, tally=None), step, tables)
    examples, _ = _applied(tally.examples, step, tables)
    made = replace(made, ids=None, tally=tally.at(made.row_ids.keys - 1, examples))
    if made.in_use != table.in_use:
        note = f"{plural(table.in_use - made.in_use, 'row')} left out"
    return made, note


def all_steps(table: Table, steps: Sequence[StepBase], tables: TableOf = no_tables) -> Table:
    """The table after every step. Raises InputError that names the step at which the preparation stops."""
    result = prepare(table, steps, tables)
    if result.stopped is not None:
        error = result.stopped
        place = f"preparation, step {len(result.results) + 1}"
        raise InputError(error.what, where=f"{place}, {error.where}".rstrip(", "), remedy=error.remedy)
    return replace(result.table)
