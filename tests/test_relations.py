"""What stays when a table is written otherwise: rows in another order, other names of levels, one more column, two files."""

from __future__ import annotations

import random
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.command_line.lane_readings import DescribeOptions, describe_lanes
from echelle.comparison.lane_differences import compare_lanes
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.prepare import prepare
from echelle.tables.table import Table
from tests.support.steps import ref

Row = tuple[str, str]
cells = st.one_of(st.integers(1, 99).map(lambda n: f"{n / 10}"), st.sampled_from(["", "<0.4", "NA"]))
rows_of = st.lists(st.tuples(st.sampled_from(["Day", "Night", "Late"]), cells), min_size=8, max_size=30)
# The tenths make the column a measure whatever else is drawn.
FIRST: list[Row] = [("Day", "2.5"), ("Night", "3.5"), ("Late", "1.5"), ("Day", "4.5"), ("Night", "9.5"), ("Late", "7.5")]


def table(rows: list[Row], more: str = "") -> Table:
    lines = [f"shift,level{',site' if more else ''}", *(f"{group},{cell}{more}" for group, cell in rows)]
    return read_bytes("\n".join(lines).encode()).table


def told(made: Table) -> dict[str, dict[str, Any]]:
    """All readings of each lane but for the order of outliers, by group; and every comparison with the lane called Day."""
    options = DescribeOptions(quantiles=("0.1", "0.9"), bins="sturges", further=True)
    lanes = describe_lanes(lambda recipe, use: made, ["level"], "shift", options=options)["lanes"]
    readings = {
        lane["group"]: {key: value for key, value in lane.items() if key not in ("group", "outliers")}
        | {"outliers": sorted(outlier["value"] for outlier in lane["outliers"])}
        for lane in lanes
    }
    arrangement = arrange(recipe_of_form("means", "level", "shift"), made)
    pairs = compare_lanes(arrangement, Differences(reference="Day", adjusted="none", resamples=500)).pairs
    return readings | {f"{pair.other} to Day": pair.model_dump() for pair in pairs}


@settings(max_examples=10)
@given(rows_of, st.randoms(use_true_random=False))
def test_the_order_of_rows_changes_no_bit(rows: list[Row], chance: random.Random) -> None:
    plain = [*FIRST, *rows]
    shuffled = plain[:]
    chance.shuffle(shuffled)
    assert told(table(shuffled)) == told(table(plain))


@settings(max_examples=10)
@given(rows_of)
def test_one_more_column_and_two_files_change_no_bit(rows: list[Row]) -> None:
    plain = [*FIRST, *rows]
    expected = told(table(plain))
    assert told(table(plain, ",Harbour")) == expected
    halves = table([*FIRST, *rows[:4]]), table([*FIRST[:3], *rows[4:]])
    appended = prepare(halves[0], steps_from([{"step": "append", "table": ref("more"), "source": "file"}]), lambda _: halves[1])
    assert appended.stopped is None
    assert told(appended.table) == told(table([*FIRST, *rows[:4], *FIRST[:3], *rows[4:]]))


@settings(max_examples=10)
@given(rows_of)
def test_levels_under_other_names_keep_their_numbers(rows: list[Row]) -> None:
    plain = [*FIRST, *rows]
    names = {"Day": "Day", "Night": "zz", "Late": "A 1"}
    expected = told(table(plain))
    renamed = told(table([(names[group], cell) for group, cell in plain]))
    assert {group: renamed[names[group]] for group in names} == {group: expected[group] for group in names}
    for group in ("Night", "Late"):
        one, other = expected.get(f"{group} to Day"), renamed.get(f"{names[group]} to Day")
        assert (one is None) == (other is None)
        assert one is None or other is None or {**one, "other": ""} == {**other, "other": ""}


@settings(max_examples=10)
@given(rows_of)
def test_rows_written_twice_double_n_and_keep_the_mean(rows: list[Row]) -> None:
    plain = [*FIRST, *rows]
    once, twice = told(table(plain)), told(table([*plain, *plain]))
    for group in ("Day", "Night", "Late"):
        assert twice[group]["n"] == 2 * once[group]["n"] and twice[group]["missing"] == 2 * once[group]["missing"]
        assert [twice[group][key] for key in ("min", "max", "mean")] == [once[group][key] for key in ("min", "max", "mean")]
