"""Rows add up: from those read, by each step of the preparation, to those that every reading counts."""

from __future__ import annotations

import random

import pytest

from echelle.figures.lanes.arrange import arrange
from echelle.figures.settings import figure_options
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.reports.content import ReportPart, facts_of
from echelle.tables.reading.read import read_bytes
from echelle.tables.table import Table
from scripts.drawn_digests import random_recipe
from tests.support.steps import Record, after

CYCLES = {
    "ward": ["Harbour", "Ridge", ""], "day": ["1", "2"], "sample": ["waking", "noon", "evening"],
    "haemolysed": ["yes"] + ["no"] * 6,
    "shift pattern": ["Day", "Night", "", "Rotating"], "nights in a row": ["0", "1", "2", "3", "4"],
    "cortisol": ["<0.4", "", "5.5", "inf", "6.25", "7.5", "4.75", "8"], "second": [f"{i}.5" for i in range(9)],
}  # fmt: skip
LINES = [",".join(["participant", *CYCLES])] + [
    ",".join([f"P-{i % 17}", *(cells[i % len(cells)] for cells in CYCLES.values())]) for i in range(97)
]
STEPS: dict[str, list[Record]] = {
    "nothing": [],
    "kept": [{"step": "keep", "where": {"column": "ward", "is": ["Harbour"]}}],
    "left out": [{"step": "leave out", "rows": [{"row": 3, "reason": "slip"}, {"row": 8, "reason": "slip"}]}],
    "kept twice": [
        {"step": "keep", "where": {"column": "day", "is": ["1"]}},
        {"step": "keep", "where": {"column": "haemolysed", "is_not": ["yes"]}},
    ],
    "long": [{"step": "wide to long", "columns": ["cortisol", "second"], "names": "which", "values": "level"}],
    "combined": [{"step": "combine", "by": ["participant", "day"], "how": "mean"}],
}
RAW = read_bytes("\n".join(LINES).encode()).table


def recipes(table: Table, seeds: range) -> list[Recipe]:
    """Random questions with conditions, rows left out by hand, levels that are not shown, and two measures."""
    options, result = figure_options(), []
    measure = "level" if any(c.name == "level" for c in table.columns) else "cortisol"
    for seed in seeds:
        chance = random.Random(f"account{seed}")
        record = random_recipe(chance, options, table)
        record["layers"] = [{"layer": "points", "id": "p1"}]
        record["measure"] = {"columns": [measure]}
        if chance.random() < 0.3 and measure == "cortisol" and "groups" in record:
            del record["groups"]
            record.pop("subgroups", None)
            record["measure"] = {"columns": ["cortisol", "second"]}
        if chance.random() < 0.4:
            record["keep"] = [{"column": "haemolysed", "is": ["no"]}]
        if chance.random() < 0.4 and "groups" in record:
            record["groups"]["dropped"] = ["Night", "noon", "Ridge"]
        record.setdefault("axis", {})["scale"] = "linear"
        result.append(Recipe.model_validate(record))
    return result


@pytest.mark.parametrize("name", STEPS)
def test_every_row_read_is_in_one_place(name: str) -> None:
    table = after(RAW, *STEPS[name])
    assert table.read == len(LINES) - 1
    changes = table.prepared
    assert [change.after for change in changes[:-1]] == [change.before for change in changes[1:]]
    assert not changes or changes[-1].after == table.in_use
    for recipe in recipes(table, range(40)):
        arrangement = arrange(recipe, table)
        account, each = arrangement.account, len(recipe.measure.columns)
        aside = sum(account.missing_by.values()) + account.censored + account.left_out + account.ungrouped + account.dropped
        assert account.rows == table.in_use * each
        assert arrangement.used + aside + arrangement.unkept == account.rows, recipe
        if each == 1:
            assert {why: len(rows) for why, rows in account.aside.items()} == {
                "missing": sum(account.missing_by.values()), "beyond a limit": account.censored, "left out": account.left_out,
                "ungrouped": account.ungrouped, "not shown": account.dropped,
            }  # fmt: skip


def test_note_report_and_places_tell_the_same_rows() -> None:
    table = after(RAW, *STEPS["kept twice"])
    recipe = recipe_of_form("box", "cortisol", "shift pattern")
    recipe = recipe.model_copy(
        update={"words": recipe.words.model_copy(update={"title": "{rows} rows, {missing}, {left out}"})}
    )
    scene = scene_of(recipe, table)
    counts = scene.counts
    assert scene.title == f"97 rows, {counts.missing}, 0" and counts.read == 97
    assert [step.before - step.after for step in counts.prepared] == [48, 7]
    assert "97 rows read; before the figure: " in scene.note and "(48 left out)" in scene.note and "(7 left out)" in scene.note
    part = ReportPart(name="", scene=scene, recipe=recipe, file="f.csv", sha256="0", settled="")
    rows = dict(facts_of(part))["Rows"]
    assert rows.startswith("97 read, ") and f"{counts.used} of {counts.rows} used" in rows
