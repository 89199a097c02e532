"""Figures for the front end's own tests: recipes with the scenes that the core draws of them, as JSON.

python -m tests.web_figures FILE
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import orjson

from echelle.drawing.figure import scene_of
from echelle.figures.settings import offered
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.models import Recipe
from tests.tabling import table_of

# Row ids are counted from 1, so the row of a value is its place here.
VALUES = [4.5, 1.25, 2.0, 9.0, 3.75, 2.5, 8.0, 3.0, 5.5, 2.25, 6.0, 40.0]
ARMS = ["a", "b", "=c", "a", "b", "=c", "a", "b", "=c", "a", "b", "a"]
SEX = ["f", "m"] * 6
SITE = ["north"] * 8 + ["south"] * 4
TABLE = table_of({"arm": ARMS, "sex": SEX, "site": SITE, "level (mmol/L)": VALUES})


def figure(recipe: Recipe, **update: Any) -> dict[str, Any]:
    """A recipe and its scene."""
    told = Recipe.model_validate(recipe.model_dump(mode="json") | update)
    return {"recipe": told.model_dump(mode="json"), "scene": scene_of(told, TABLE).model_dump(mode="json")}


def main(path: str) -> None:
    """Write all of them."""
    guides = [{"band": [2, 5], "label": "target"}, {"at": 6, "label": "limit", "group": "b"}]
    words = {"title": "*Plain* {n}", "caption": "caption one two three"}
    box, strip = recipe_of_form("box", "level", "arm"), recipe_of_form("strip", "level", "arm")
    panels = {"wrapped": {"column": "site"}}
    split = recipe_of_form("violin", "level", "arm", subgroups="sex")
    across = {"runs": "across"}
    figures = {
        "values": VALUES, "arms": ARMS, "offered": offered().model_dump(mode="json"),
        "box": figure(box, guides=guides, words=words, axis=across), "strip": figure(strip, axis=across),
        "up": figure(strip, axis={"runs": "up", "scale": "log10"}), "split": figure(split, axis=across, panels=panels),
        "histogram": figure(recipe_of_form("histogram", "level", "arm"), guides=guides[:1]),
    }  # fmt: skip
    Path(path).parent.mkdir(parents=True, exist_ok=True)
    Path(path).write_bytes(orjson.dumps(figures))


if __name__ == "__main__":
    main(sys.argv[1])
