"""The readings of a table's lanes as plain data, for ``echelle describe``."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from echelle.errors import InputError
from echelle.figures.arrange import Lane, arrange
from echelle.figures.readings import ReadingRules, read_lane
from echelle.numbers.quantiles import QuantileType
from echelle.recipes.forms import recipe_of_form
from echelle.tables.table import Table

_COUNTS = ("n", "missing", "censored")
_NUMBERS = (
    "min", "q1", "median", "q3", "max", "iqr", "mean", "variance", "sd", "se", "skewness", "kurtosis",
    "fence_low", "fence_high", "whisker_low", "whisker_high",
)  # fmt: skip


def describe_lanes(
    table: Table, measures: Sequence[str], groups: str | None, quantile_type: QuantileType, fence: float
) -> dict[str, Any]:
    """Readings with full digits; what has no value is None. Several measures give one lane each.

    Raises InputError for a column that is not there or holds no numbers, and for several measures with groups.
    """
    if len(measures) > 1 and groups:
        raise InputError("several measures give one lane each, without groups", where="--groups", remedy="Leave one out.")
    rules = ReadingRules(quantile_type, fence)
    lanes: list[dict[str, Any]] = []
    for measure in measures:
        arrangement = arrange(recipe_of_form("box", measure, groups), table)
        for lane in arrangement.lanes:
            lanes.append(_described(lane, rules, lane.group if len(measures) == 1 else arrangement.name))
    names = [table.column(measure).name for measure in measures]
    return {
        "measure": names[0] if len(names) == 1 else names,
        "rows": table.rows,
        "ungrouped": arrangement.ungrouped,
        "lanes": lanes,
    }


def _described(lane: Lane, rules: ReadingRules, group: str | None) -> dict[str, Any]:
    readings = read_lane(lane, rules)
    found: dict[str, Any] = {"group": group}
    found |= {key: getattr(readings, key) for key in (*_COUNTS, *_NUMBERS)}
    found["outliers"] = [{"row": o.row, "value": o.value} for o in readings.outliers]
    return found
