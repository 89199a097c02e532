"""The method note and the reader's key over marks that only some figures hold: outliers without a box, several boxes, limits,
stand-ins, rules without an answer, values out of view.
"""

from __future__ import annotations

import numpy as np

from echelle.figures.lanes.arrange import arrange
from echelle.numbers.fences import beyond_fence, whiskers
from echelle.numbers.outliers import fences_of
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.normal_curve import NormalCurveLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Axis
from echelle.render import reader_key_of, scene_of
from echelle.scene.models import LinePart, PointsPart, RectPart, Scene
from echelle.tables.steps.left_out import LeftOut
from echelle.tables.table import Table
from tests.support.steps import after
from tests.support.tables import box_recipe, lanes_table, table_of

VALUES = np.round(np.random.default_rng(6).lognormal(2.0, 0.5, 60), 2)
LANES = lanes_table({"a": VALUES.tolist(), "b": (VALUES + 2).tolist()})
LIMITS = table_of({"group": list("aaaabbbb"), "level": ["<0.4", "1.0", "2.5", ">9", "<0.4", "3.1", "2.2", "1.9"]})


def key_words(recipe: Recipe, table: Table) -> str:
    key = reader_key_of(recipe, arrange(recipe, table))
    return " ".join(part.text for part in key.walk() if part.part == "text" and part.role == "key-words")


def of_layer(scene: Scene, layer: str, role: str) -> list[object]:
    return [part for part in scene.walk() if part.layer == layer and part.role == role]


def test_points_without_a_box_say_what_their_open_marks_are() -> None:
    alone = scene_of(box_recipe(layers=[PointsLayer(id="p1")]), LANES)
    assert sum(readings.beyond for readings in alone.readings) > 0
    assert "open diamonds lie more than 1.5 × the interquartile range beyond the quartiles (type 7)" in alone.note
    with_box = scene_of(box_recipe(layers=[PointsLayer(id="p1"), BoxLayer(id="b1", fence=Fence(k=1.0))]), LANES)
    assert with_box.note.count("diamonds") == 1 and "within 1 × the interquartile range" in with_box.note
    plain = lanes_table({"a": [1.5, 2.5, 3.5, 4.5], "b": [2.5, 3.5, 4.5, 5.5]})
    assert "diamonds" not in scene_of(box_recipe(layers=[PointsLayer(id="p1")]), plain).note


def test_each_box_is_drawn_by_its_own_rules_and_only_the_first_marks_outliers() -> None:
    wide = BoxLayer(id="b2", place="below", fence=Fence(rule="percentiles", k=0.1))
    scene = scene_of(box_recipe(layers=[BoxLayer(id="b1", place="above"), wide]), LANES)
    ordered, panel = np.sort(VALUES), scene.panels[0]
    fences = fences_of(ordered, "percentiles", 0.1, 7)
    q1, q3 = np.quantile(ordered, (0.25, 0.75))
    low, high = whiskers(ordered, fences, q1, q3)
    scale = (panel.scale.range[1] - panel.scale.range[0]) / (panel.scale.domain[1] - panel.scale.domain[0])
    drawn = sorted(
        (max(line.x1, line.x2) - panel.scale.range[0]) / scale + panel.scale.domain[0]
        for line in of_layer(scene, "b2", "whisker")
        if isinstance(line, LinePart) and line.lane == scene.lanes[0].key
    )
    assert np.isclose(drawn[-1], high, atol=0.02) and low < q1
    assert not of_layer(scene, "b2", "outlier")
    marked = sum(part.columns.count for part in of_layer(scene, "b1", "outlier") if isinstance(part, PointsPart))
    usual = fences_of(ordered, "quartiles", 1.5, 7)
    assert marked == 2 * len(beyond_fence(VALUES, usual)) > 0
    assert "within the 10th and 90th percentile." in scene.note and scene.note.count("diamonds") == 1
    assert len([part for part in of_layer(scene, "b2", "box") if isinstance(part, RectPart)]) == 2


def test_shapes_that_carry_levels_are_open_marks_not_diamonds() -> None:
    shaped = box_recipe(layers=[PointsLayer(id="p1", shaped="group"), BoxLayer(id="b1")])
    assert "open marks lie beyond" in scene_of(shaped, LANES).note
    assert "An open mark is a single value beyond the fences." in key_words(shaped, LANES)


def test_limits_and_left_out_rows_are_said_and_explained() -> None:
    recipe = box_recipe(left_out=[LeftOut(row=6, reason="clotted")])
    note = scene_of(recipe, LIMITS).note
    assert "3 values beyond a detection limit, not in n, drawn as arrows." in note
    assert "1 row left out (row 6: clotted), drawn as a faint cross." in note
    assert "An arrow is a value known only to lie beyond that limit" in key_words(recipe, LIMITS)
    assert "An arrow" not in key_words(box_recipe(), LANES)
    # Bins draw neither.
    assert "drawn as" not in scene_of(box_recipe(layers=[BinsLayer(id="h1")]), LIMITS).note


def test_values_that_stand_in_for_limits_are_counted_whatever_follows() -> None:
    half = {"step": "stand-in", "column": "level", "below": "half", "above": "limit"}
    note = scene_of(box_recipe(), after(LIMITS, half)).note
    assert "3 values beyond a detection limit stand at 0.2 to 9, in n." in note and "not in n" not in note
    kept = after(LIMITS, half, {"step": "keep", "where": {"column": "group", "is": ["b"]}})
    assert "1 value beyond a detection limit stands at 0.2, in n." in scene_of(box_recipe(), kept).note
    ten = {"step": "convert", "column": "level", "factor": 10.0, "to": "µg/L"}
    assert "3 values beyond a detection limit stand at 2 to 90, in n." in scene_of(box_recipe(), after(LIMITS, half, ten)).note
    log = {"step": "derive", "to": "log level", "formula": "log10(level)"}
    logs = recipe_of_form("box", "log level", "group")
    assert "3 values computed from others that stand for a detection limit." in scene_of(logs, after(LIMITS, half, log)).note
    mean = {"step": "combine", "by": ["group"], "how": "mean"}
    means = scene_of(box_recipe(), after(LIMITS, half, mean)).note
    assert "2 values computed from others that stand for" in means and "stand at" not in means
    assert "computed" not in scene_of(logs, after(LIMITS, log)).note
    out = {"step": "stand-in", "column": "level", "below": "left out", "above": "as it is"}
    assert "stand at" not in scene_of(box_recipe(), after(LIMITS, out)).note


def test_the_note_says_where_another_rule_stood_in() -> None:
    tied = lanes_table({"a": [5.0] * 30 + [1.5, 9.5], "b": [4.5, 5.5] * 16})
    note = scene_of(box_recipe(layers=[BinsLayer(id="h1", common=False)]), tied).note
    assert "a: Freedman–Diaconis has no answer where the interquartile range is 0; Sturges stands in." in note
    constant = lanes_table({"a": [5.0] * 3, "b": [4.5, 5.5, 6.5]})
    violin = scene_of(recipe_of_form("violin", "level", "group"), constant).note
    assert "a: no density: fewer than two different values." in violin


def test_values_out_of_view_stay_in_n_and_are_said() -> None:
    above = int((np.concatenate([VALUES, VALUES + 2]) > 12).sum())
    note = scene_of(box_recipe(axis=Axis(end=12.0)), LANES).note
    assert f"{above} values out of view, in n." in note and "out of view" not in scene_of(box_recipe(), LANES).note
    means = recipe_of_form("means", "level", "group").model_copy(update={"axis": Axis(end=12.0)})
    assert "out of view" not in scene_of(means, LANES).note


def test_a_normal_curve_is_called_by_its_own_dash() -> None:
    recipe = box_recipe(layers=[NormalCurveLayer(id="n1", dash="solid")])
    assert "dashed" not in scene_of(recipe, LANES).note.lower()
    assert "The solid curve is what a normal distribution" in key_words(recipe, LANES)
