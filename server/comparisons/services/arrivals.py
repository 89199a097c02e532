"""What a table brings with it when it comes in: its first comparison, or a look at what is watched."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import PurePath

from echelle.errors import InputError
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.registry import Step
from server.comparisons.services.proposal import proposal
from server.comparisons.services.trail import begin
from server.comparisons.services.watch import look_at_watched
from server.tables.models import DataTable, ReadingJob
from server.tables.services.cache import prepared_of
from server.tables.services.preparation import settle_steps


def table_came(job: ReadingJob, table: DataTable, columns: Sequence[ColumnSummary]) -> None:
    """The comparison that a new table starts with, none where no column holds anything; one that replaces another is looked at
    for what it breaks. In a study that was begun like another it is prepared as tables were there, where that fits.
    """
    if job.replaces is not None:
        look_at_watched(table)
    elif any(column.distinct for column in columns):
        if steps := _fitting_steps(table):
            settle_steps(table, 0, steps, job.person)
        begin(table, proposal(table, steps, job.person), job.person, PurePath(job.name).stem or job.name)


def _fitting_steps(table: DataTable) -> list[Step]:
    """The first of the study's kept preparations that the table as read can be taken through; nothing where none fits."""
    for kept in table.study.preparations:
        try:
            steps = steps_from(kept)
        except InputError:
            continue
        if prepared_of(table, steps).stopped is None:
            return steps
    return []
