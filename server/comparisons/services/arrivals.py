"""What a table brings with it when it comes in: its first comparison, or a look at what is watched."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import PurePath

from echelle.recipes.default_recipe import default_recipe
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.summary_statistics_tables import summary_columns
from server.comparisons.services.trail import begin, in_own_numbers
from server.comparisons.services.watch import look_at_watched
from server.tables.models import DataTable, ReadingJob


def table_came(job: ReadingJob, table: DataTable, columns: Sequence[ColumnSummary]) -> None:
    """The comparison that a new table starts with, none where no column holds anything; one that replaces another is looked at
    for what it breaks.
    """
    if job.replaces is not None:
        look_at_watched(table)
    elif any(column.distinct for column in columns):
        recipe = in_own_numbers(default_recipe(columns, summary_columns(columns, table.rows)), job.person)
        begin(table, recipe, job.person, PurePath(job.name).stem or job.name)
