"""Who is in which lane, and the account of everyone else."""

from __future__ import annotations

from dataclasses import replace

import pytest

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.readings import ReadingRules, read_lane
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Groups, Measure
from echelle.render import scene_of
from echelle.tables.steps.conditions import OneOf
from echelle.tables.steps.left_out import LeftOut
from tests.support.tables import box_recipe, lanes_table, table_of

SAMPLES = {
    "participant": [f"P-{1 + i // 3:03d}" for i in range(45)],
    "shift": [("Day", "Night", "Rotating")[i % 3] for i in range(45)],
    "sample": [("Waking", "Noon")[i % 2] for i in range(45)],
    "cortisol": [f"{i}.5" for i in range(40)] + ["QNS", "", "<0.4", "inf", "41.5"],
}


def test_the_account_adds_up() -> None:
    table = table_of(SAMPLES)
    recipe = recipe_of_form("box", "cortisol", "shift").model_copy(
        update={"keep": [OneOf(column="sample", values=["Waking"])], "left_out": [LeftOut(row=1, reason="slip")]}
    )
    result = arrange(recipe, table)
    account = result.account
    assert (account.rows, account.kept, account.left_out) == (45, 23, 1)
    assert (
        result.used + sum(account.missing_by.values()) + account.censored + account.left_out + account.ungrouped == account.kept
    )
    assert [lane.name for lane in result.lanes] == ["Day", "Night", "Rotating"]
    by_lane = {lane.name: lane.rows.tolist() for lane in result.lanes}
    assert 1 not in by_lane["Day"] and all(row % 2 == 1 for rows in by_lane.values() for row in rows)


def test_missing_is_counted_by_name_and_people_once() -> None:
    result = arrange(recipe_of_form("box", "cortisol"), table_of(SAMPLES))
    assert result.account.missing_by == {"QNS": 1, "empty": 1, "inf": 1} and result.account.censored == 1
    assert result.used == 41 and result.account.people == 15
    assert result.lanes[0].key == "all" and result.lanes[0].group is None


def test_order_and_names_come_from_the_recipe() -> None:
    recipe = box_recipe(groups=Groups(column="group", order=["c", "nobody", "a"], labels={"a": "Alpha"}))
    result = arrange(recipe, lanes_table({"a": [1.5], "b": [2.5], "c": [3.5]}))
    assert [(lane.group, lane.name) for lane in result.lanes] == [("c", "c"), ("a", "Alpha"), ("b", "b")]


def test_numbers_as_groups_stand_in_their_order() -> None:
    table = table_of({"dose": ["10", "2.5", "10", "0.5"], "level": [1.5, 2.5, 3.5, 4.5]})
    result = arrange(recipe_of_form("box", "level", "dose"), table)
    assert [lane.group for lane in result.lanes] == ["0.5", "2.5", "10"]


def test_rows_without_a_group_and_lanes_without_a_value() -> None:
    table = table_of({"group": ["a", "", "b", "a"], "level": [1.5, 2.5, "QNS", 3.5]})
    result = arrange(recipe_of_form("box", "level", "group"), table)
    assert result.account.ungrouped == 1
    empty = read_lane(result.lanes[1], ReadingRules())
    assert (empty.group, empty.n, empty.missing, empty.median, empty.mean) == ("b", 0, 1, None, None)


@pytest.mark.parametrize(
    ("update", "where"),
    [
        ({"measure": {"columns": ["group"]}}, "$.measure.columns[0]"),
        ({"measure": {"columns": ["lev"]}}, "$.measure.columns[0]"),
        ({"groups": {"column": "who"}}, "$.groups.column"),
        ({"keep": [{"column": "who", "is": ["a"]}]}, "$.keep[0].column"),
        ({"left_out": [{"row": 99, "reason": "slip"}]}, "$.left_out[0].row"),
    ],
)
def test_a_recipe_that_does_not_fit_the_table_is_refused_with_its_place(update: dict[str, object], where: str) -> None:
    recipe = type(box_recipe()).model_validate({**box_recipe().model_dump(mode="json"), **update})
    with pytest.raises(InputError) as caught:
        arrange(recipe, lanes_table({"a": [1.5, 2.5], "b": [3.5]}))
    assert caught.value.where == where and caught.value.remedy


def test_more_levels_than_lanes_are_refused() -> None:
    with pytest.raises(InputError, match="1,001 levels"):
        arrange(box_recipe(), lanes_table({f"g{i}": [i + 0.5] for i in range(1_001)}))


def test_several_measures_are_lanes_side_by_side() -> None:
    table = table_of({"Lot A (s)": [1.5, 2.5, "", ""], "Lot B (s)": [3.5, "", 4.5, 5.5], "Lot C (s)": ["QNS", 6.5, 7.5, 8.5]})
    result = arrange(
        recipe_of_form("box", "Lot A").model_copy(update={"measure": Measure(columns=["Lot A", "Lot B", "Lot C"])}), table
    )
    assert [(lane.key, lane.name, lane.values.tolist()) for lane in result.lanes] == [
        ("m1", "Lot A", [1.5, 2.5]), ("m2", "Lot B", [3.5, 4.5, 5.5]), ("m3", "Lot C", [6.5, 7.5, 8.5]),
    ]  # fmt: skip
    # Below the shorter column lies padding; the hole in Lot B and the mark in Lot C are missing.
    assert (result.account.rows, result.used, result.account.missing_by) == (10, 8, {"empty": 1, "QNS": 1})
    assert (result.heading, result.units) == ("value (s)", ("s",))


def test_measures_in_different_units_are_remarked() -> None:
    table = table_of({"CRP (mg/L)": [1.5, 2.5], "age (years)": [30, 40]})
    recipe = recipe_of_form("box", "CRP").model_copy(update={"measure": Measure(columns=["CRP", "age"])})
    assert [a.key for a in scene_of(recipe, table).advice if a.key == "units"]


def test_a_lane_reads_the_same_in_any_order() -> None:
    values = [3.5, 9.25, 1.5, 4.5, 80.5, 2.5, 3.25]
    entry, two = (arrange(box_recipe(), lanes_table({"a": v})).lanes[0] for v in (values, values[::-1]))
    first, second = (read_lane(lane, ReadingRules()).model_dump(exclude={"outliers"}) for lane in (entry, two))
    assert first == second
    [outlier] = read_lane(entry, ReadingRules()).outliers
    assert (outlier.row, outlier.value) == (5, 80.5)


def several(placed: str = "within groups", units: tuple[str, str] = ("mmol/L", "mmol/L"), **update: object) -> Arrangement:
    """LDL and HDL of two arms and two sites."""
    table = table_of(
        {
            "arm": ["a", "b", "a", "b", "a", "b"], "site": ["n", "n", "n", "s", "s", "s"],
            f"ldl ({units[0]})": [1.5, 2.5, 3.5, 4.5, 5.5, 6.5], f"hdl ({units[1]})": [11.5, 12.5, 13.5, 14.5, 15.5, None],
        }
    )  # fmt: skip
    measure = {"columns": ["ldl", "hdl"], "placed": placed}
    recipe = {"echelle": 1, "measure": measure, "groups": {"column": "arm"}, "layers": [{"id": "b1", "layer": "box"}], **update}
    told = Recipe.model_validate(recipe)
    assert scene_of(told, table).parts
    return arrange(told, table)


def lanes_of(arrangement: Arrangement) -> dict[tuple[str, str | None, str | None], list[float]]:
    panels = {panel.key: panel.name for panel in arrangement.panels}
    return {(panels[lane.panel], lane.group, lane.subgroup): lane.values.tolist() for lane in arrangement.lanes}


def test_several_measures_keep_their_groups() -> None:
    result = several()
    assert lanes_of(result) == {
        ("", "a", "ldl"): [1.5, 3.5, 5.5], ("", "a", "hdl"): [11.5, 13.5, 15.5],
        ("", "b", "ldl"): [2.5, 4.5, 6.5], ("", "b", "hdl"): [12.5, 14.5],
    }  # fmt: skip
    assert len({lane.key for lane in result.lanes}) == 4 and result.account.rows == 12
    assert result.used + sum(result.account.missing_by.values()) == result.account.rows


def test_measures_of_different_units_have_a_panel_each() -> None:
    apart = several(units=("mmol/L", "g/L"))
    assert lanes_of(apart) == {
        ("ldl (mmol/L)", "a", None): [1.5, 3.5, 5.5], ("ldl (mmol/L)", "b", None): [2.5, 4.5, 6.5],
        ("hdl (g/L)", "a", None): [11.5, 13.5, 15.5], ("hdl (g/L)", "b", None): [12.5, 14.5],
    }  # fmt: skip
    asked = several("panels", subgroups={"column": "site"})
    assert len(asked.panels) == 2 and len(asked.parts) == 2 and len({lane.key for lane in asked.lanes}) == 8


def test_groups_of_several_measures_are_in_one_order_that_of_the_first() -> None:
    result = several("panels", groups={"column": "arm", "sorted": "by median"})
    assert [level.level for level in result.slots] == ["b", "a"]


def test_what_stands_where_measures_stand_is_refused() -> None:
    with pytest.raises(ValueError, match="where subgroups would"):
        several(subgroups={"column": "site"})
    with pytest.raises(ValueError, match="no panels by columns"):
        several("panels", panels={"wrapped": {"column": "site"}})


def test_columns_of_unequal_length_share_the_places_of_their_groups() -> None:
    # The second column ends before the first row of group b.
    table = table_of({"arm": ["a", "a", "b", "c", "c"], "ldl": [1.5, 2.5, 3.5, 4.5, 5.5], "hdl": [9.5, 8.5, 7.5, 6.5, 5.5]})
    columns = [replace(column, length=2) if column.name == "ldl" else column for column in table.columns]
    table = replace(table, columns=tuple(columns))
    recipe = recipe_of_form("box", "ldl", "arm").model_copy(update={"measure": Measure(columns=["ldl", "hdl"])})
    result = arrange(recipe, table)
    assert [level.level for level in result.slots] == ["a", "b", "c"]
    assert all(result.slots[lane.slot].level == lane.group for lane in result.lanes)
    assert scene_of(recipe, table).parts
