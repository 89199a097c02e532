"""Rows of a figure: those behind a count, a selection, or a part of a lane."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from echelle.figures.lanes.lane import Arrangement
from echelle.tables.table import Table
from server.comparisons.bodies import AskRows, RowsOfFigure
from server.tables.services.rows import cells_of

MOST_KEYS = 20_000
Keys = NDArray[np.int64]


def rows_of(query: AskRows, arrangement: Arrangement, table: Table) -> RowsOfFigure:
    """Which rows were asked for, in the table's order, with lane and value of each, and the cells of a window."""
    result = table.row_ids.keys
    order = np.argsort(result, kind="stable")
    wanted = np.unique(_condition(query, arrangement))
    at = np.minimum(np.searchsorted(result[order], wanted), max(len(result) - 1, 0))
    places = np.sort(order[at[result[order][at] == wanted]]) if len(result) else order
    keys = result[places]
    lanes, values = _lanes_of(arrangement, keys[:MOST_KEYS])
    shown = places[query.start : query.start + query.count]
    return RowsOfFigure(
        total=len(keys), counted=_counted(query, arrangement), keys=keys[:MOST_KEYS].tolist(), lanes=lanes, values=values,
        start=query.start, ids=[table.row_ids.written(int(key)) for key in result[shown]],
        columns=[column.heading for column in table.columns], cells=[cells_of(column, shown) for column in table.columns],
    )  # fmt: skip


def _condition(query: AskRows, arrangement: Arrangement) -> Keys:
    if query.aside is not None:
        return arrangement.account.aside.get(query.aside, np.empty(0, dtype=np.int64))
    lanes = {lane.key: lane for lane in arrangement.lanes}
    parts = [np.array(query.keys, dtype=np.int64)]
    for span in query.spans:
        if (lane := lanes.get(span.lane)) is not None:
            parts.append(lane.rows[(lane.values >= span.low) & (lane.values <= span.high)])
    return np.concatenate(parts)


def _counted(query: AskRows, arrangement: Arrangement) -> int | None:
    """How many rows of a far table have values in the spans."""
    if arrangement.account.parts is None or not query.spans:
        return None
    count = 0
    for lane in arrangement.lanes:
        values = lane.ordered.values
        within = np.zeros(values.shape, dtype=np.bool_)
        for span in query.spans:
            if span.lane == lane.key:
                within |= (values >= span.low) & (values <= span.high)
        count += int(lane.ordered.total(within.astype(np.float64)))
    return count


def _lanes_of(arrangement: Arrangement, keys: Keys) -> tuple[list[str], list[float | None]]:
    """The lane and the value of each row; "" and None for rows in no lane. Several measures: the first that has the row."""
    lanes, values = [""] * len(keys), [None] * len(keys)
    place = {int(key): i for i, key in enumerate(keys)}
    for lane in arrangement.lanes:
        for rows, numbers in ((lane.rows, lane.values), (lane.out.rows, lane.out.limits)):
            for i in np.flatnonzero(np.isin(rows, keys)).tolist():
                at = place[int(rows[i])]
                if not lanes[at]:
                    lanes[at], values[at] = lane.key, float(numbers[i])  # type: ignore[call-overload]
    return lanes, values  # type: ignore[return-value]
