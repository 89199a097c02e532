"""What the front end's own tests stand on, as JSON: recipes with the scenes that the core draws of them, a table's columns in
small, and the JSON Schema of every step.

python -m tests.support.web_figures FILE
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import orjson
from pydantic import TypeAdapter

from echelle.figures.settings import figure_options
from echelle.numbers.rounding import display_number
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from echelle.render import scene_of
from echelle.tables.column_summary import summary_of
from echelle.tables.steps.registry import Step
from tests.support.tables import table_of

# Row ids are counted from 1, so the row of a value is its place here.
VALUES = [4.5, 1.25, 2.0, 9.0, 3.75, 2.5, 8.0, 3.0, 5.5, 2.25, 6.0, 40.0]
ARMS = ["a", "b", "=c", "a", "b", "=c", "a", "b", "=c", "a", "b", "a"]
SEX = ["f", "m"] * 6
SITE = ["north"] * 8 + ["south"] * 4
TABLE = table_of({"arm": ARMS, "sex": SEX, "site": SITE, "level (mmol/L)": VALUES})
SAMPLES = table_of(
    {
        "sample": [f"S-{i:03d}" for i in range(1, 13)], "arm": ARMS, "drawn": [f"2026-03-{i:02d}" for i in range(1, 13)],
        "haemolysed": ["yes", "no"] * 6, "night shifts": list(range(12)), "level (mmol/L)": ["<0.4", *VALUES[1:]],
    }
)  # fmt: skip
# Halves, signs, zeros, the ends of what is written out.
READ = [
    11.25, -11.25, 0.5, 1.5, 2.5, -0.5, 2.675, 1.0005, 0.0, -0.0, -0.04, 9.96, 99.95, 1e7, 9_999_999.95, 12_345_678.9, -1.005e9,
    9.995e21, 1e-3, 0.00999, 4.5e-5, 1.25e-6, 9.996e-7, 1e-12, 1 / 3, 5e-324, 1.7e308,
]  # fmt: skip


def figure(recipe: Recipe, **update: Any) -> dict[str, Any]:
    """A recipe and its scene."""
    told = Recipe.model_validate(recipe.model_dump(mode="json") | update)
    return {"recipe": told.model_dump(mode="json"), "scene": scene_of(told, TABLE).model_dump(mode="json")}


def whole() -> dict[str, Any]:
    """A figure in which every part of a recipe is used, with what the page needs to show it."""
    recipe = Recipe.model_validate(
        {
            "echelle": 1, "measure": {"columns": ["level"]}, "groups": {"column": "night shifts", "cut": {"edges": [4]}},
            "subgroups": {"column": "arm"}, "panels": {"wrapped": {"column": "drawn", "dates": "months"}},
            "layers": [{"id": "b1", "layer": "box"}, {"id": "h1", "layer": "bins", "place": "above"}],
            "guides": [{"at": "mean", "label": "mean", "valued": True}],
            "words": {"key": {"placed": "below"}},
            "differences": {"paired_by": "sample", "control": {"target": "own"}},
        }
    )  # fmt: skip
    columns = [summary_of(column).model_dump(mode="json") for column in SAMPLES.columns]
    scene = scene_of(recipe, SAMPLES).model_dump(mode="json")
    return {"recipe": recipe.model_dump(mode="json", by_alias=True), "scene": scene, "columns": columns,
            "style": style_of(recipe).model_dump(mode="json")}  # fmt: skip


def main(path: str) -> None:
    """Write all of them."""
    guides = [{"band": [2, 5], "label": "target"}, {"at": 6, "label": "limit", "group": "b"}]
    words = {"title": "*Plain* {n}", "caption": "caption one two three"}
    box, strip = recipe_of_form("box", "level", "arm"), recipe_of_form("strip", "level", "arm")
    panels = {"wrapped": {"column": "site"}}
    split = recipe_of_form("violin", "level", "arm", subgroups="sex")
    across = {"runs": "across"}
    figures = {
        "values": VALUES, "arms": ARMS, "options": figure_options().model_dump(mode="json"),
        "box": figure(box, guides=guides, words=words, axis=across), "strip": figure(strip, axis=across),
        "up": figure(strip, axis={"runs": "up", "scale": "log10"}), "split": figure(split, axis=across, panels=panels),
        "whole": whole(), "columns": [summary_of(column).model_dump(mode="json") for column in SAMPLES.columns],
        "steps": TypeAdapter(Step).json_schema()["$defs"],
        "read": [[value, places, display_number(value, places)] for value in READ for places in (0, 1, 3)],
        "histogram": figure(recipe_of_form("histogram", "level", "arm"), guides=guides[:1]),
    }  # fmt: skip
    Path(path).parent.mkdir(parents=True, exist_ok=True)
    Path(path).write_bytes(orjson.dumps(figures))


if __name__ == "__main__":
    main(sys.argv[1])
