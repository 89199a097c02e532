"""Steps that take rows away."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from echelle.plurals import plural
from echelle.tables.column_builders import take_rows
from echelle.tables.steps.conditions import rows_where
from echelle.tables.steps.left_out import mask_of
from echelle.tables.steps.models import Keep, LeaveOut
from echelle.tables.table import Table


def keep(table: Table, step: Keep) -> tuple[Table, str]:
    """The rows for which the condition holds."""
    held = rows_where(table, step.where, "where")
    gone = table.rows - int(held.sum())
    kept = table if gone == 0 else take_rows(table, np.flatnonzero(held))
    return kept, f"{plural(gone, 'row')} left out"


def leave_out(table: Table, step: LeaveOut) -> tuple[Table, str]:
    """Single rows marked as left out; they count nowhere and stay visible."""
    out = mask_of(step.rows, table, "rows")
    mask = out if table.left_out is None else out | table.left_out
    return replace(table, left_out=mask), "; ".join(dict.fromkeys(f"“{entry.reason}”" for entry in step.rows))
