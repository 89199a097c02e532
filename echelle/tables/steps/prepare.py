"""Replaying a preparation: step after step, until one no longer fits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from echelle.errors import InputError
from echelle.tables.steps import columns, derived, joining, models, rows, shape
from echelle.tables.table import Table

TableOf = Callable[[models.TableRef], Table]

_APPLY: dict[type[models.StepPart], Callable[[Table, Any], tuple[Table, str]]] = {
    models.Rename: columns.rename,
    models.SetKind: columns.set_kind,
    models.SetUnit: columns.set_unit,
    models.SetOrder: columns.set_order,
    models.SetLabels: columns.set_labels,
    models.JoinLevels: columns.join_levels,
    models.AsMissing: columns.as_missing,
    models.StandIn: columns.stand_in,
    models.Convert: columns.convert,
    models.Keep: rows.keep,
    models.LeaveOut: rows.leave_out,
    models.WideToLong: shape.wide_to_long,
    models.LongToWide: shape.long_to_wide,
    models.Combine: shape.combine,
    models.Intervals: derived.intervals,
    models.DatePart: derived.part_of_date,
    models.Derive: derived.derive,
    models.Relative: derived.relative,
}
_BRING: dict[type[models.StepPart], Callable[[Table, Any, Table], tuple[Table, str]]] = {
    models.Append: joining.append,
    models.Join: joining.join,
}


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


def no_tables(ref: models.TableRef) -> Table:
    """For preparations that bring no other table in."""
    raise InputError(f"{ref.name} is not at hand", remedy="Bring that file too.")


def prepare(table: Table, steps: Sequence[models.Step], tables: TableOf = no_tables) -> PreparationResult:
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


def apply(table: Table, step: models.Step, tables: TableOf = no_tables) -> tuple[Table, str]:
    """One step. Raises InputError where it does not fit."""
    bring = _BRING.get(type(step))
    if bring is None:
        return _APPLY[type(step)](table, step)
    assert isinstance(step, models.Append | models.Join)
    other = all_steps(tables(step.table), step.table.prepare, tables)
    return bring(table, step, other)


def all_steps(table: Table, steps: Sequence[models.Step], tables: TableOf = no_tables) -> Table:
    """The table after every step. Raises InputError that names the step at which the preparation stops."""
    result = prepare(table, steps, tables)
    if result.stopped is not None:
        error = result.stopped
        place = f"preparation, step {len(result.results) + 1}"
        raise InputError(error.what, where=f"{place}, {error.where}".rstrip(", "), remedy=error.remedy)
    return replace(result.table)
