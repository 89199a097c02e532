"""The account of rows: each row of the table is in exactly one place, and the place can be listed."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.tables.steps.conditions import OneOf
from echelle.tables.steps.left_out import LeftOut
from tests.support.tables import table_of

cells = st.sampled_from(["1.5", "2.5", "3.75", "QNS", "", "<0.4", "> 20"])
rows = st.lists(st.tuples(cells, st.sampled_from(["a", "b", "c", ""]), st.sampled_from(["x", "y"])), min_size=12, max_size=40)


def made(rows: list[tuple[str, str, str]], out: set[int], dropped: list[str]) -> tuple[Recipe, int]:
    recipe = recipe_of_form("box", "level", "group")
    groups = recipe.groups.model_copy(update={"dropped": dropped}) if recipe.groups else None
    left = [LeftOut(row=row, reason="odd") for row in sorted(out)]
    return recipe.model_copy(update={"groups": groups, "left_out": left, "keep": [OneOf(column="kind", values=["x"])]}), len(
        rows
    )


@settings(max_examples=60)
@given(rows, st.sets(st.integers(1, 12), max_size=4), st.sampled_from([[], ["b"]]))
def test_every_row_is_in_exactly_one_place(rows: list[tuple[str, str, str]], out: set[int], dropped: list[str]) -> None:
    # A few plain rows, so that the columns are what they are whatever was drawn.
    rows = [("1.5", "a", "x"), ("2.25", "b", "y"), ("3.5", "c", "x"), *rows]
    table = table_of({name: [row[i] for row in rows] for i, name in enumerate(("level", "group", "kind"))})
    recipe, count = made(rows, out, dropped)
    result = arrange(recipe, table)
    account = result.account
    inside = [int(row) for lane in result.lanes for row in lane.rows]
    aside = {why: set(places.tolist()) for why, places in account.aside.items()}
    kept = {i for i, row in enumerate(rows, 1) if row[2] == "x"}
    assert len(inside) == len(set(inside)) == result.used
    assert set(inside).isdisjoint(set().union(*aside.values()))
    assert set(inside) | set().union(*aside.values()) == kept and account.kept == len(kept) <= count
    assert len(aside["missing"]) == account.missing_by.get("QNS", 0) + account.missing_by.get("empty", 0)
    assert len(aside["beyond a limit"]) == account.censored and len(aside["left out"]) == account.left_out == len(out & kept)
    assert len(aside["ungrouped"] - aside["left out"]) <= account.ungrouped and len(aside["not shown"]) == account.dropped
    for why, row in ((why, row) for why, places in aside.items() for row in places):
        level, group, _ = rows[row - 1]
        expected = {
            "missing": level in ("QNS", ""), "beyond a limit": level[:1] in "<>", "left out": row in out,
            "ungrouped": group == "", "not shown": group in dropped,
        }  # fmt: skip
        assert expected[why], (why, row, level, group)


def test_rows_of_several_measures_are_listed_once() -> None:
    table = table_of({"one": ["1.5", "QNS", "2.5", "QNS"], "two": ["3.5", "QNS", "ND", "4.5"]})
    recipe = recipe_of_form("box", "one").model_copy(update={"measure": recipe_of_form("box", "one").measure})
    both = recipe.model_copy(update={"measure": recipe.measure.model_copy(update={"columns": ["one", "two"]})})
    result = arrange(both, table)
    assert result.account.aside["missing"].tolist() == [2, 3, 4] and sum(result.account.missing_by.values()) == 4
    assert np.concatenate([lane.rows for lane in result.lanes]).tolist() == [1, 3, 1, 4]
