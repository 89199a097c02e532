"""Bent axes with honest ticks, ticks as asked, and second axes that say what they count."""

from __future__ import annotations

import itertools
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.errors import InputError
from echelle.figures.geometry.axes import domain_of, ticks_on
from echelle.figures.geometry.frame import Frame, MarkOf
from echelle.figures.lanes.transforms import TRANSFORMS
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.guides import FromMean, Guide
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.difference import DifferenceLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.trend import TrendLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Axis, AxisScale, Runs, SecondAxis
from echelle.render import scene_of
from echelle.scene.models import LinePart, Paint, PathPart, PointsPart, RectPart, Scene, unpack
from tests.support.sheets import marks_stay_in_their_panel, path_places
from tests.support.tables import box_recipe, box_scene, lanes_table, table_of

LANES = {"a": [0.5, 2.0, 8.0, 64.0, 900.0], "b": [1.5, 3.0, 20.0, 40.0]}
SCALES: list[AxisScale] = ["linear", "log10", "ln", "square-root"]


def labels(scene: Scene, role: str = "axis-label") -> list[str]:
    return [part.text for part in scene.walk() if part.role == role]


@pytest.mark.parametrize("scale", SCALES)
def test_marks_stand_where_the_scale_puts_them(scale: AxisScale) -> None:
    scene = box_scene(LANES, axis=Axis(scale=scale), layers=[PointsLayer(id="p1", spread="line")])
    result, panel = TRANSFORMS[scale], scene.panels[0].scale
    assert panel.transform == scale
    points = next(part for part in scene.walk() if isinstance(part, PointsPart) and part.lane == "g1")
    (v0, v1), (c0, c1) = result.forward(np.array(panel.domain)), panel.range
    expected = c0 + (result.forward(np.array(LANES["a"])) - v0) / (v1 - v0) * (c1 - c0)
    assert unpack(points.columns.x, "<f4") == pytest.approx(expected, abs=0.01)


@pytest.mark.parametrize(("scale", "worst"), [("log10", 0.0), ("ln", -1.5), ("square-root", -0.5)])
def test_values_without_a_place_are_refused_by_name_and_count(scale: AxisScale, worst: float) -> None:
    with pytest.raises(InputError, match=r"no place for 2 values .*: b \(2\)") as caught:
        box_scene({"a": [1.5, 2.5], "b": [worst, worst, 3.5]}, axis=Axis(scale=scale))
    assert caught.value.where == "$.axis.scale"
    with pytest.raises(InputError, match="cannot begin"):
        box_scene(LANES, axis=Axis.model_validate({"scale": scale, "from": -1.0}))


def test_values_without_a_place_are_counted_over_all_panels() -> None:
    table = table_of({"group": ["a"] * 6, "ward": ["x", "y"] * 3, "level": [-1.5, -2.5, -3.5, 4.5, 5.5, 6.5]})
    recipe = recipe_of_form("box", "level", "group", across="ward")
    with pytest.raises(InputError, match=r"no place for 3 values that are below zero: a \(3\)"):
        scene_of(recipe.model_copy(update={"axis": Axis(scale="square-root")}), table)


@pytest.mark.parametrize("scale", ["log10", "ln", "square-root"])
def test_lines_that_reach_where_the_scale_does_not_end_at_its_edge(scale: AxisScale) -> None:
    layers = [MeanLayer(id="m1", interval="SD", cap=0.3), DifferenceLayer(id="d1", reference="a"), TrendLayer(id="t1")]
    guides = [Guide(at=FromMean(sds=-3.0), label="low"), Guide(band=(-5.0, 2.0), label="usual")]
    scene = box_scene(LANES, axis=Axis(scale=scale), layers=layers, guides=guides)
    numbers = [float(result) for result in re.findall(r"-?\d+\.?\d*", scene.model_dump_json(exclude={"readings"}))]
    assert np.isfinite(numbers).all() and "NaN" not in scene.model_dump_json() and "nan" not in scene.note
    marks_stay_in_their_panel(scene)
    whole = np.mean(LANES["a"]) - np.std(LANES["a"], ddof=1)
    [line] = [part for part in scene.walk() if part.role == "interval" and (part.lane, part.layer) == ("g1", "m1")]
    assert isinstance(line, LinePart) and whole < 0 and line.x1 == pytest.approx(scene.panels[0].box[0], abs=0.01)
    assert any(advice.key == "m1/cut" and "a" in advice.text for advice in scene.advice)


def hundredths(low: int, high: int) -> st.SearchStrategy[float]:
    """Places as fine as they are drawn."""
    return st.integers(100 * low, 100 * high).map(lambda place: place / 100)


@given(
    st.lists(st.tuples(hundredths(-50, 150), hundredths(0, 40)), min_size=2, max_size=12),
    st.sampled_from(["across", "up"]),
)
def test_a_line_that_leaves_the_panel_is_cut_where_it_leaves(spots: list[tuple[float, float]], runs: Runs) -> None:
    frame = Frame(key="p1", left=0.0, top=0.0, width=100.0, height=100.0, runs=runs, domain=(0.0, 1.0))
    along, across = np.array(spots).T
    path = frame.path(MarkOf("g1", "t1", "trend"), along, across, Paint(stroke="#000"))
    pieces = [np.array([spot.split() for spot in piece.split("L")], float) for piece in path.d.split("M")[1:]]
    drawn = sum(float(np.hypot(*np.diff(piece, axis=0).T).sum()) for piece in pieces)
    # The same by walking along each stretch in small steps.
    shares = (np.arange(4_000) + 0.5) / 4_000
    inside = 0.0
    for (a0, c0), (a1, c1) in itertools.pairwise(spots):
        steps = a0 + shares * (a1 - a0)
        inside += float(np.hypot(a1 - a0, c1 - c0) * np.mean((steps >= 0) & (steps <= 100)))
    assert drawn == pytest.approx(inside, abs=0.1 * len(spots))


def test_zero_has_a_place_on_a_square_root_axis() -> None:
    assert box_scene({"a": [0.0, 4.0, 9.5]}, axis=Axis(scale="square-root")).panels[0].scale.domain[0] == 0.0


@given(st.floats(-8, 8), st.floats(0.2, 9), st.integers(2, 12), st.sampled_from(["log10", "ln", "square-root", "linear"]))
def test_ticks_are_few_round_rising_and_inside(low: float, decades: float, most: int, scale: AxisScale) -> None:
    axis = Axis(scale=scale)
    domain = domain_of((10.0**low, 10.0 ** (low + decades)), axis)
    ticks = ticks_on(domain, axis, most)
    values = np.array(ticks.values)
    assert 1 <= len(values) <= max(most, 3) + 1 and len(set(ticks.labels)) == len(ticks.labels)
    assert np.all(np.diff(values) > 0)
    assert domain[0] * (1 - 1e-9) <= values[0] and values[-1] <= domain[1] * (1 + 1e-9)


def test_ticks_at_bin_edges_at_values_and_with_decimals() -> None:
    bins = [BinsLayer(id="h1", edges=[0, 7, 15, 31])]
    table = lanes_table({"a": [1.5, 8.5, 20.5]})
    axis = Axis(ticks="bin edges")
    assert labels(scene_of(box_recipe(layers=bins, axis=axis), table)) == ["0", "7", "15", "31"]
    named = [BinsLayer(id="h1", edges=[0, 7, 15, 31], names=["low", "middle", "high"])]
    assert labels(scene_of(box_recipe(layers=named, axis=axis), table)) == ["low", "middle", "high"]
    given_ticks = Axis(ticks=[5.0, 12.5])
    assert labels(scene_of(box_recipe(axis=given_ticks), table)) == ["5.0", "12.5"]
    assert labels(scene_of(box_recipe(axis=Axis(decimals=2)), table))[1].endswith("00")
    wide = lanes_table({"a": [1.5, 42000.5]})
    assert "20\u202f000" in labels(scene_of(box_recipe(), wide))
    assert "20000" in labels(scene_of(box_recipe(axis=Axis(thousands=False)), wide))


@pytest.mark.parametrize("scale", ["log10", "square-root"])
def test_shapes_are_computed_on_the_axis_scale(scale: AxisScale) -> None:
    values = np.round(np.random.default_rng(2).lognormal(2, 1, 400) + 0.01, 4)
    layers = [BinsLayer(id="h1", count=12, height="density", width=1.0), DensityLayer(id="d1", side="above", width=1.0)]
    scene = scene_of(box_recipe(layers=layers, axis=Axis(scale=scale)), lanes_table({"a": values.tolist()}))
    columns = [part for part in scene.walk() if isinstance(part, RectPart) and part.role == "bin"]
    widths = {round(part.width, 1) for part in columns}
    assert max(widths) - min(widths) < 0.21
    curve = next(part for part in scene.walk() if isinstance(part, PathPart) and part.role == "density")
    xs, ys = (np.array(spots) for spots in path_places(curve))
    half = len(xs) // 2
    under = float(np.trapezoid(scene.lanes[0].end - ys[:half], xs[:half]))
    assert under == pytest.approx(sum(part.width / 0.96 * part.height for part in columns), rel=0.03)


def test_second_axes_name_what_they_count() -> None:
    table = lanes_table({"a": [1.5, 2.5, 3.5, 9.5] * 5, "b": [2.5, 4.5, 6.5, 7.5] * 5})
    titles = {
        form: labels(scene_of(recipe_of_form(form, "level", "group"), table), "second-title")
        for form in ("histogram", "density", "cumulative", "probability", "in-order", "box", "violin", "ridges")
    }  # type: ignore[var-annotated]
    assert titles["histogram"] == ["rows"] and titles["density"] == ["density per mmol/L"]
    assert titles["cumulative"] == ["share of rows at or below (%)"] and titles["in-order"] == ["row in order"]
    assert titles["probability"] == ["share of a normal distribution (%)"]
    assert titles["box"] == titles["violin"] == titles["ridges"] == []


def test_labels_of_a_second_axis_stand_at_their_height() -> None:
    table = lanes_table({"a": [1.5] * 10 + [2.5] * 40 + [3.5] * 20})
    recipe = recipe_of_form("histogram", "level", "group")
    layers = [BinsLayer(id="h1", edges=[1, 2, 3, 4], width=1.0)]
    scene = scene_of(recipe.model_copy(update={"layers": layers, "second_axis": SecondAxis(end=40.0)}), table)
    lane = scene.lanes[0]
    ticks = [part for part in scene.walk() if part.role == "second-axis"]
    numbers = [float(text) for text in labels(scene, "second-label")]
    heights = [(lane.end - path_places(tick)[1][0]) / (lane.end - lane.start) for tick in ticks]  # type: ignore[arg-type]
    assert heights == pytest.approx([number / 40 for number in numbers], abs=0.001)
    assert len(numbers) >= 3


@pytest.mark.parametrize("scale", ["log10", "ln", "square-root"])
@pytest.mark.parametrize("way", [0, 1])
def test_an_axis_without_place_for_some_values_offers_the_ways_out_that_work(scale: AxisScale, way: int) -> None:
    table = lanes_table({"a": [-1.0, 0.0, 2.0, 3.0], "b": [1.0, 4.0, 9.0]})
    recipe = recipe_of_form("box", "level", "group").model_copy(update={"axis": Axis(scale=scale)})
    with pytest.raises(InputError, match="no place for") as refused:
        scene_of(recipe, table)
    mends = refused.value.mends
    assert len(mends) == 2 and "keep" in mends[0].words.lower()
    told = recipe.model_dump(mode="json", by_alias=True)
    for path, value in mends[way].changes:
        place = told
        for key in path[:-1]:
            place = place[key]  # type: ignore[index]
        place[path[-1]] = value  # type: ignore[index]
    scene = scene_of(Recipe.model_validate(told), table)
    least = 0 if scale == "square-root" else 1
    assert scene.counts.used == ([7 - 2 + (1 - least), 7][way])
