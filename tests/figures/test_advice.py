"""Advice: it comes where it should, keeps away where it should not, and its remedies make it go."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
import pytest

from echelle.figures.compose import deep_advice
from echelle.figures.geometry.colours import lightness
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.style import HOUSE_COLOURS
from echelle.render import scene_of
from echelle.scene.models import Advice, Remedy
from echelle.tables.steps.prepare import prepare
from echelle.tables.table import Table
from tests.support.tables import lanes_table, table_of

EVEN = [(i + 0.5) / 40 for i in range(40)]
PLAIN = [round(10 + 4 * x, 2) for x in EVEN]
TAIL = [round(2 + 3 * x + (40 * x**9 if x > 0.9 else 0), 2) for x in EVEN]
NEAR_ZERO = [round(0.1 + 3 * x * x, 3) for x in EVEN]


@dataclass
class Case:
    """A figure with something wrong, and the key of the advice that says so."""

    key: str
    form: FormName
    lanes: dict[str, list[float]]
    change: dict[str, Any] = field(default_factory=dict)
    layer: dict[str, Any] = field(default_factory=dict)


CASES = [
    Case("few-values-box", "box", {"a": PLAIN, "b": [1.0, 2.0, 3.0]}),
    Case("few-values-curve", "violin", {"a": PLAIN, "b": PLAIN[:7]}),
    Case("d1/unequal-n", "density", {"a": PLAIN * 4, "b": PLAIN[::2]}, layer={"size": "equal width"}),
    Case("d1/limit", "density", {"a": NEAR_ZERO, "b": NEAR_ZERO}, layer={"ends": "run past"}),
    Case("b1/skewed", "box", {"a": TAIL, "b": PLAIN}),
    Case("m1/skewed", "means", {"a": TAIL, "b": PLAIN}),
    Case("m1/zero", "means", {"a": PLAIN, "b": PLAIN}, {"axis": {"from": 5.0}}, {"mark": "bar"}),
    Case("m1/zero", "means", {"a": PLAIN, "b": PLAIN}, {"axis": {"scale": "log10"}}, {"mark": "bar"}),
    Case("m1/zero", "means", {"a": [-v for v in PLAIN]}, {"axis": {"to": -5.0}}, {"mark": "bar"}),
    Case("m1/cut", "means", {"a": PLAIN, "b": TAIL}, {"axis": {"scale": "log10"}}, {"interval": "SD"}),
    Case("m1/cut", "means", {"a": PLAIN, "b": PLAIN}, {"axis": {"to": 12.5}}, {"interval": "SD"}),
    Case("magnified", "box", {"a": PLAIN, "b": [v + 4 for v in PLAIN]}, {"axis": {"from": 10.5}}),
    Case("out-of-view", "box", {"a": PLAIN, "b": PLAIN}, {"axis": {"to": 12.0}}),
    Case("guides", "box", {"a": PLAIN}, {"axis": {"to": 20.0}, "guides": [{"at": 50.0}]}),
    Case("h1/counts", "histogram", {"a": PLAIN, "b": PLAIN[::3]}),
    Case("h1/widths", "histogram", {"a": PLAIN}, layer={"edges": [10.0, 11.0, 14.0]}),
    Case("h1/step", "histogram", {"a": [float(i % 9) / 2 for i in range(60)]}, layer={"count": 7}),
    Case("p1/on-points", "strip", {"a": PLAIN * 2}, layer={"spread": "line", "strength": 1.0}),
    Case("too-many", "density", {f"g{i}": PLAIN for i in range(7)}),
    Case("too-many", "violin", {f"g{i}": PLAIN for i in range(13)}, {"axis": {"runs": "up"}}),
    Case("drawn-twice", "strip", {"a": PLAIN}),
    Case("covered-points", "box", {"a": PLAIN}),
]


def drawn(case: Case) -> tuple[Recipe, Table]:
    table = lanes_table(case.lanes)
    made = recipe_of_form(case.form, "level", "group").model_dump(mode="json")
    for key, change in case.change.items():
        made[key] = {**made[key], **change} if isinstance(change, dict) else change
    place = next((i for i, entry in enumerate(made["layers"]) if entry["id"] == case.key.split("/")[0]), 0)
    made["layers"][place] |= case.layer
    points = PointsLayer(id="x1", place="on").model_dump(mode="json")
    if case.key == "drawn-twice":
        made["layers"].append(points)
    if case.key == "covered-points":
        made["layers"].insert(0, points)
    return Recipe.model_validate(made), table


def applied(recipe: Recipe, remedy: Remedy) -> Recipe:
    """The recipe with a remedy's changes, as the page makes them."""
    made: Any = recipe.model_dump(mode="json")
    for change in remedy.changes:
        place = made
        for key in change.path[:-1]:
            place = place[key]
        if isinstance(place, list) and change.path[-1] == len(place):
            place.append(change.value)
        else:
            place[change.path[-1]] = change.value
    return Recipe.model_validate(made)


def keyed(result: list[Advice]) -> dict[str, Advice]:
    return {advice.key: advice for advice in result}


@pytest.mark.parametrize("case", CASES, ids=lambda case: f"{case.key}, {case.form}")
def test_advice_comes_with_its_reason_and_its_remedies_make_it_go(case: Case) -> None:
    recipe, table = drawn(case)
    result = keyed(scene_of(recipe, table).advice)
    assert case.key in result, list(result)
    assert result[case.key].text.endswith(".") and result[case.key].why
    assert result[case.key].remedies
    for remedy in result[case.key].remedies:
        after = keyed(scene_of(applied(recipe, remedy), table).advice)
        adds_points = case.key.startswith("few-values")
        assert case.key not in after or (adds_points and not after[case.key].remedies), remedy.words


@pytest.mark.parametrize("form", ["box", "violin", "strip", "raincloud", "histogram", "density", "means", "cumulative"])
def test_a_plain_figure_gets_no_advice(form: FormName) -> None:
    table = lanes_table({"a": PLAIN, "b": [v + 0.3 for v in PLAIN]})
    recipe = recipe_of_form(form, "level", "group")
    layers = [layer.model_copy(update={"ends": "stop"}) if layer.layer == "density" else layer for layer in recipe.layers]
    recipe = recipe.model_copy(update={"layers": layers})
    assert [a.key for a in scene_of(recipe, table).advice if not a.key.endswith("/step")] == []
    assert deep_advice(recipe, arrange(recipe, table), lambda: table) == []


def test_values_at_a_limit_inside_the_quartiles() -> None:
    cells = ["<1"] * 15 + [f"{2 + i / 10:.1f}" for i in range(25)]
    table = table_of({"level": cells, "group": ["a"] * 40})
    recipe = recipe_of_form("box", "level", "group")
    [remedy] = keyed(scene_of(recipe, table).advice)["limits-inside"].remedies
    after = scene_of(applied(recipe, remedy), table)
    assert "limits-inside" not in keyed(after.advice) and after.readings[0].limits["q1"] == "<1"


def test_repeats_of_one_subject_can_be_averaged_in_the_table() -> None:
    table = table_of({
        "participant": [f"P-{i // 4:03d}" for i in range(80)], "ward": ["a" if i // 4 % 2 else "b" for i in range(80)],
        "level": [f"{10 + (i * 7) % 13}" for i in range(80)],
    })  # fmt: skip
    recipe = recipe_of_form("means", "level", "ward")
    advice = keyed(scene_of(recipe, table).advice)["repeated-people"]
    assert "treats them as independent" in advice.text and "20 people" in advice.text
    from pydantic import TypeAdapter

    from echelle.tables.steps.registry import Step

    step = TypeAdapter[Step](Step).validate_python(advice.remedies[0].step)
    combined = prepare(table, [step], lambda _: table).table
    assert combined.rows == 20 and "repeated-people" not in keyed(scene_of(recipe, combined).advice)


def two_peaks(n: int = 80) -> Table:
    """One lane with two peaks that "dose" tells apart, beside a column that does not."""
    rng = np.random.default_rng(5)
    dose = np.arange(n) % 6
    level = np.where(dose >= 3, 12.0, 5.0) + rng.normal(0, 0.8, n)
    other = rng.integers(0, 3, n)
    entry = ["x"] * n + ["y"] * n
    plain = rng.normal(8, 2, n)
    return table_of({
        "group": entry, "level": [f"{v:.2f}" for v in [*level, *plain]], "dose": [str(d) for d in [*dose, *dose]],
        "colour": [["red", "green", "blue"][c] for c in [*other, *other]],
    })  # fmt: skip


def test_two_peaks_and_the_column_that_tells_them_apart() -> None:
    table = two_peaks()
    recipe = recipe_of_form("box", "level", "group")
    [advice] = deep_advice(recipe, arrange(recipe, table), lambda: table)
    assert advice.text.startswith("x has two peaks, near") and "“dose”" in advice.why and "A box alone" in advice.why
    split, density = advice.remedies
    after = applied(recipe, split)
    assert after.subgroups is not None and after.subgroups.column == "dose"
    assert [a for a in deep_advice(after, arrange(after, table), lambda: table) if a.key.startswith("peaks")] == []
    shown = applied(recipe, density)
    [still] = deep_advice(shown, arrange(shown, table), lambda: table)
    assert "A box alone" not in still.why


def test_bins_that_hide_peaks_and_bins_that_make_some() -> None:
    table = two_peaks()
    few = recipe_of_form("histogram", "level", "group")
    few = few.model_copy(update={"layers": [few.layers[0].model_copy(update={"count": 1})]})
    keys = keyed(deep_advice(few, arrange(few, table), lambda: table))
    assert "h1/hides-peaks" in keys and "x" in keys["h1/hides-peaks"].text
    after = applied(few, keys["h1/hides-peaks"].remedies[0])
    assert "h1/hides-peaks" not in keyed(deep_advice(after, arrange(after, table), lambda: table))


def test_lightness_of_known_colours() -> None:
    assert lightness("#000000") == 0 and lightness("#FFFFFF") == pytest.approx(1, abs=1e-6)
    assert lightness("#FF0000") == pytest.approx(0.62796, abs=1e-4)
    assert len({round(lightness(colour), 2) for colour in HOUSE_COLOURS[:8]}) >= 7


def test_a_hidden_layer_gets_no_advice() -> None:
    recipe = recipe_of_form("box", "level", "group")
    layers = [BoxLayer(id="b1", shown=False), PointsLayer(id="p1")]
    scene = scene_of(recipe.model_copy(update={"layers": layers}), lanes_table({"a": TAIL, "b": [1.0, 2.0]}))
    assert not {"b1/skewed", "few-values-box"} & keyed(scene.advice).keys()
