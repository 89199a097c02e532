"""The method note against what is drawn: nothing is claimed that no mark shows, and no mark goes unsaid."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator

import numpy as np
import pytest
from pydantic import ValidationError

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.figures.settings import figure_options
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import PointsPart, Scene, leaves
from echelle.tables.table import Table
from scripts.drawn_digests import random_recipe
from tests.support.tables import table_of

RNG = np.random.default_rng(17)
SIZES = {"none": 0, "one": 1, "two": 2, "five": 5, "many": 60}
WARDS = ["Harbour", "Ridge"]


def _rows(levels: list[str], sizes: list[int], values: list[list[str]], wards: list[str] = WARDS) -> Table:
    """A table with every column that random recipes ask for."""
    groups = [level for level, size in zip(levels, sizes, strict=True) for _ in range(size)]
    n = len(groups)
    return table_of(
        {
            "participant": [f"P-{i % max(2, n // 2):03d}" for i in range(n)], "ward": [wards[i % len(wards)] for i in range(n)],
            "day": [str(1 + i % 2) for i in range(n)], "sample": groups,
            "haemolysed": ["yes" if i % 7 == 0 else "no" for i in range(n)], "shift pattern": groups,
            "nights in a row": [str(i % 4) for i in range(n)], "cortisol (nmol/L)": [cell for lane in values for cell in lane],
        }
    )  # fmt: skip


def _cells(n: int, way: str) -> list[str]:
    drawn = RNG.lognormal(2.0, 0.6, n)
    if way == "ties":
        return [str(round(value / 4) * 4 + 1) for value in drawn]
    cells = [f"{value:.1f}" for value in drawn]
    return [
        "<0.4" if way == "limits" and i % 5 == 0 else "" if way == "limits" and i % 7 == 1 else cell
        for i, cell in enumerate(cells)
    ]


TABLES = {
    "sizes": _rows(list(SIZES), list(SIZES.values()), [_cells(n, "plain") for n in SIZES.values()]),
    "ties": _rows(["a", "b", "c"], [30, 30, 9], [_cells(n, "ties") for n in (30, 30, 9)]),
    "limits": _rows(["1", "2", "3.5"], [25, 25, 12], [_cells(n, "limits") for n in (25, 25, 12)]),
    "alone": _rows(["all of it"], [40], [_cells(40, "plain")]),
    # Rows without a group, and without a panel.
    "blanks": _rows(
        ["a", "b", "", "c"], [20, 20, 6, 9], [_cells(n, "limits") for n in (20, 20, 6, 9)], ["Harbour", "", "Ridge"]
    ),
}
# Means with their spread, and no rows behind them.
TABLES["summaries"] = table_of(
    {
        "shift pattern": ["a", "b", "c", "d"], "n": ["12", "30", "8", "21"], "mean (nmol/L)": ["7.5", "9.25", "6.0", "8.1"],
        "sd": ["1.5", "2.25", "1.0", "0.9"], "lower limit": ["6.5", "8.4", "5.2", "7.7"],
        "upper limit": ["8.5", "10.1", "6.8", "8.5"],
    }
)  # fmt: skip
# What the note says, and the marks that show it (of which kind of layer, in which role); both ways.
SAID = {
    r"^Boxes:|\. Boxes:": ["box/box"], r"; lines reach": ["box/whisker"], r"Curves: kernel density": ["density/density"],
    r"Normal curves:": ["normal-curve/normal-curve"], r"Bins:": ["bins/bin"], r"Points: every value": ["points/point"],
    r"(Dots|Bars|Ticks): (means|medians)": ["mean/mean"], r"(Dots|Bars|Ticks): (means|medians); lines": ["mean/interval"],
    r"Line over the order": ["series/series"], r"Line over the order(?:[^.]|\.\d)*; band": ["series/series-band"],
    r"the area reaches": ["series/series-area"], r"lines: 95 % confidence interval of the share": ["counts/interval"],
    r"Line from lane to lane|Line: least squares": ["trend/trend"], r"Stem and leaf": ["stem/stem"],
    r"Ticks: (every value|quantiles)": ["ticks/tick"], r"Bars across the lanes|Lines: mean, and": ["line/line"],
    r"Steps: share of rows": ["cumulative/step"], r"Brackets:": ["bracket/join"], r"Rings:": ["control/outlier"],
    r"(diamonds|open marks) lie": ["box/outlier", "points/outlier"], r"Bars: (rows|distinct)": ["counts/count"],
    r"Black dots:": ["difference/mean"], r"light bar inside": ["counts/subjects"],
    r"Points: values against a normal": ["cumulative/point"], r"line through the quartiles": ["cumulative/line"],
    r"curves: the density of the estimate": ["difference/density"], r"lines join": ["points/join"],
    r"drawn as an arrow|drawn as arrows": ["box/limit", "points/limit", "density/limit"],
    r"drawn as a? ?(faint )?cross": ["box/left-out", "points/left-out", "density/left-out"],
}  # fmt: skip


def marks(scene: Scene, recipe: Recipe) -> set[str]:
    """Which kinds of layers drew which roles."""
    kinds = {layer.id: layer.kind() for layer in recipe.layers}
    parts = [part for part in leaves(scene.parts) if part.layer in kinds]
    return {f"{kinds[part.layer]}/{part.role}" for part in parts if not isinstance(part, PointsPart) or part.columns.count}


def figures(name: str, seeds: range) -> Iterator[tuple[int, Recipe, Scene]]:
    options = figure_options()
    for seed in seeds:
        record = random_recipe(random.Random(f"{name}{seed}"), options, TABLES[name])
        record["words"]["note"] = {"under": False, "length": "full", "english": "British"}
        record["words"].pop("key", None)
        if name == "summaries":
            means = [layer for layer in record["layers"] if layer["layer"] == "mean"]
            record |= {"layers": means or [{"layer": "mean", "id": "m1"}], "measure": {"columns": ["mean"]}, "subgroups": None}
            record |= {"groups": {"column": "shift pattern"}, "panels": {}, "keep": [], "left_out": []}
        try:
            recipe = _dragged(Recipe.model_validate(record), seed)
            scene = scene_of(recipe, TABLES[name])
        except (InputError, ValidationError):
            continue
        yield seed, recipe, scene


def _dragged(recipe: Recipe, seed: int) -> Recipe:
    """Every third figure with its groups in another order, as somebody dragged them, some of them only."""
    if recipe.groups is None or seed % 3:
        return recipe
    order = sorted({"a", "b", "c", "many", "two", "2", "1"}, key=lambda level: random.Random(f"{level}{seed}").random())
    return recipe.model_copy(update={"groups": recipe.groups.model_copy(update={"order": order[: 1 + seed % 7]})})


@pytest.mark.parametrize("name", TABLES)
def test_the_note_says_what_is_drawn_and_nothing_else(name: str) -> None:
    seen = 0
    for seed, recipe, scene in figures(name, range(90)):
        drawn, seen = marks(scene, recipe), seen + 1
        for claim, shown in SAID.items():
            assert bool(re.search(claim, scene.note)) == bool(drawn & set(shown)), (seed, claim, shown, scene.note)
        arrangement = lanes_shown(recipe, arrange(recipe, TABLES[name]))
        assert "subject" not in scene.note.replace("same subject", "") or arrangement.account.people is not None, scene.note
        if listed := re.search(r"(?:^|[. ])n: ([^.]*(?:\.\d[^.]*)*)\.", scene.note):
            counts = [int(entry.rsplit(" ", 1)[1]) for entry in listed[1].split(", ")]
            assert counts == [lane.n for lane in arrangement.lanes], scene.note
    assert seen > 40
