"""One row of a figure, for its card; and leaving it out or taking it back."""

from __future__ import annotations

from datetime import UTC, datetime

import numpy as np

from echelle.errors import InputError
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.figures.lanes.readings import read_lane, rules_of
from echelle.recipes.recipe import Recipe
from echelle.tables.steps.left_out import LeftOut, entry_for
from echelle.tables.table import PART_KEYS, Table
from server.comparisons.bodies import RowCard, RowCell
from server.tables.services.rows import cells_of


def card_of(recipe: Recipe, arrangement: Arrangement, table: Table, key: int) -> RowCard:
    """The card of a row. Raises InputError where the table has no such row."""
    place = _place(table, key)
    lane, value = _in_lane(arrangement, key)
    iqrs = sds = None
    if lane is not None and value is not None:
        readings, shape = read_lane(lane, rules_of(recipe), 0), lane.moments
        if readings.median is not None and readings.iqr:
            iqrs = (value - readings.median) / readings.iqr
        if shape.mean is not None and shape.sd:
            sds = (value - shape.mean) / shape.sd
    reason = next((entry.reason for entry in recipe.left_out if _is(entry, table, key)), "")
    return RowCard(
        row=table.row_ids.written(key), lane=lane.name if lane else "", value=value, iqrs=iqrs, sds=sds, left_out=reason,
        cells=[RowCell(column=c.heading, value=cells_of(c, np.array([place]))[0]) for c in table.columns],
    )  # fmt: skip


def leave_out_row(recipe: Recipe, table: Table, key: int, reason: str, by: str) -> Recipe:
    """The recipe without a row; without a reason the row counts again. Raises InputError where there is no such row."""
    place = _place(table, key)
    others = [entry for entry in recipe.left_out if not _is(entry, table, key)]
    if reason:
        others.append(entry_for(table, place, reason, by, datetime.now(UTC).replace(microsecond=0)))
    return recipe.model_copy(update={"left_out": others})


def _place(table: Table, key: int) -> int:
    flatnonzero = np.flatnonzero(table.row_ids.keys == key)
    if not len(flatnonzero):
        raise InputError("the table has no such row", where=f"row {key}", remedy="Reload the page.")
    return int(flatnonzero[0])


def _is(entry: LeftOut, table: Table, key: int) -> bool:
    """Whether an entry names the row of a key."""
    return (entry.row, entry.part) == (key % PART_KEYS, table.row_ids.parts[key // PART_KEYS])


def _in_lane(arrangement: Arrangement, key: int) -> tuple[Lane | None, float | None]:
    """The lane that a row lies in, and its value there; left-out rows have one too."""
    for lane in arrangement.lanes:
        for rows, values in ((lane.rows, lane.values), (lane.out.rows, lane.out.limits)):
            flatnonzero = np.flatnonzero(rows == key)
            if len(flatnonzero):
                return lane, float(values[flatnonzero[0]])
    return None, None
