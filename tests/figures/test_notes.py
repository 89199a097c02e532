"""What a figure says of itself: how each form was computed, and what it may hide."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.transforms import TRANSFORMS
from echelle.numbers.outliers import OUTLIER_RULES, USUAL_K, OutlierRule
from echelle.numbers.stem import stem_and_leaf, stem_lines
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers import Layer
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.density import Bandwidth, DensityLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.normal_curve import NormalCurveLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.trend import TrendLayer
from echelle.recipes.recipe import FormName
from echelle.recipes.roles import Groups, Subgroups
from echelle.recipes.style import Axis, AxisScale, Style
from echelle.render import scene_of, scene_of_lanes
from echelle.scene.models import Scene
from tests.figures.test_sheets import TABLE
from tests.support.tables import box_recipe, lanes_table, table_of

VALUES = np.round(np.random.default_rng(4).lognormal(2, 0.6, 80), 2).tolist()


def drawn(*layers: Layer, **update: object) -> Scene:
    return scene_of(box_recipe(layers=list(layers), **update), TABLE)


def keys(scene: Scene) -> set[str]:
    return {advice.key for advice in scene.advice}


@pytest.mark.parametrize(
    ("form", "says"),
    [
        ("box", ["median and quartiles", "1.5 × the interquartile range"]),
        ("violin", ["kernel density (Gaussian, bandwidth by Silverman = 0.731 to 1.01 mmol/L)", "equal areas"]),
        ("strip", ["jitter, seed 41", "medians"]),
        ("raincloud", ["kernel density", "open diamonds"]),
        ("histogram", ["number by Freedman–Diaconis", "[a, b), the last closed", "common to all lanes", "counts"]),
        ("density", ["folded at 0"]),
        ("ridges", ["equal widths"]),
        ("cumulative", ["share of rows at or below each value"]),
        ("means", ["95 % confidence interval of the mean"]),
        ("in-order", ["in the order of the rows", "±1, ±2, ±3 SD"]),
        ("probability", ["plotting positions of Blom", "line through the quartiles"]),
        ("stem", ["cut to a leaf, not rounded"]),
        ("counts", ["rows with a value"]),
    ],
)
def test_each_form_says_how_it_was_computed(form: FormName, says: list[str]) -> None:
    note = scene_of(recipe_of_form(form, "level", "group"), TABLE).note
    assert not [words for words in says if words not in note], note


@pytest.mark.parametrize("rule", OUTLIER_RULES)
def test_each_rule_of_outliers_is_named(rule: OutlierRule) -> None:
    scene = drawn(BoxLayer(id="b1", fence=Fence(rule=rule, k=USUAL_K[rule])))
    words = {
        "quartiles": "interquartile range", "percentiles": "5th and 95th percentile", "full range": "the extremes",
        "none": "the extremes", "mean and SD": "mean ± 3 × SD", "median and MAD": "median ± 3.5 × 1.4826 × MAD",
        "skew-adjusted": "medcouple", "extreme deviates": "extreme Studentised deviates",
    }[rule]  # fmt: skip
    assert words in scene.note
    assert sum(readings.beyond for readings in scene.readings) == 0 or rule not in ("full range", "none")


def test_settings_are_named_where_they_are_not_the_usual_ones() -> None:
    density = DensityLayer(id="d1", kernel="biweight", bandwidth=Bandwidth(value=0.7, times=2.0), ends="fold", low=0.0)
    bins = BinsLayer(id="h1", width_of_bins=2.5, anchor=1.0, closed="right", height="share", share_of="all", cumulative=True)
    scene = drawn(density, bins, NormalCurveLayer(id="n1"), TrendLayer(id="t1", through="means"))
    for words in ("biweight, bandwidth 0.7 × 2", "folded at 0", "2.5 wide from 1", "(a, b]", "cumulative shares of all rows",
                  "Normal curves", "from lane to lane: means"):  # fmt: skip
        assert words in scene.note
    seeded = drawn(MeanLayer(id="m1", interval="bootstrap BCa", resamples=500, seed=3))
    assert "500 resamples, seed 3" in seeded.note


def test_what_a_figure_may_hide() -> None:
    covered = [PointsLayer(id="p1", place="on"), BoxLayer(id="b1")]
    assert "covered-points" in keys(drawn(*covered))
    assert "covered-points" not in keys(drawn(*reversed(covered)))
    many = recipe_of_form("density", "level", "group", "site")
    assert "colours" not in keys(scene_of(many, TABLE))
    few = many.model_copy(update={"style": Style(lane_colours=["#000000"])})
    assert "12 lanes share 1 colour." in " ".join(a.text for a in scene_of(few, TABLE).advice)
    assert "m1/bar" in keys(drawn(MeanLayer(id="m1", mark="bar")))
    assert "out-of-view" in keys(drawn(BoxLayer(id="b1"), axis=Axis(start=3.0)))
    explicit = drawn(BinsLayer(id="h1", edges=[3.0, 6.0]))
    below = sum(float(v) < 3 for v in TABLE.column("level").numbers)  # type: ignore[union-attr]
    assert any(f"{below} values below" in advice.text for advice in explicit.advice)


def test_bins_that_are_no_multiple_of_the_recording_step_are_remarked() -> None:
    table = table_of({"group": ["a"] * 60, "level": [f"{i % 20}.5" if i % 2 else f"{i % 20}" for i in range(60)]})
    odd, even = (
        scene_of(recipe_of_form("histogram", "level", "group").model_copy(update={"layers": [layer]}), table)
        for layer in (BinsLayer(id="h1", width_of_bins=0.7), BinsLayer(id="h1", width_of_bins=1.0))
    )
    assert any("recording step 0.5" in advice.text and "0.5 fits" in advice.why for advice in odd.advice)
    assert "h1/step" not in keys(even)


def test_swarms_of_too_many_points_are_shaped_and_said_so() -> None:
    table = lanes_table({"a": [float(v) + 0.5 for v in range(4100)], "b": [1.5, 2.5]})
    scene = scene_of(box_recipe(layers=[PointsLayer(id="p1", spread="swarm")]), table)
    assert any(advice.key == "p1/swarm" and advice.text.startswith("a:") for advice in scene.advice)


def test_a_group_in_another_place_changes_no_number() -> None:
    plain = scene_of(recipe_of_form("box", "level", "group"), TABLE)
    groups = Groups(column="group", sorted="by median", placed="overlaid", width="by n")
    turned = scene_of(recipe_of_form("box", "level", "group").model_copy(update={"groups": groups}), TABLE)
    strip = {"lane", "people"}
    entry = {r.group: r.model_dump(exclude=strip) for r in plain.readings}
    assert entry == {r.group: r.model_dump(exclude=strip) for r in turned.readings}
    split = recipe_of_form("box", "level", "group").model_copy(
        update={"subgroups": Subgroups(column="site", placed="overlaid")}
    )
    assert sum(r.n for r in scene_of(split, TABLE).readings) == sum(r.n for r in plain.readings)


@given(st.floats(1e-6, 1e6), st.sampled_from(list(TRANSFORMS)))
def test_scales_go_there_and_back(value: float, scale: AxisScale) -> None:
    result = TRANSFORMS[scale]
    assert result.back(result.forward(np.array([value])))[0] == pytest.approx(value, rel=1e-9)
    assert result.forward(np.array([value * 1.01]))[0] > result.forward(np.array([value]))[0]


@given(
    st.lists(st.integers(-500, 900).map(lambda n: n / 10), min_size=1, max_size=60), st.sampled_from([1, 2, 5]), st.booleans()
)
def test_every_value_has_one_leaf_on_the_right_stem(values: list[float], split: int, aside: bool) -> None:
    ordered = np.sort(np.array(values))
    lines = stem_lines(ordered, 1.0, split, aside)  # type: ignore[arg-type]
    apart = sum(len(line.leaves.split(", ")) for line in lines if line.label in ("low", "high"))
    body = [line for line in lines if line.label not in ("low", "high")]
    assert sum(len(line.leaves) for line in body) + apart == len(values)
    for line in body:
        sign = -1 if line.label.startswith("−") else 1
        for leaf in line.leaves:
            cut = sign * (int(line.label.removeprefix("−")) * 10 + int(leaf))
            assert any(int(v) == cut and (v < 0) == (sign < 0) for v in values)
    assert len(stem_and_leaf(ordered, 1.0, split, aside)) == len(lines) + 1  # type: ignore[arg-type]


def test_levels_that_are_not_shown_are_counted_and_splits_are_named() -> None:
    dropped = drawn(BoxLayer(id="b1"), groups=Groups(column="group", dropped=["arm A", "arm B"]))
    assert "120 rows of levels that are not shown" in dropped.note and dropped.counts.used == 120
    split = scene_of(recipe_of_form("violin", "level", "group", "day", None, "site"), TABLE)
    assert split.title == "level across group, split by day, a panel per site"


def test_shapes_on_a_bent_axis_say_so() -> None:
    bent = {"axis": Axis(scale="log10")}
    assert "computed on the axis' scale (log10)" in drawn(DensityLayer(id="d1"), **bent).note
    assert "axis' scale" not in drawn(BoxLayer(id="b1"), **bent).note


@pytest.mark.parametrize("runs", ["across", "up"])
def test_a_covered_curve_is_remarked_where_it_lies_behind_the_next(runs: str) -> None:
    low, high = [1.0, 1.1, 1.2, 1.3], [8.0, 8.1, 8.2, 8.3, 4.0, 4.2, 4.4]
    layer = DensityLayer(id="d1", side="above", width=3.0, size="equal area", bandwidth=Bandwidth(value=0.3))

    def hidden(lanes: dict[str, list[float]], **update: object) -> list[str]:
        recipe = box_recipe(layers=[layer], axis=Axis(runs=runs), **update)  # type: ignore[arg-type]
        scene = scene_of(recipe, lanes_table(lanes))
        return [advice.text for advice in scene.advice if advice.key == "d1/covered"]

    assert hidden({"a": low, "b": high}) == []
    assert hidden({"a": [*high, 1.15], "b": low}) == (["Part of a curve is covered: a."] if runs == "across" else [])
    assert hidden({"a": low, "b": low}) == ([] if runs == "across" else ["Part of a curve is covered: a."])


def test_what_lanes_keep_is_bounded() -> None:
    recipe = box_recipe(layers=[PointsLayer(id="p1")])
    lanes = arrange(recipe, TABLE)
    for seed in range(40):
        layers = [PointsLayer(id="p1", seed=seed), DensityLayer(id="d1", bandwidth=Bandwidth(value=0.5 + seed))]
        scene_of_lanes(recipe.model_copy(update={"layers": layers}), lanes)
    assert all(len(lane.long) <= 4 and len(lane.small) <= 24 for lane in lanes.lanes)
