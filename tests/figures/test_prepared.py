"""Figures over prepared tables: row ids, left-out rows, orders and conditions reach lanes, counts and notes."""

from __future__ import annotations

from typing import Any

import pytest

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.numbers.point_spread import jitter
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import PointsPart, unpack
from echelle.tables.table import PART_KEYS, Table
from tests.support.steps import after, read

WIDE = read("who,Lot A (s),Lot B (s)\n" + "".join(f"P-{i},{i}.5,{2 * i}.25\n" for i in range(1, 9)))
LONG = {"step": "wide to long", "columns": ["Lot A", "Lot B"], "names": "lot", "values": "time"}


def points(table: Table, **update: Any) -> Recipe:
    recipe = recipe_of_form("box", "time", "lot").model_copy(update={"layers": [PointsLayer(id="p1")]})
    return recipe_from({**recipe.model_dump(mode="json"), **update})


def row_ids(table: Table, recipe: Recipe) -> dict[str, list[int]]:
    """The row ids of the points of each lane."""
    result: dict[str, list[int]] = {}
    for part in scene_of(recipe, table).walk():
        if isinstance(part, PointsPart):
            result.setdefault(part.lane, []).extend(unpack(part.columns.rows, "<f8").astype(int).tolist())
    return result


def test_points_carry_the_ids_of_prepared_rows_and_keep_their_place() -> None:
    table = after(WIDE, LONG)
    ids = row_ids(table, points(table))
    assert ids["g1"] == [PART_KEYS + i for i in range(1, 9)] and ids["g2"] == [2 * PART_KEYS + i for i in range(1, 9)]
    fewer = after(WIDE, {"step": "keep", "where": {"column": "who", "is_not": ["P-1"]}}, LONG)
    assert row_ids(fewer, points(fewer))["g1"] == ids["g1"][1:]
    keys = fewer.row_ids.keys
    assert jitter(keys, 41).tolist() == jitter(table.row_ids.keys, 41)[2:].tolist()


def test_rows_left_out_by_the_preparation_and_by_the_comparison_are_counted_apart() -> None:
    table = after(WIDE, {"step": "leave out", "rows": [{"row": 1, "reason": "spilt"}]}, LONG)
    recipe = points(table, left_out=[{"row": 2, "part": "Lot B", "reason": "slip"}])
    result = arrange(recipe, table)
    assert (result.account.rows, result.account.kept, result.account.left_out, result.used) == (14, 14, 1, 13)
    assert "1 row left out (row 2: slip)" in scene_of(recipe, table).note
    with pytest.raises(InputError, match="row 99 is not in the table"):
        arrange(points(WIDE, measure={"columns": ["Lot A"]}, groups=None, left_out=[{"row": 99, "reason": "x"}]), WIDE)


@pytest.mark.parametrize(
    ("keep", "used", "words"),
    [
        ([{"column": "time", "from": 5.0}], 10, "time from 5"),
        ([{"column": "time", "above": 2, "below": 5.5}], 5, "time > 2 < 5.5"),
        ([{"column": "who", "is_not": ["P-1", "P-2"]}], 12, "who ≠ P-1, P-2"),
        ([{"column": "who", "missing": True}], 0, "who missing"),
        ([{"column": "lot", "is": ["Lot B"]}, {"column": "time", "to": 4.25}], 2, "lot = Lot B; time to 4.25"),
    ],
)
def test_a_comparison_keeps_rows_by_every_kind_of_condition(keep: list[dict[str, Any]], used: int, words: str) -> None:
    table = after(WIDE, LONG)
    recipe = points(table, keep=keep)
    arrangement = arrange(recipe, table)
    assert arrangement.used == used and f"Rows kept: {words} ({arrangement.unkept} not kept)." in scene_of(recipe, table).note


def test_lanes_follow_the_order_that_the_preparation_gives() -> None:
    table = after(WIDE, LONG, {"step": "order", "column": "lot", "levels": ["Lot B", "Lot A"]})
    assert [lane.group for lane in arrange(points(table), table).lanes] == ["Lot B", "Lot A"]
    by_hand = points(table, groups={"column": "lot", "order": ["Lot A"]})
    assert [lane.group for lane in arrange(by_hand, table).lanes] == ["Lot A", "Lot B"]


def test_people_are_counted_over_repeats_and_combined_rows_stand_for_their_lists() -> None:
    rows = "".join(f"P-{i // 2:02d},{'ab'[i // 2 % 2]},{i}.5\n" for i in range(30))
    table = read(f"participant,arm,level\n{rows}")
    plain = arrange(recipe_of_form("box", "level", "arm"), table)
    assert (plain.used, plain.account.people) == (30, 15)
    entry = after(table, {"step": "combine", "by": ["participant"], "how": "median"})
    combined = arrange(recipe_of_form("box", "level", "arm"), entry)
    assert (combined.used, combined.account.people) == (15, None) and combined.lanes[0].values.tolist()[:2] == [1.0, 5.0]
    assert combined.lanes[0].rows.tolist()[:2] == [1, 5] and entry.row_ids.list_of(1).tolist() == [3, 4]
