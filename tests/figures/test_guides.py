"""Guides: where computed ones stand, whom they hold for, how many values they hold, and what the note says of them."""

from __future__ import annotations

import statistics
from fractions import Fraction

import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from echelle.drawing.readings import readings_file
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.guides import FromMean, Guide, Percentile
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.style import Axis
from echelle.render import scene_of
from echelle.scene.models import LinePart, RectPart, Scene, TextPart
from tests.support.tables import box_recipe, lanes_table

A = [1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 20.0]
B = [5.0, 7.0, 9.0, 11.0, 13.0]
TABLE = lanes_table({"A": A, "B": B})


def drawn(*guides: Guide) -> Scene:
    recipe = recipe_of_form("strip", "level", "group")
    axis = recipe.axis.model_copy(update={"runs": "across"})
    return scene_of(recipe.model_copy(update={"guides": list(guides), "axis": axis}), TABLE)


def at(scene: Scene, coordinate: float) -> float:
    """The value at a coordinate along the measure."""
    scale = scene.panels[0].scale
    (v0, v1), (c0, c1) = scale.domain, scale.range
    return v0 + (coordinate - c0) / (c1 - c0) * (v1 - v0)


def lines(scene: Scene) -> list[LinePart]:
    return [part for part in scene.walk() if isinstance(part, LinePart) and part.role == "guide"]


def bands(scene: Scene) -> list[RectPart]:
    return [part for part in scene.walk() if isinstance(part, RectPart) and part.role == "guide"]


def test_a_guide_stands_at_what_all_values_give() -> None:
    everyone = A + B
    wanted = [
        statistics.mean(everyone),
        statistics.median(everyone),
        statistics.mean(everyone) + 2 * statistics.stdev(everyone),
    ]
    scene = drawn(Guide(at="mean"), Guide(at="median"), Guide(at=FromMean(sds=2)))
    assert [at(scene, line.x1) for line in lines(scene)] == pytest.approx(wanted, abs=0.01)


def test_a_percentile_follows_the_definition_of_the_box() -> None:
    ordered = sorted(A + B)
    place = Fraction(90, 100) * (len(ordered) - 1)
    seventh = ordered[int(place)] + float(place - int(place)) * (ordered[int(place) + 1] - ordered[int(place)])
    scene = drawn(Guide(at=Percentile(percentile=90)))
    assert at(scene, lines(scene)[0].x1) == pytest.approx(seventh, abs=0.01)
    recipe = recipe_of_form("box", "level", "group")
    box = recipe.layers[0].model_copy(update={"quantile_type": 1})
    update = {"layers": [box], "guides": [Guide(at=Percentile(percentile=90))], "axis": Axis(runs="across")}
    scene = scene_of(recipe.model_copy(update=update), TABLE)
    assert at(scene, lines(scene)[0].x1) == pytest.approx(ordered[-(-90 * len(ordered) // 100) - 1], abs=0.01)
    assert "percentile 90 of all values (definition 1)" in scene.note


def test_each_lane_has_its_own_mean_over_its_own_strip() -> None:
    scene = drawn(Guide(at="mean", own=True, label="mean"))
    result = {line.lane: line for line in lines(scene)}
    for lane, values in zip(scene.lanes, (A, B), strict=True):
        line = result[lane.key]
        assert at(scene, line.x1) == pytest.approx(statistics.mean(values), abs=0.01)
        assert (line.y1, line.y2) == pytest.approx((lane.start, lane.end), abs=0.01)
    assert [part.text for part in scene.walk() if part.role == "guide-label"] == ["mean"]


def test_a_guide_for_a_group_stays_in_its_lanes_and_counts_there_alone() -> None:
    scene = drawn(Guide(band=(2, 6), group="A", label="reference"), Guide(band=(8, 12), group="B", label="reference"))
    by_lane = {lane.key: lane for lane in scene.lanes}
    first, second = bands(scene)
    for band, lane in ((first, scene.lanes[0]), (second, scene.lanes[1])):
        assert (band.y, band.y + band.height) == pytest.approx((lane.start, lane.end), abs=0.01)
    held = {by_lane[entry.lane].group: [(i.name, i.count, i.share) for i in entry.inside] for entry in scene.readings}
    assert held == {"A": [("reference", 5, 5 / 8)], "B": [("reference", 2, 2 / 5)]}


def test_bands_hold_both_ends_and_lines_at_numbers_what_lies_above() -> None:
    scene = drawn(Guide(band=(5, 7), label="target"), Guide(at=7, label="limit"), Guide(at="median", label="half"))
    held = [[(entry.name, entry.count) for entry in lane.inside] for lane in scene.readings]
    assert held == [[("target", 3), ("above limit", 1)], [("target", 2), ("above limit", 3)]]
    table = pl.read_csv(readings_file(scene, "csv"))
    assert table["target: n"].to_list() == [3, 2]
    assert table["above limit: share"].to_list() == [1 / 8, 3 / 5]


def test_a_band_of_standard_deviations_says_itself_and_its_numbers_in_the_note() -> None:
    mean, sd = statistics.mean(B), statistics.stdev(B)
    scene = drawn(Guide(band=(FromMean(sds=-1), FromMean(sds=1)), group="B"))
    assert f"Band: mean − 1 SD to mean + 1 SD of B’s values, {mean - sd:.1f} to {mean + sd:.1f}." in scene.note
    inside = scene.readings[1].inside[0]
    assert (inside.name, inside.count) == ("mean − 1 SD to mean + 1 SD", sum(mean - sd <= v <= mean + sd for v in B))


def test_a_group_that_is_not_there_draws_nothing_and_breaks_nothing() -> None:
    scene = drawn(Guide(at="mean", group="C", label="of C"), Guide(band=(1, 2), group="C"))
    assert lines(scene) == bands(scene) == []


MEANINGLESS: list[dict[str, object]] = [
    {},
    {"at": 1, "band": [1, 2]},
    {"at": "mode"},
    {"at": {"percentile": 100}},
    {"at": {"sds": 1, "percentile": 5}},
    {"band": [2, 1]},
    {"band": [{"percentile": 9}, {"percentile": 5}]},
    {"band": [{"sds": 1}, {"sds": -1}]},
]


@pytest.mark.parametrize("guide", MEANINGLESS)
def test_a_guide_that_means_nothing_is_refused(guide: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        Guide.model_validate(guide)


@settings(max_examples=40, deadline=None)
@given(
    values=st.lists(st.integers(0, 40).map(lambda v: v / 2), min_size=2, max_size=40),
    ends=st.lists(st.integers(0, 40).map(lambda v: v / 2), min_size=2, max_size=2, unique=True).map(sorted),
    scale=st.sampled_from(["linear", "square-root"]),
)
def test_bins_made_of_a_band_hold_what_the_band_holds(values: list[float], ends: list[float], scale: str) -> None:
    low, high = ends
    bins = BinsLayer(
        id="h1", edges=[-1 + (scale != "linear"), low, high, 99] if low > 0 else [low, high, 99],
        held_below=[2 if low > 0 else 1], open_below=True, open_above=True,
    )  # fmt: skip
    recipe = recipe_of_form("histogram", "level", "group")
    guides = [Guide(band=(low, high), label="target"), Guide(at=high, label="end")]
    update = {"layers": [bins], "guides": guides, "axis": recipe.axis.model_copy(update={"scale": scale})}
    scene = scene_of(recipe.model_copy(update=update), lanes_table({"A": [*values, 0.0, 20.0]}))
    inside = {entry.name: entry.count for entry in scene.readings[0].inside}
    columns = {part.key.rsplit("/", 1)[-1]: part for part in scene.walk() if isinstance(part, RectPart) and part.role == "bin"}
    unit = max(part.height for part in columns.values())
    counted = {key: part.height / unit for key, part in columns.items()}
    within, above = str(len(bins.edges or []) - 3), str(len(bins.edges or []) - 2)
    most = max(inside["target"], inside["above end"], len(values) + 2 - inside["target"] - inside["above end"])
    assert counted.get(within, 0.0) * most == pytest.approx(inside["target"], abs=0.02)
    assert counted.get(above, 0.0) * most == pytest.approx(inside["above end"], abs=0.02)
    assert f"{high:g} in the bin below" in scene.note


def test_an_edge_belongs_below_only_where_bins_hold_their_left_edge_and_it_is_an_inner_one() -> None:
    values = {"A": [1.0, 2.0, 2.0, 3.0]}

    def note_and_heights(**update: object) -> tuple[str, list[float]]:
        bins = BinsLayer.model_validate({"id": "h1", "edges": [1, 2, 3], **update})
        recipe = recipe_of_form("histogram", "level", "group").model_copy(update={"layers": [bins]})
        scene = scene_of(recipe, lanes_table(values))
        heights = [part.height for part in scene.walk() if isinstance(part, RectPart) and part.role == "bin"]
        return scene.note, [height / max(heights) for height in heights]

    assert note_and_heights()[1] == pytest.approx([1 / 3, 1], abs=1e-4)
    assert note_and_heights(held_below=[1])[1] == pytest.approx([1, 1 / 3], abs=1e-4)
    assert note_and_heights(held_below=[0, 2, 7]) == note_and_heights()
    assert note_and_heights(held_below=[1], closed="right") == note_and_heights(closed="right")


def test_a_computed_guide_may_end_with_its_value_and_have_a_look_of_its_own() -> None:
    guides = [
        Guide(at="mean", label="mean", valued=True, colour="#BF4940", weight=2.0, dash="solid"),
        Guide(at=5.0, label="limit", valued=True, behind=True),
    ]
    scene = scene_of(box_recipe(guides=guides), lanes_table({"a": [1.5, 2.5, 4.25, 8.5]}))
    labels = [part.text for part in scene.walk() if isinstance(part, TextPart) and part.role == "guide-label"]
    # One decimal more than the readings; what was typed is written as it was typed, in its label alone.
    assert sorted(labels) == ["limit", "mean 4.188"]
    lines = [part for part in scene.parts if isinstance(part, LinePart) and part.role == "guide"]
    looks = {(part.paint.stroke, part.paint.stroke_width, part.paint.dash) for part in lines}
    assert looks == {("#BF4940", 2.0, "solid"), ("#5D6B73", 0.9, "dashed")}
    lined = [part for part in scene.parts if part.role == "box" or (isinstance(part, LinePart) and part.role == "guide")]
    order = [part.paint.stroke for part in lined if isinstance(part, LinePart | RectPart)]
    assert (order[0], order[-1]) == ("#5D6B73", "#BF4940")
