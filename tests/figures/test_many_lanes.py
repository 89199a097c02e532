"""Many lanes: a list of single values line by line in one colour, and more lanes than colours in one hue by their order."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.figures.geometry.colours import lightness
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import FormName
from echelle.recipes.roles import Groups
from echelle.render import scene_of
from echelle.scene.models import PointsPart, Scene, TextPart
from tests.support.sheets import texts_keep_apart
from tests.support.tables import lanes_table, table_of

RNG = np.random.default_rng(31)


def names(scene: Scene) -> list[str]:
    return [part.text for part in scene.walk() if isinstance(part, TextPart) and part.role == "lane-label"]


@pytest.mark.parametrize("n", [8, 60, 215])
def test_single_values_are_a_list_with_their_names(n: int) -> None:
    values = RNG.lognormal(3, 0.6, n).round(2).tolist()
    table = table_of({"level": values, "site": [f"S{i:03d}" for i in range(n)]})
    recipe = recipe_of_form("strip", "level", "site")
    scene = scene_of(recipe.model_copy(update={"groups": Groups(column="site", sorted="by median")}), table)
    placed = [lane.name for lane in sorted(scene.lanes, key=lambda lane: lane.start)]
    expected = [f"S{i:03d}" for i in sorted(range(n), key=lambda i: -values[i])]
    assert placed == expected == names(scene)
    assert not [part for part in scene.walk() if isinstance(part, TextPart) and part.role == "lane-count"]
    assert len({lane.colour for lane in scene.lanes}) == 1
    assert sum(part.columns.count for part in scene.walk() if isinstance(part, PointsPart)) == n
    assert scene.height < 12 * n + 80 or n < 12
    texts_keep_apart(scene)


@pytest.mark.parametrize("form", ["box", "ridges", "violin"])
def test_more_lanes_than_colours_take_one_hue_by_their_order(form: FormName) -> None:
    table = lanes_table({f"Site {i:03d}": RNG.normal(5 + i / 40, 0.7, 3 + i % 30).round(1).tolist() for i in range(94)})
    scene = scene_of(recipe_of_form(form, "level", "group"), table)
    light = [lightness(lane.colour) for lane in scene.lanes]
    assert light == sorted(light, reverse=True) and light[0] - light[-1] > 0.3
    assert len(names(scene)) == 94 and scene.height < 12 * 94 + 120
    # What many lanes have in common is one remark, not one for each.
    assert len(scene.advice) < 10
    texts_keep_apart(scene)
