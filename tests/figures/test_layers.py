"""What layers draw, against positions computed apart from the same values."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from echelle.recipes.forms import recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.cumulative import CumulativeLayer
from echelle.recipes.layers.density import Bandwidth, DensityLayer
from echelle.recipes.layers.line import LineLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.normal_curve import NormalCurveLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.stem import StemLayer
from echelle.recipes.layers.ticks import TicksLayer
from echelle.recipes.layers.trend import TrendLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Groups, Measure, Subgroups
from echelle.recipes.style import Axis, Size
from echelle.render import scene_of
from echelle.scene.models import LinePart, PathPart, PointsPart, RectPart, Scene, ScenePart, TextPart, unpack
from echelle.tables.steps.left_out import LeftOut
from tests.support.sheets import marks_stay_in_their_panel, path_places, texts_keep_apart
from tests.support.tables import box_recipe, lanes_table, table_of

RNG = np.random.default_rng(11)
VALUES = {"one": np.round(RNG.normal(20, 4, 60), 2).tolist(), "two": np.round(RNG.lognormal(2.5, 0.4, 80), 2).tolist()}
TABLE = lanes_table(VALUES)
ONE = np.array(VALUES["one"])


def drawn(*layers: object, **update: object) -> Scene:
    return scene_of(box_recipe(layers=list(layers), **update), TABLE)


def part_of(scene: Scene, key: str) -> ScenePart:
    return next(part for part in scene.walk() if part.key == key)


def value_at(scene: Scene, x: np.ndarray | float) -> np.ndarray:
    """Coordinates back to values, for lanes that run across."""
    (v0, v1), (c0, c1) = scene.panels[0].scale.domain, scene.panels[0].scale.range
    return v0 + (np.asarray(x) - c0) * (v1 - v0) / (c1 - c0)


def test_a_density_is_the_direct_sum_with_the_width_of_its_lane_for_the_highest_curve() -> None:
    layer = DensityLayer(id="d1", bandwidth=Bandwidth(value=1.5), width=0.8)
    scene = drawn(layer)
    reaches = []
    for lane, values in zip(scene.lanes, VALUES.values(), strict=True):
        area = part_of(scene, f"p1/{lane.key}/d1/density")
        assert isinstance(area, PathPart)
        xs, ys = (np.array(spots) for spots in path_places(area))
        half = len(xs) // 2
        height = (lane.start + lane.end) / 2 - ys[:half]
        at = value_at(scene, xs[:half])
        direct = stats.norm.pdf((at[:, None] - np.array(values)) / 1.5).sum(axis=1) / (1.5 * len(values))
        inside = (xs[:half] > scene.panels[0].scale.range[0] + 1) & (direct > 1e-3)
        scale = height[inside] / direct[inside]
        assert scale == pytest.approx(np.full(inside.sum(), np.median(scale)), rel=0.02)
        reaches.append(height.max() / (lane.end - lane.start))
    # Half of the width on each side, for the highest of all curves.
    assert max(reaches) == pytest.approx(0.4, abs=1e-3) and min(reaches) < 0.4


def test_columns_stand_on_their_edges_as_high_as_their_counts() -> None:
    scene = drawn(BinsLayer(id="h1", edges=[0, 10, 20, 30, 60], gap=0.0, width=1.0))
    lane = scene.lanes[0]
    counts = np.histogram(ONE, [0, 10, 20, 30, 60])[0]
    top = max(np.histogram(v, [0, 10, 20, 30, 60])[0].max() for v in VALUES.values())
    for i, count in enumerate(counts):
        column = next((part for part in scene.walk() if part.key == f"p1/{lane.key}/h1/bin/{i}"), None)
        if count == 0:
            assert column is None
            continue
        assert isinstance(column, RectPart)
        ends = value_at(scene, np.array([column.x, column.x + column.width]))
        assert ends == pytest.approx([[0, 10, 20, 30, 60][i], [0, 10, 20, 30, 60][i + 1]], abs=0.02)
        assert column.height / (lane.end - lane.start) == pytest.approx(count / top, abs=1e-3)


@pytest.mark.parametrize(
    ("height", "of", "cumulative"), [("share", "all", False), ("density", "lane", False), ("count", "lane", True)]
)
def test_heights_of_bins_by_name(height: str, of: str, cumulative: bool) -> None:
    edges = [0.0, 15.0, 20.0, 60.0]
    layer = BinsLayer(id="h1", edges=edges, height=height, share_of=of, cumulative=cumulative, width=1.0)  # type: ignore[arg-type]
    scene = drawn(layer)
    expected = []
    for values in VALUES.values():
        counts = np.histogram(values, edges)[0].astype(float)
        if height == "share":
            counts /= 140
        elif height == "density":
            counts /= len(values) * np.diff(edges)
        expected.append(np.cumsum(counts) if cumulative else counts)
    top = max(heights.max() for heights in expected)
    for lane, heights in zip(scene.lanes, expected, strict=True):
        result = [
            part.height / (lane.end - lane.start) for part in scene.walk() if part.role == "bin" and part.lane == lane.key
        ]
        assert result == pytest.approx((heights[heights > 0] / top).tolist(), abs=1e-3)


def test_stacked_counts_stand_on_one_another() -> None:
    table = table_of({"arm": ["a"] * 12, "sex": ["f", "m", "m"] * 4, "level": [f"{i % 4}.5" for i in range(12)]})
    recipe = recipe_of_form("histogram", "level", "arm", "sex")
    layers = [BinsLayer(id="h1", edges=[0, 2, 4], width=1.0)]
    scene = scene_of(
        recipe.model_copy(update={"layers": layers, "subgroups": Subgroups(column="sex", placed="stacked")}), table
    )
    first = [part for part in scene.walk() if part.role == "bin" and part.key.endswith("bin/0")]
    below, above = sorted(first, key=lambda part: -part.y)
    assert above.y + above.height == pytest.approx(below.y, abs=0.01)
    assert above.height / below.height == pytest.approx(2.0, abs=0.01)


def test_a_curve_over_columns_has_their_scale() -> None:
    scene = drawn(BinsLayer(id="h1", count=20, width=1.0), NormalCurveLayer(id="n1", width=1.0))
    lane = scene.lanes[0]
    curve = part_of(scene, f"p1/{lane.key}/n1/normal-curve")
    columns = [part for part in scene.walk() if part.role == "bin" and part.lane == lane.key]
    assert isinstance(curve, PathPart)
    xs, ys = (np.array(spots) for spots in path_places(curve))
    under = float(np.trapezoid(lane.end - ys, xs))
    assert under == pytest.approx(sum(part.width / 0.96 * part.height for part in columns), rel=0.02)


def test_steps_and_normal_scores() -> None:
    scene = drawn(CumulativeLayer(id="c1", width=1.0))
    lane = scene.lanes[0]
    xs, ys = (np.array(spots) for spots in path_places(part_of(scene, f"p1/{lane.key}/c1/step")))  # type: ignore[arg-type]
    for x, y in zip(xs[2:-1:7], ys[2:-1:7], strict=True):
        low, high = (float((value_at(scene, x) + d >= ONE).mean()) for d in (-0.02, 0.02))
        assert low - 0.01 <= (lane.end - y) / (lane.end - lane.start) <= high + 0.01
    scores = drawn(CumulativeLayer(id="c1", against="normal distribution", positions="hazen", width=1.0))
    points = part_of(scores, f"p1/{lane.key}/c1/point")
    assert isinstance(points, PointsPart)
    across = np.sort(unpack(points.columns.y, "<f4"))[::-1]
    expected = stats.norm.ppf((np.arange(1, 61) - 0.5) / 60)
    fitted = np.polyfit(expected, across, 1)
    assert np.abs(np.polyval(fitted, expected) - across).max() < 0.01


@pytest.mark.parametrize("interval", ["SD", "SE", "confidence", "bootstrap percentile", "bootstrap BCa"])
def test_intervals_of_means(interval: str) -> None:
    scene = drawn(MeanLayer(id="m1", interval=interval))  # type: ignore[arg-type]
    line = part_of(scene, "p1/g1/m1/interval")
    assert isinstance(line, LinePart)
    sd, se = ONE.std(ddof=1), stats.sem(ONE)
    half = {"SD": sd, "SE": se}.get(interval, se * stats.t.ppf(0.975, 59))
    tolerance = 0.12 if interval.startswith("bootstrap") else 0.002
    assert value_at(scene, np.array([line.x1, line.x2])) == pytest.approx(
        [ONE.mean() - half, ONE.mean() + half], abs=tolerance * half + 0.02
    )
    named = {"SD": "±1 SD", "SE": "±1 SE"}.get(
        interval, f"{'bootstrap' if 'boot' in interval else 'confidence'} interval of the mean"
    )
    assert named in scene.note


def test_the_median_with_order_statistics_as_its_interval() -> None:
    line = part_of(scene := drawn(MeanLayer(id="m1", centre="median")), "p1/g1/m1/interval")
    rank = int(stats.binom.ppf(0.025, 60, 0.5))
    ends = np.sort(ONE)[[rank - 1, 60 - rank]]
    assert isinstance(line, LinePart)
    assert value_at(scene, np.array([line.x1, line.x2])) == pytest.approx(ends, abs=0.02)


def test_a_bar_begins_at_zero_and_is_advised_against() -> None:
    scene = drawn(MeanLayer(id="m1", mark="bar"))
    bar = part_of(scene, "p1/g1/m1/mean")
    assert isinstance(bar, RectPart)
    assert value_at(scene, np.array([bar.x, bar.x + bar.width])) == pytest.approx([0.0, ONE.mean()], abs=0.02)
    assert any(advice.key == "m1/bar" for advice in scene.advice)


def test_lines_at_mean_and_sds() -> None:
    scene = drawn(LineLayer(id="l1", at="mean and SD", sds=[1.0, 2.0]))
    result = sorted(float(value_at(scene, part.x1)) for part in scene.walk() if part.role == "line" and part.lane == "g1")
    sd = ONE.std(ddof=1)
    assert result == pytest.approx([ONE.mean() + k * sd for k in (-2, -1, 0, 1, 2)], abs=0.02)
    first, second = (int((np.abs(ONE - ONE.mean()) > k * sd).sum()) for k in (1, 2))
    assert any(f"±1, ±2 SD: one {first}, {second};" in advice.text for advice in scene.advice)


def test_ticks_at_values_and_quantiles() -> None:
    scene = drawn(TicksLayer(id="t1"), TicksLayer(id="t2", quantiles=[0.1, 0.9]))
    every = part_of(scene, "p1/g1/t1/tick")
    assert isinstance(every, PathPart)
    xs = sorted(set(path_places(every)[0]))
    assert value_at(scene, np.array(xs)) == pytest.approx(np.unique(ONE), abs=0.03)
    chosen = part_of(scene, "p1/g1/t2/tick")
    assert isinstance(chosen, PathPart)
    assert value_at(scene, np.array(sorted(set(path_places(chosen)[0])))) == pytest.approx(
        np.quantile(ONE, [0.1, 0.9]), abs=0.03
    )


def test_boxes_hold_another_share_and_whiskers_reach_elsewhere_than_the_fence() -> None:
    layer = BoxLayer(id="b1", holds=0.8, fence=Fence(rule="mean and SD", k=2.0), whiskers=Fence(rule="full range", k=0.0))
    scene = drawn(layer)
    box, low, high = (part_of(scene, f"p1/g1/b1/{end}") for end in ("box", "whisker/low", "whisker/high"))
    assert isinstance(box, RectPart) and isinstance(low, LinePart) and isinstance(high, LinePart)
    assert value_at(scene, np.array([box.x, box.x + box.width])) == pytest.approx(np.quantile(ONE, [0.1, 0.9]), abs=0.02)
    assert value_at(scene, np.array([low.x2, high.x2])) == pytest.approx([ONE.min(), ONE.max()], abs=0.02)
    beyond = np.abs(ONE - ONE.mean()) > 2 * ONE.std(ddof=1)
    assert scene.readings[0].beyond == beyond.sum() > 0
    assert "the central 80 %" in scene.note and "mean ± 2 × SD" in scene.note


def test_a_least_squares_line_is_that_of_all_rows() -> None:
    doses = [0, 1, 2, 4] * 10
    level = [round(3 + 2 * d + float(RNG.normal(0, 1)), 3) for d in doses]
    table = table_of({"dose": [str(d) for d in doses], "level": level})
    recipe = recipe_of_form("strip", "level", "dose").model_copy(
        update={"groups": Groups(column="dose", placed="at value"), "layers": [TrendLayer(id="t1", through="least squares")]}
    )
    scene = scene_of(recipe.model_copy(update={"axis": Axis(runs="across")}), table)
    xs, ys = (np.array(spots) for spots in path_places(part_of(scene, "p1/t1/trend")))  # type: ignore[arg-type]
    middles = [(lane.start + lane.end) / 2 for lane in scene.lanes]
    at = np.interp(ys, middles, [0, 1, 2, 4])
    line = stats.linregress(doses, level)
    assert value_at(scene, xs) == pytest.approx(line.intercept + line.slope * at, abs=0.03)


def test_points_in_order_stand_by_rank_or_by_date() -> None:
    days = ["2024-01-01", "2024-01-11", "2024-01-02", "2024-01-06"]
    table = table_of({"day": days, "level": [1.5, 2.5, 3.5, 4.5]})
    layer = PointsLayer(id="p1", place="on", spread="in order")

    def order(layer: PointsLayer) -> list[float]:
        recipe = recipe_of_form("in-order", "level").model_copy(update={"layers": [layer]})
        scene = scene_of(recipe, table)
        parts = [part for part in scene.walk() if isinstance(part, PointsPart)]
        places = dict(zip(unpack(parts[0].columns.rows, "<f8"), unpack(parts[0].columns.x, "<f4"), strict=True))
        return [places[row] for row in (1, 2, 3, 4)]

    ranks = np.diff(order(layer))
    assert ranks == pytest.approx(np.full(3, ranks[0]), abs=0.01) and ranks[0] > 0
    by_day = order(layer.model_copy(update={"against": "day"}))
    assert (by_day[3] - by_day[0]) / (by_day[1] - by_day[0]) == pytest.approx(0.5, abs=0.01)
    assert (by_day[2] - by_day[0]) / (by_day[1] - by_day[0]) == pytest.approx(0.1, abs=0.01)


SUBJECTS = table_of({
    "arm": ["before"] * 4 + ["after"] * 4, "subject": ["S-1", "S-2", "S-3", "S-4"] * 2, "kit": ["x", "y"] * 4,
    "level": [1.5, 2.5, 3.5, "<1", 2.5, 3.0, 4.5, 5.5],
})  # fmt: skip


def strip(layer: PointsLayer, **update: object) -> Scene:
    recipe: Recipe = recipe_of_form("strip", "level", "arm").model_copy(update={"layers": [layer], **update})
    return scene_of(recipe, SUBJECTS)


def test_points_of_a_subject_are_joined_coloured_shaped_and_named() -> None:
    layer = PointsLayer(id="p1", joined="subject", coloured="kit", shaped="kit", named=[2, 7], names="subject")
    scene = strip(layer)
    join = part_of(scene, "p1/p1/join")
    assert isinstance(join, PathPart) and join.d.count("M") == 3
    points = [part for part in scene.walk() if isinstance(part, PointsPart) and part.role == "point"]
    assert {part.shape for part in points} == {"circle", "square"} and len({part.paint.fill for part in points}) == 2
    assert [part.text for part in scene.walk() if part.role == "point-name"] == ["S-2", "S-3"]
    assert [part.text for part in scene.walk() if part.role == "key-label"] == ["x", "y", "x", "y"]


def test_limits_are_arrows_at_their_limit_and_left_out_rows_faint_crosses() -> None:
    scene = strip(PointsLayer(id="p1"), left_out=[LeftOut(row=7, reason="clotted")])
    arrow = next(part for part in scene.walk() if part.role == "limit")
    cross = next(part for part in scene.walk() if part.role == "left-out")
    assert isinstance(arrow, PointsPart) and isinstance(cross, PointsPart)
    (v0, v1), (c0, c1) = scene.panels[0].scale.domain, scene.panels[0].scale.range
    assert arrow.shape == "down" and unpack(arrow.columns.y, "<f4") == pytest.approx(
        c0 + (1 - v0) * (c1 - c0) / (v1 - v0), abs=0.01
    )
    assert cross.shape == "cross" and unpack(cross.columns.rows, "<f8").tolist() == [7]
    assert {(r.group, r.n, r.censored, r.left_out) for r in scene.readings} == {("before", 3, 1, 0), ("after", 3, 0, 1)}


def test_left_out_rows_are_crosses_beside_a_box_too_and_never_twice() -> None:
    out = {"left_out": [LeftOut(row=7, reason="clotted")]}
    recipe = recipe_of_form("box", "level", "arm").model_copy(update=out)
    for layers in ([BoxLayer(id="b1")], [BoxLayer(id="b1"), PointsLayer(id="p1")]):
        scene = scene_of(recipe.model_copy(update={"layers": layers}), SUBJECTS)
        crosses = [part for part in scene.walk() if part.role == "left-out"]
        assert [unpack(part.columns.rows, "<f8").tolist() for part in crosses] == [[7]]  # type: ignore[union-attr]
        assert len([part for part in scene.walk() if part.role == "limit"]) == 1


@pytest.mark.parametrize("spread", ["jitter", "shaped", "swarm", "stack", "line"])
def test_points_keep_their_value_in_every_spread(spread: str) -> None:
    scene = drawn(PointsLayer(id="p1", place="on", spread=spread, width=0.8))  # type: ignore[arg-type]
    for lane, values in zip(scene.lanes, VALUES.values(), strict=True):
        part = part_of(scene, f"p1/{lane.key}/p1/point")
        assert isinstance(part, PointsPart)
        assert value_at(scene, unpack(part.columns.x, "<f4")) == pytest.approx(values, abs=0.01)
        ys = unpack(part.columns.y, "<f4")
        assert ys.min() >= lane.start - 0.01 and ys.max() <= lane.end + 0.01


def test_stems_hold_every_value() -> None:
    scene = scene_of(
        recipe_of_form("stem", "level", "group").model_copy(update={"layers": [StemLayer(id="s1", unit=1.0)]}), TABLE
    )
    leaves = [part for part in scene.walk() if part.role == "stem" and part.key.endswith("leaves") and part.lane == "g1"]
    texts = [part.text for part in leaves if "," not in part.text and "." not in part.text]
    aside = sum(len(part.text.split(",")) for part in leaves if "." in part.text)
    assert sum(map(len, texts)) + aside == 60
    assert any("one step of 1" in advice.text for advice in scene.advice)


def test_leaves_of_several_values_say_so_and_are_so_in_every_lane() -> None:
    table = lanes_table({"a": [float(i % 50) for i in range(600)], "b": [float(i) for i in range(12)]})
    scene = scene_of(recipe_of_form("stem", "level", "group").model_copy(update={"size": Size(width="85mm")}), table)
    texts = [part for part in scene.walk() if isinstance(part, TextPart)]
    [said] = [part for part in texts if part.role == "note"]
    example, leaf = said.text.split(" · ")
    assert example == "2 | 5 = 25"
    most = int(leaf.removeprefix("a leaf: up to ").removesuffix(" values"))
    stems = {"g1": 600, "g2": 12}
    for lane, n in stems.items():
        rows = [part.text for part in texts if part.role == "stem" and part.key.endswith("leaves") and part.lane == lane]
        assert most > 1 and n / most <= sum(map(len, rows)) < n / most + len(rows)
    assert any(f"up to {most} values" in advice.text for advice in scene.advice)
    wide = scene_of(recipe_of_form("stem", "level", "group"), TABLE)
    assert [part.text for part in wide.walk() if part.role == "note" and isinstance(part, TextPart)] == ["2 | 0 = 20"]


def test_stems_without_room_for_a_digit_are_bars_as_long_as_the_leaves() -> None:
    lanes = {f"g{i}": [float(i + k) for k in range(10 + i)] for i in range(16)}
    recipe = recipe_of_form("stem", "level", "group").model_copy(update={"size": Size(width="60mm")})
    scene = scene_of(recipe, lanes_table(lanes))
    bars = [part for part in scene.walk() if part.role == "stem"]
    assert bars and all(isinstance(part, RectPart) for part in bars)
    marks_stay_in_their_panel(scene)
    [said] = [advice for advice in scene.advice if advice.key.endswith("/leaves")]
    assert said.text.startswith("g0, g1, g2, g3 and 12 more: no room for digits")


def test_quartiles_in_order_are_drawn_where_they_have_a_number() -> None:
    table = table_of({"group": ["a"] * 8, "level": ["<1", "<1", "2.5", "3.5", "4.5", "5.5", "6.5", "7.5"]})
    recipe = recipe_of_form("box", "level", "group")
    plain = scene_of(recipe, table)
    ordered = scene_of(recipe.model_copy(update={"measure": Measure(columns=["level"], limits="in order")}), table)
    assert (plain.readings[0].median, ordered.readings[0].median) == (5.0, 4.0)
    assert ordered.readings[0].limits == {"min": "<1", "q1": "<1"}


@pytest.mark.parametrize("spread", ["jitter", "line", "swarm"])
def test_limits_on_both_sides_point_away_from_one_another(spread: str) -> None:
    table = table_of({"arm": ["a"] * 6, "level": ["<1", "<1", "2.5", "3.5", ">9", "4.5"]})
    layer = PointsLayer(id="p1", spread=spread)  # type: ignore[arg-type]
    for layers, count in (([layer], 1), ([BoxLayer(id="b1")], 1)):
        scene = scene_of(recipe_of_form("box", "level", "arm").model_copy(update={"layers": layers}), table)
        result = {part.shape: part for part in scene.walk() if part.role == "limit"}  # type: ignore[union-attr]
        assert set(result) == {"left", "right"} and len(result) == 2 * count
        assert unpack(result["left"].columns.rows, "<f8").tolist() == [1, 2]
        assert value_at(scene, unpack(result["right"].columns.x, "<f4")) == pytest.approx([9.0], abs=0.02)


def test_a_tail_on_a_square_root_axis_ends_at_zero() -> None:
    table = lanes_table({"a": [0.0, 0.1, 0.2, 0.5, 4.0, 9.5]})
    for layer in (DensityLayer(id="x1", side="above"), NormalCurveLayer(id="x1")):
        scene = scene_of(box_recipe(layers=[layer], axis=Axis(scale="square-root")), table)
        curve = next(part for part in scene.walk() if part.layer == "x1")
        xs = np.array(path_places(curve)[0])  # type: ignore[arg-type]
        half = len(xs) // 2 if isinstance(layer, DensityLayer) else len(xs)
        assert np.all(np.diff(xs[:half]) >= 0) and scene.panels[0].scale.domain[0] == 0.0


def test_whiskers_back_to_back_stand_in_their_own_half() -> None:
    table = table_of({"arm": ["a"] * 12, "sex": ["f", "m"] * 6, "level": [f"{i}.5" for i in range(12)]})
    for runs in ("across", "up"):
        recipe = recipe_of_form("box", "level", "arm", "sex").model_copy(update={"axis": Axis(runs=runs)})  # type: ignore[arg-type]
        scene = scene_of(recipe.model_copy(update={"subgroups": Subgroups(column="sex", placed="back-to-back")}), table)
        for lane in scene.lanes:
            box = part_of(scene, f"p1/{lane.key}/b1/box")
            whisker = part_of(scene, f"p1/{lane.key}/b1/whisker/high")
            assert isinstance(box, RectPart) and isinstance(whisker, LinePart)
            low, size, at = (box.y, box.height, whisker.y1) if runs == "across" else (box.x, box.width, whisker.x1)
            assert low < at < low + size


def test_an_open_bin_counts_what_lies_beyond_and_is_drawn_at_its_edges() -> None:
    scene = drawn(BinsLayer(id="h1", edges=[15.0, 25.0], open_below=True, open_above=True, gap=0.0, width=1.0))
    for lane, values in zip(scene.lanes, VALUES.values(), strict=True):
        column = part_of(scene, f"p1/{lane.key}/h1/bin/0")
        assert isinstance(column, RectPart)
        assert value_at(scene, np.array([column.x, column.x + column.width])) == pytest.approx([15.0, 25.0], abs=0.02)
        assert column.height / (lane.end - lane.start) == pytest.approx(len(values) / 80, abs=1e-3)


def test_a_crowded_swarm_says_how_many_found_no_place() -> None:
    table = lanes_table({"a": [2.0] * 60 + [2.5] * 3, "b": [1.5, 3.5]})
    scene = scene_of(box_recipe(layers=[PointsLayer(id="p1", place="on", spread="swarm", size=6.0, width=0.3)]), table)
    [said] = [advice.text for advice in scene.advice if advice.key == "p1/crowded"]
    points = part_of(scene, "p1/g1/p1/point")
    assert isinstance(points, PointsPart)
    ys = unpack(points.columns.y, "<f4")[:60]
    assert int(said.split()[0]) == 60 - len(np.unique(np.round(ys, 1))) + 2 and said.endswith(": a " + said.split()[0] + ".")


def test_names_of_points_keep_apart_across_lanes_and_from_guides() -> None:
    names = [f"subject {i:03d}" for i in range(40)]
    table = table_of({"arm": ["a", "b"] * 20, "subject": names, "level": [f"{5 + i % 4}.5" for i in range(40)]})
    layer = PointsLayer(id="p1", place="on", named=list(range(1, 41)), names="subject", width=1.0)
    guides = [Guide(at=6.5, label="a guide that names stay away from")]
    recipe = recipe_of_form("strip", "level", "arm").model_copy(update={"layers": [layer], "guides": guides})
    scene = scene_of(recipe, table)
    texts_keep_apart(scene)
    assert sum(part.role == "point-name" for part in scene.walk()) >= 5


def test_decimals_are_those_of_all_lanes() -> None:
    assert scene_of(box_recipe(), lanes_table({"a": [1.0, 2.0, 3.0], "b": [1.25, 2.5, 3.5]})).decimals == 2


def test_curves_fold_at_zero_by_default_where_no_value_is_negative_and_one_would_cross_it() -> None:
    def axis_of(values: dict[str, list[float]], **settings: object) -> tuple[float, str]:
        recipe = box_recipe(layers=[DensityLayer(id="d1", **settings)])
        scene = scene_of(recipe, lanes_table(values))
        return scene.panels[0].scale.domain[0], scene.note

    near, far = {"a": [0.1, 0.4, 0.9, 1.7, 3.0, 0.2]}, {"a": [1000.0, 1001.0, 1003.5, 1002.0]}
    assert axis_of(near)[0] == 0 and "folded at 0" in axis_of(near)[1]
    assert axis_of(near, ends="run past")[0] < 0
    # Far from zero nothing is folded, and nothing is claimed; below zero neither.
    assert "running past the data" in axis_of(far)[1]
    assert "running past the data" in axis_of({"a": [-0.1, 0.4, 0.9, 1.7]})[1]
    # One lane that would cross it folds all.
    assert "folded at 0" in axis_of({**near, "b": far["a"]})[1]


def test_a_violin_shows_its_middle_half_in_full_strength_and_its_median_as_a_bar() -> None:
    scene = scene_of(recipe_of_form("violin", "level", "group").model_copy(update={"axis": Axis(runs="across")}), TABLE)
    frame = scene.panels[0]
    q1, median, q3 = np.quantile(ONE, [0.25, 0.5, 0.75])
    (low, high), (start, end) = frame.scale.domain, frame.scale.range
    middle = next(p for p in scene.walk() if isinstance(p, PathPart) and p.role == "density" and p.key.endswith("middle"))
    x = np.array(path_places(middle)[0])
    assert [x.min(), x.max()] == [pytest.approx(start + (v - low) / (high - low) * (end - start), abs=0.01) for v in (q1, q3)]
    bar = next(p for p in scene.walk() if isinstance(p, RectPart) and p.role == "median" and p.lane == middle.lane)
    assert bar.x + bar.width / 2 == pytest.approx(start + (median - low) / (high - low) * (end - start), abs=0.01)
    whole = next(p for p in scene.walk() if isinstance(p, PathPart) and p.lane == middle.lane and p.role == "density")
    assert whole.paint.opacity < 0.5 * middle.paint.opacity
    assert "middle half" in scene.note and scene.form == "violin"


def test_lanes_of_few_values_show_them_instead_of_a_spike() -> None:
    table = lanes_table({"many": VALUES["one"], "two": [10.0, 10.2]})
    scene = scene_of(recipe_of_form("violin", "level", "group"), table)
    lanes = {lane.group: lane.key for lane in scene.lanes}
    curves = {p.lane for p in scene.walk() if p.role == "density"}
    points = [p for p in scene.walk() if isinstance(p, PointsPart) and p.role == "point"]
    assert curves == {lanes["many"]} and [(p.lane, p.columns.count) for p in points] == [(lanes["two"], 2)]
    assert "d1/few" in {advice.key for advice in scene.advice} and "beside fuller lanes: two" in scene.note
    # Where all lanes hold few, curves are what was asked for.
    few = scene_of(recipe_of_form("violin", "level", "group"), lanes_table({"a": [1.0, 2.0, 4.0], "b": [2.0, 3.0]}))
    assert {p.role for p in few.walk()} >= {"density"} and "point" not in {p.role for p in few.walk()}


def test_points_grow_smaller_and_paler_with_n_unless_told_otherwise() -> None:
    def look(n: int, **settings: object) -> tuple[float, float]:
        table = lanes_table({"a": np.round(RNG.normal(20, 4, n), 2).tolist()})
        scene = scene_of(box_recipe(layers=[PointsLayer(id="p1", **settings)]), table)
        part = next(p for p in scene.walk() if isinstance(p, PointsPart) and p.role == "point")
        return part.size, part.paint.opacity

    assert look(200) == (3.0, 0.6)
    assert look(5_000, by_n=False) == (3.0, 0.6)
    assert look(800)[0] > look(5_000)[0] > 1 and look(800)[1] > look(5_000)[1] > 0.1


def test_equal_outliers_are_fanned_across_their_lane_and_never_along_the_measure() -> None:
    values = [10.0 + i / 4 for i in range(20)] + [60.0, 60.0, 60.0, 75.0]
    scene = scene_of(box_recipe(layers=[BoxLayer(id="b1")]), lanes_table({"a": values}))
    part = next(p for p in scene.walk() if isinstance(p, PointsPart) and p.role == "outlier")
    x, y = (unpack(part.columns.x, "<f4"), unpack(part.columns.y, "<f4"))
    same = np.abs(x - x.min()) < 0.01
    assert same.sum() == 3 and len({round(float(v), 2) for v in y[same]}) == 3
    lane = scene.lanes[0]
    assert np.mean(y[same]) == pytest.approx(float(y[~same][0]), abs=0.01)
    assert y.min() > lane.start and y.max() < lane.end


def test_columns_laid_over_one_another_let_the_overlap_be_seen() -> None:
    def strengths(placed: str) -> set[tuple[float, str | None]]:
        groups = Groups(column="group", placed=placed)  # type: ignore[arg-type]
        scene = scene_of(recipe_of_form("histogram", "level", "group").model_copy(update={"groups": groups}), TABLE)
        return {(p.paint.opacity, p.paint.stroke) for p in scene.walk() if isinstance(p, RectPart) and p.role == "bin"}

    alone, over = strengths("evenly"), strengths("overlaid")
    assert {stroke for _, stroke in alone} == {None} and len({stroke for _, stroke in over}) == 2
    assert max(opacity for opacity, _ in over) <= 0.5 < min(opacity for opacity, _ in alone)


def test_fill_and_outline_of_boxes_and_columns_are_apart() -> None:
    hollow = BoxLayer(id="b1", fill=0.0, outline=2.0)
    scene = scene_of(recipe_of_form("box", "level", "group").model_copy(update={"layers": [hollow]}), TABLE)
    boxes = [part for part in scene.walk() if isinstance(part, RectPart) and part.role == "box" and part.lane == "g1"]
    assert [(part.paint.opacity, part.paint.stroke_width) for part in boxes] == [(0.0, 0.0), (1.0, 2.0)]
    medians = [part.paint.fill for part in scene.walk() if isinstance(part, RectPart) and part.role == "median"]
    assert scene.ground not in medians
    plain, edged = (
        [part for part in scene_of(box_recipe().model_copy(update={"layers": [layer]}), TABLE).walk() if part.role == "bin"]
        for layer in (BinsLayer(id="h1", fill=0.2), BinsLayer(id="h1", fill=0.2, edge=1.5))
    )
    assert len(edged) == 2 * len(plain)
    assert {part.paint.stroke_width for part in edged if isinstance(part, RectPart)} == {0.0, 1.5}


def test_values_without_a_level_have_their_own_entry_in_the_key() -> None:
    table = table_of({"level": [1.0, 2.0, 3.0, 4.0], "group": ["a"] * 4, "site": ["x", "y", "", "x"]})
    for role in ("coloured", "shaped"):
        layer = PointsLayer.model_validate({"id": "p1", role: "site"})
        scene = scene_of(recipe_of_form("strip", "level", "group").model_copy(update={"layers": [layer]}), table)
        labels = [part.text for part in scene.walk() if isinstance(part, TextPart) and part.role == "key-label"]
        assert labels == ["x", "y", "no site"]


def test_a_column_tells_its_class_its_count_and_its_share() -> None:
    table = lanes_table({"a": [0.5, 1.5, 1.5, 3.0], "b": [2.5]})
    layer = BinsLayer(id="h1", edges=[0.0, 1.0, 2.0, 4.0], names=["low", "normal", "high"], height="share")
    scene = scene_of(recipe_of_form("histogram", "level", "group").model_copy(update={"layers": [layer]}), table)
    said = [part.says for part in scene.walk() if isinstance(part, RectPart) and part.role == "bin" and part.lane == "g1"]
    assert said == [
        "low: 0 to 1 · 1 value · 25.0 %", "normal: 1 to 2 · 2 values · 50.0 %", "high: 2 to 4 · 1 value · 25.0 %",
    ]  # fmt: skip
    opened = layer.model_copy(update={"edges": [1.0, 2.0, 2.5], "names": [], "open_below": True, "open_above": True})
    scene = scene_of(recipe_of_form("histogram", "level", "group").model_copy(update={"layers": [opened]}), table)
    said = [part.says for part in scene.walk() if isinstance(part, RectPart) and part.role == "bin" and part.lane == "g1"]
    assert said == ["below 2 · 3 values · 75.0 %", "2 and above · 1 value · 25.0 %"]


def test_lines_at_sds_say_which_they_are_and_keep_apart() -> None:
    for runs in ("across", "up"):
        recipe = recipe_of_form("in-order", "level", "group").model_copy(update={"axis": Axis(runs=runs)})  # type: ignore[arg-type]
        scene = scene_of(recipe, TABLE)
        lines = {part.key.rsplit("/", 1)[1]: part for part in scene.walk() if part.role == "line" and part.lane == "g1"}
        names = [
            part for part in scene.walk() if isinstance(part, TextPart) and part.role == "line-label" and part.lane == "g1"
        ]
        assert {"mean", "+1 SD", "−2 SD"} <= {part.text for part in names}
        for name in names:
            line = lines["line" if name.text == "mean" else name.text.removesuffix(" SD")]
            assert isinstance(line, LinePart)
            at, edge = (line.x1, name.box[2]) if runs == "across" else (line.y1, name.box[3])
            assert 0 <= at - edge < 4
        texts_keep_apart(scene)


def test_a_polygon_of_bins_begins_and_ends_at_zero() -> None:
    scene = drawn(BinsLayer(id="h1", drawn="mid-points", width_of_bins=2.0))
    part = next(part for part in scene.walk() if part.role == "bin" and part.lane == "g1")
    assert isinstance(part, PathPart)
    xs, ys = path_places(part)
    assert ys[0] == ys[-1] == max(ys) and len(set(ys)) > 2
    assert np.diff(value_at(scene, np.array(xs)))[[0, -1]] == pytest.approx([2.0, 2.0], abs=0.05)
