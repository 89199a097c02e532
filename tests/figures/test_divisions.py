"""Orders, joins, cuts and places of groups, subgroups and panels."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Cut, Groups, JoinedLevels, Measure, Panels, Subgroups
from echelle.recipes.style import Axis
from echelle.render import scene_of
from echelle.scene.models import Scene
from echelle.tables.steps.conditions import NoneOf, OneOf
from tests.support.tables import box_recipe, lanes_table, table_of

LANES = {"b": [1.5, 2.5, 3.5], "a": [10.5, 20.5], "C": [5.5, 5.6, 5.7, 40.5]}


def order(**update: object) -> list[str | None]:
    recipe = box_recipe(groups=Groups(column="group", **update))  # type: ignore[arg-type]
    return [lane.group for lane in arrange(recipe, lanes_table(LANES)).lanes]


def grouped(columns: dict[str, list[str]], groups: Groups, **update: object) -> Recipe:
    return recipe_of_form("box", "level", groups.column).model_copy(update={"groups": groups, **update})


def test_orders() -> None:
    assert order() == ["b", "a", "C"]
    assert order(sorted="alphabetical") == ["a", "b", "C"]
    assert order(sorted="by median") == ["a", "C", "b"]
    assert order(sorted="by mean") == ["a", "C", "b"]
    assert order(sorted="by n") == ["C", "b", "a"]
    assert order(order=["C"]) == ["C", "b", "a"]


def test_months_stand_in_the_order_of_the_calendar() -> None:
    table = table_of({"month": ["Mar", "Jan", "Feb", "Jan"], "level": [1.5, 2.5, 3.5, 4.5]})
    recipe = grouped({}, Groups(column="month", sorted="calendar"))
    assert [lane.group for lane in arrange(recipe, table).lanes] == ["Jan", "Feb", "Mar"]


def test_dropped_levels_are_counted_apart_and_joined_ones_are_one_lane() -> None:
    recipe = box_recipe(groups=Groups(column="group", dropped=["b"], joined=[JoinedLevels(name="other", levels=["a", "C"])]))
    result = arrange(recipe, lanes_table(LANES))
    assert [(lane.group, lane.n) for lane in result.lanes] == [("other", 6)]
    assert (result.account.dropped, result.account.ungrouped, result.used) == (3, 0, 6)
    assert result.lanes[0].rows.tolist() == [4, 5, 6, 7, 8, 9]


@pytest.mark.parametrize(
    ("closed", "sizes", "names"),
    [
        ("left", [1, 2, 2], ["below 20", "20 to below 40", "40 and above"]),
        ("right", [2, 2, 1], ["to 20", "above 20 to 40", "above 40"]),
    ],
)
def test_numbers_cut_into_intervals(closed: str, sizes: list[int], names: list[str]) -> None:
    table = table_of({"age": ["10.5", "20", "30.5", "40", "50.5", ""], "level": [1.5, 2.5, 3.5, 4.5, 5.5, 6.5]})
    recipe = grouped({}, Groups(column="age", cut=Cut(edges=[20, 40], closed=closed)))  # type: ignore[arg-type]
    result = arrange(recipe, table)
    assert [lane.n for lane in result.lanes] == sizes and result.account.ungrouped == 1
    # Recipes name levels by these words: they stay as they are.
    assert [lane.name for lane in result.lanes] == names
    named = Cut(edges=[20, 40], names=["young", "middle", "old"], closed=closed)  # type: ignore[arg-type]
    lanes = arrange(recipe.model_copy(update={"groups": Groups(column="age", cut=named)}), table).lanes
    assert [lane.name for lane in lanes] == ["young", "middle", "old"]


def test_dates_by_weekday_and_month() -> None:
    days = ["2024-01-01", "2024-01-07", "2024-03-05", "2024-03-04"]
    table = table_of({"day": days, "level": [1.5, 2.5, 3.5, 4.5]})
    week = arrange(grouped({}, Groups(column="day", dates="weekdays")), table)
    assert [(lane.group, lane.n) for lane in week.lanes] == [("Monday", 2), ("Tuesday", 1), ("Sunday", 1)]
    months = arrange(grouped({}, Groups(column="day", dates="months")), table)
    assert [(lane.group, lane.n) for lane in months.lanes] == [("January", 2), ("March", 2)]
    with pytest.raises(InputError, match="holds no dates"):
        arrange(grouped({}, Groups(column="level", dates="months")), table)


@pytest.mark.parametrize(
    ("days", "part", "lanes"),
    [
        (["1999", "2001", "2001", "2004"], "years", ["1999", "2001", "2004"]),
        (["2024-01", "2024-03", "2023-04", "2024-12"], "quarters", ["Q1", "Q2", "Q4"]),
        (
            ["2024-01-01 05:59", "2024-01-01 06:00", "2024-01-02 13:59", "2024-01-02 22:00"],
            "shifts",
            ["Early shift", "Night shift"],
        ),
        (
            ["2024-01-01 05:59", "2024-01-01 06:00", "2024-01-02 13:59", "2024-01-02 22:00"],
            "hours",
            ["5 h", "6 h", "13 h", "22 h"],
        ),
    ],
)
def test_dates_by_other_parts_of_them(days: list[str], part: str, lanes: list[str]) -> None:
    table = table_of({"day": days, "level": [1.5, 2.5, 3.5, 4.5]})
    column = table.column("day")
    table = table if column.kind == "date" else replace(table, columns=(replace(column, kind="date"), *table.columns[1:]))
    result = arrange(grouped({}, Groups(column="day", dates=part)), table)  # type: ignore[arg-type]
    assert [lane.group for lane in result.lanes] == lanes


def test_dates_without_a_time_have_no_shifts() -> None:
    table = table_of({"day": ["2024-01-01", "2024-01-07"], "level": [1.5, 2.5]})
    with pytest.raises(InputError, match="do not tell shifts"):
        arrange(grouped({}, Groups(column="day", dates="shifts")), table)


def test_empty_groups_close_up_or_keep_their_place() -> None:
    table = table_of({"group": ["a", "b", "c"], "level": [1.5, 2.5, 3.5], "use": ["yes", "no", "yes"]})
    kept = [OneOf(column="use", values=["yes"])]
    for empty, slots in (("close up", 2), ("keep", 3)):
        result = arrange(grouped({}, Groups(column="group", empty=empty), keep=kept), table)  # type: ignore[arg-type]
        assert (len(result.slots), [lane.slot for lane in result.lanes]) == (slots, [0, slots - 1])


SPLIT = table_of({
    "arm": [f"arm {'AB'[i % 2]}" for i in range(24)], "sex": [("f", "m", "x")[i // 2 % 3] for i in range(24)],
    "site": [("North", "South")[i // 12] for i in range(24)], "level": [f"{i}.5" for i in range(24)],
})  # fmt: skip


def bands(scene: Scene) -> dict[str, tuple[float, float]]:
    return {lane.key: (lane.start, lane.end) for lane in scene.lanes}


def test_subgroups_share_their_group_evenly_though_some_are_missing() -> None:
    recipe = recipe_of_form("box", "level", "arm", "sex")
    whole = bands(scene_of(recipe, SPLIT))
    assert len({round(end - start, 2) for start, end in whole.values()}) == 1
    fewer = recipe.model_copy(update={"keep": [NoneOf(column="sex", values=["x"])]})
    widths = {round(end - start, 2) for start, end in bands(scene_of(fewer, SPLIT)).values()}
    assert widths == {round(end - start, 2) for start, end in whole.values()}


def test_back_to_back_shares_one_strip_and_needs_two() -> None:
    recipe = recipe_of_form("box", "level", "sex", "arm")
    recipe = recipe.model_copy(update={"subgroups": Subgroups(column="arm", placed="back-to-back"), "axis": Axis(runs="up")})
    scene = scene_of(recipe, SPLIT)
    assert len(set(bands(scene).values())) == 3 and len(scene.lanes) == 6
    boxes = {part.lane: part for part in scene.walk() if part.role == "box"}
    left, right = boxes["g1s1"], boxes["g1s2"]
    assert left.x + left.width == pytest.approx(right.x, abs=0.01)
    three = recipe_of_form("violin", "level", "arm", "sex")
    with pytest.raises(InputError, match="back to back"):
        scene_of(three.model_copy(update={"subgroups": Subgroups(column="sex", placed="back-to-back")}), SPLIT)


def test_lanes_stand_at_their_number() -> None:
    table = table_of({"dose": ["0", "1", "1", "4", "4"], "level": [1.5, 2.5, 3.5, 4.5, 5.5]})
    scene = scene_of(grouped({}, Groups(column="dose", placed="at value")), table)
    middles = [(start + end) / 2 for start, end in bands(scene).values()]
    assert (middles[2] - middles[0]) / (middles[1] - middles[0]) == pytest.approx(4.0, abs=0.01)
    with pytest.raises(InputError, match="no numbers"):
        scene_of(box_recipe(groups=Groups(column="group", placed="at value")), lanes_table(LANES))


@pytest.mark.parametrize(("width", "ratio"), [("by n", 4 / 2), ("by root n", 2**0.5), ("same", 1.0)])
def test_lane_widths_follow_n_where_asked(width: str, ratio: float) -> None:
    scene = scene_of(box_recipe(groups=Groups(column="group", width=width)), lanes_table(LANES))  # type: ignore[arg-type]
    widths = {lane.group: lane.end - lane.start for lane in scene.lanes}
    assert widths["C"] / widths["a"] == pytest.approx(ratio, abs=0.01)


def test_panels_down_across_and_wrapped() -> None:
    recipe = recipe_of_form("box", "level", "arm", None, "site", "sex")
    result = arrange(recipe, SPLIT)
    assert [(p.name, p.row, p.column) for p in result.panels[:4]] == [
        ("f · North", 0, 0), ("m · North", 0, 1), ("x · North", 0, 2), ("f · South", 1, 0),
    ]  # fmt: skip
    assert sum(lane.n for lane in result.lanes) == 24 and len({lane.key for lane in result.lanes}) == len(result.lanes)
    wrapped = recipe.model_copy(update={"panels": Panels.model_validate({"wrapped": {"column": "sex"}, "in_line": 2})})
    assert [(p.row, p.column) for p in arrange(wrapped, SPLIT).panels] == [(0, 0), (0, 1), (1, 0)]


def test_one_scale_one_a_line_or_each_its_own() -> None:
    def domains(scales: str) -> int:
        recipe = recipe_of_form("box", "level", "arm", None, "site", "sex")
        panels = recipe.panels.model_copy(update={"scales": scales})
        return len({panel.scale.domain for panel in scene_of(recipe.model_copy(update={"panels": panels}), SPLIT).panels})

    assert (domains("one"), domains("one-per-line"), domains("each-its-own")) == (1, 3, 6)


def test_measures_in_different_units_get_a_panel_each() -> None:
    table = table_of({"weight (kg)": ["60.5", "70.5"], "height (cm)": ["160.5", "170.5"], "mass (kg)": ["61.5", "71.5"]})
    recipe = recipe_of_form("box", "weight").model_copy(update={"measure": Measure(columns=["weight", "height", "mass"])})
    scene = scene_of(recipe, table)
    assert [panel.name for panel in scene.panels] == ["kg", "cm"]
    assert {lane.name: lane.panel for lane in scene.lanes} == {"weight": "p1", "height": "p2", "mass": "p1"}
    assert scene.panels[0].scale.domain[1] < 100 < scene.panels[1].scale.domain[0]
    assert any(advice.key == "units" for advice in scene.advice)


def test_too_many_lanes_and_panels_are_refused_by_place() -> None:
    rows = range(1_250)
    many = table_of({"a": [f"a{i % 25}" for i in rows], "b": [f"b{i // 25}" for i in rows],
                     "level": np.round(np.linspace(1, 9, 1_250), 3).tolist()})  # fmt: skip
    with pytest.raises(InputError, match="1,250 lanes"):
        arrange(recipe_of_form("box", "level", "a", "b"), many)
    with pytest.raises(InputError, match="1250 panels"):
        arrange(recipe_of_form("box", "level", None, None, "a", "b"), many)
