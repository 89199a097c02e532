"""Differences drawn on the measure's own axis: where they stand, against whom, and what is said of them."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.numbers.differences.means import mean_difference
from echelle.numbers.differences.ranks import hodges_lehmann
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.difference import DifferenceLayer
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import LinePart, PointsPart, Scene, TextPart, unpack
from tests.support.tables import lanes_table

RNG = np.random.default_rng(5)
LANES = {name: np.round(RNG.normal(middle, 2, 40), 3).tolist() for name, middle in (("a", 10), ("b", 11), ("c", 15))}
TABLE = lanes_table(LANES)


def drawn(**settings: object) -> tuple[Scene, Recipe]:
    recipe = recipe_of_form("box", "level", "group")
    asked = settings.pop("differences", None)
    layers = [*recipe.layers, DifferenceLayer.model_validate({"id": "x1", **settings})]
    recipe = recipe.model_copy(update={"layers": layers, "differences": asked})
    return scene_of(recipe, TABLE), recipe


def value_at(scene: Scene, place: float) -> float:
    scale = scene.panels[0].scale
    (v0, v1), (c0, c1) = scale.domain, scale.range
    return v0 + (place - c0) / (c1 - c0) * (v1 - v0)


def intervals(scene: Scene) -> dict[str, tuple[float, float]]:
    names = {lane.key: lane.name for lane in scene.lanes}
    lines = [part for part in scene.walk() if isinstance(part, LinePart) and part.layer == "x1" and part.role == "interval"]
    return {names[part.lane]: (value_at(scene, part.x1), value_at(scene, part.x2)) for part in lines}


def zero_of(scene: Scene) -> float:
    [line] = [part for part in scene.walk() if isinstance(part, LinePart) and part.layer == "x1" and part.role == "line"]
    return value_at(scene, line.x1)


@pytest.mark.parametrize(("of", "estimate"), [("means", mean_difference), ("shift", hodges_lehmann)])
def test_intervals_stand_about_the_references_centre(of, estimate) -> None:  # type: ignore[no-untyped-def]
    scene, _ = drawn(of=of)
    middle = np.mean if of == "means" else np.median
    zero = float(middle(LANES["a"]))
    assert zero_of(scene) == pytest.approx(zero, abs=1e-3)
    result = intervals(scene)
    assert set(result) == {"b", "c"}
    for name, (low, high) in result.items():
        expected = estimate(np.array(LANES["a"]), np.array(LANES[name]))
        assert (low - zero, high - zero) == pytest.approx((expected.low, expected.high), abs=2e-3)
    dots = [part for part in scene.walk() if isinstance(part, PointsPart) and part.layer == "x1" and part.role == "mean"]
    assert len(dots) == 2 and value_at(scene, float(unpack(dots[0].columns.x, "<f4")[0])) == pytest.approx(
        zero + (estimate(np.array(LANES["a"]), np.array(LANES["b"])).value or 0.0), abs=2e-3
    )


def test_the_reference_is_the_one_named_or_the_one_of_the_tab() -> None:
    assert set(intervals(drawn(reference="c")[0])) == {"a", "b"}
    assert set(intervals(drawn(differences=Differences(reference="b"))[0])) == {"a", "c"}
    scene, _ = drawn(reference="nobody")
    assert intervals(scene) == {} and "x1/reference" in {advice.key for advice in scene.advice}


def test_words_and_note_say_what_is_drawn() -> None:
    scene, _ = drawn(of="medians")
    words = [part.text for part in scene.walk() if isinstance(part, TextPart) and part.role == "point-name"]
    assert len(words) == 2 and all(" to " in text and "(" in text for text in words)
    assert "differences of medians to a, whose centre" in scene.note and "bootstrap BCa, seed 41" in scene.note
    assert "density of the estimate" in scene.note
    bare, _ = drawn(density=False, words=False, axis=False)
    assert not [part for part in bare.walk() if part.layer == "x1" and (part.role == "density" or isinstance(part, TextPart))]


def test_the_axis_reaches_every_interval_and_lanes_of_one_value_have_none() -> None:
    table = lanes_table({"a": LANES["a"], "b": [30.0, 30.5, 60.0], "c": [12.0]})
    recipe = recipe_of_form("means", "level", "group")
    scene = scene_of(recipe.model_copy(update={"layers": [*recipe.layers, DifferenceLayer(id="x1")]}), table)
    expected = mean_difference(np.array(LANES["a"]), np.array([30.0, 30.5, 60.0]))
    zero = float(np.mean(LANES["a"]))
    low, high = scene.panels[0].scale.domain
    assert low <= zero + (expected.low or 0.0) and zero + (expected.high or 0.0) <= high
    assert "x1/none" not in {advice.key for advice in scene.advice if "c" not in advice.text}
    assert any(advice.key == "x1/none" and advice.text.startswith("c:") for advice in scene.advice)


@pytest.mark.parametrize("runs", ["across", "up"])
def test_its_own_axis_stands_on_the_far_side_with_zero_at_the_references_centre(runs: str) -> None:
    recipe = recipe_of_form("box", "level", "group")
    axis = recipe.axis.model_copy(update={"runs": runs})
    layers = [*recipe.layers, DifferenceLayer(id="x1")]
    scene = scene_of(recipe.model_copy(update={"layers": layers, "axis": axis}), TABLE)
    labels = [part for part in scene.walk() if isinstance(part, TextPart) and part.layer == "x1" and part.role == "axis-label"]
    left, top, width, _ = scene.panels[0].box
    scale, centre = scene.panels[0].scale, float(np.mean(LANES["a"]))
    (v0, v1), (c0, c1) = scale.domain, scale.range
    for label in labels:
        x0, y0, x1, y1 = label.box
        middle = (x0 + x1) / 2 if runs == "across" else label.y - label.size * 0.33
        value = v0 + (middle - c0) / (c1 - c0) * (v1 - v0) - centre
        assert value == pytest.approx(float(label.text.replace("−", "-")), abs=0.02)
        assert y1 <= top if runs == "across" else x0 >= left + width
        assert x1 <= scene.width and y0 >= 0
    assert "0" in [label.text for label in labels]
    titles = [part.text for part in scene.walk() if isinstance(part, TextPart) and part.role == "axis-title"]
    assert "difference to a" in titles
