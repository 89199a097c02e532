"""Means with intervals: from rows, and from a table that holds nothing but summaries."""

from __future__ import annotations

import math

import pytest
from scipy import stats

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.readings import ReadingRules, read_lane
from echelle.recipes.default_recipe import default_recipe
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import LinePart, Scene
from echelle.tables.column_summary import summary_of
from echelle.tables.summary_statistics_tables import summary_columns
from echelle.tables.table import Table
from tests.support.steps import read
from tests.support.tables import lanes_table

VALUES = {"a": [1.5, 2.5, 4.0, 7.0], "b": [10.0, 12.0], "c": [5.0]}
SUMMARIES = read("arm,mean (mg/L),SD,n\na,10,2,16\nb,20,3,25\nc,15,1,4\n")


def drawn(scene: Scene) -> dict[str, tuple[float, float]]:
    """The ends of each lane's line, in the measure's unit."""
    scale = scene.panels[0].scale
    (v0, v1), (c0, c1) = scale.domain, scale.range

    def value(at: float) -> float:
        return v0 + (at - c0) / (c1 - c0) * (v1 - v0)

    lines = [part for part in scene.walk() if isinstance(part, LinePart) and part.role == "interval"]
    return {part.lane: (value(part.x1), value(part.x2)) for part in lines}


def means(interval: str, group: str = "group", measure: str = "level") -> Recipe:
    return recipe_of_form("means", measure, group).model_copy(update={"layers": [MeanLayer(id="m1", interval=interval)]})


@pytest.mark.parametrize("interval", ["SD", "SE", "confidence"])
def test_lines_around_means_of_rows(interval: str) -> None:
    result = drawn(scene_of(means(interval), lanes_table(VALUES)))
    assert len(result) == 2  # one value has a mean and no spread
    for lane, values in zip(result, list(VALUES.values())[:2], strict=True):
        centre, se = float(stats.tmean(values)), float(stats.sem(values))
        half = {"SD": stats.tstd(values), "SE": se, "confidence": se * stats.t.ppf(0.975, len(values) - 1)}[interval]
        assert result[lane] == pytest.approx((centre - half, centre + half), abs=0.002 * (1 + half))


def test_summaries_are_drawn_as_what_they_give() -> None:
    recipe = default_recipe([summary_of(c) for c in SUMMARIES.columns], roles(SUMMARIES))
    assert recipe.layers == [MeanLayer(id="m1", interval="confidence")] and recipe.groups is not None
    scene = scene_of(recipe, SUMMARIES)
    half = 2 / math.sqrt(16) * stats.t.ppf(0.975, 15)
    assert drawn(scene)["g1"] == pytest.approx((10 - half, 10 + half), abs=0.02)
    lane = read_lane(arrange(recipe, SUMMARIES).lanes[0], ReadingRules())
    assert (lane.n, lane.mean, lane.sd, lane.se, lane.median, lane.q1) == (16, 10.0, 2.0, 0.5, None, None)
    assert "95 % confidence interval of the mean" in scene.note
    written = " ".join(part.text for part in scene.walk() if part.part == "text")
    assert "mean (mg/L), lines: 95 % confidence interval" in written and "n = 16" in written


def roles(table: Table) -> object:
    return summary_columns([summary_of(column) for column in table.columns], table.rows)


def test_summaries_are_drawn_as_nothing_else() -> None:
    with pytest.raises(InputError) as caught:
        scene_of(recipe_of_form("box", "mean", "arm"), SUMMARIES)
    assert "summaries (mean, SD, n for each group), not rows" in caught.value.what and "means" in caught.value.remedy
    with pytest.raises(InputError) as caught:
        scene_of(means("SD", "arm", "mean"), read("arm,mean,SE\na,10,2\nb,20,3\n"))
    assert "do not give the ±1 SD" in caught.value.what


def test_intervals_that_are_given_stand_as_they_are() -> None:
    table = read("arm,mean,95% CI lower,95% CI upper\na,10,8,13\nb,20,15,22\n")
    assert drawn(scene_of(means("confidence", "arm", "mean"), table))["g1"] == pytest.approx((8, 13), abs=0.02)


@pytest.mark.parametrize(
    "text",
    [
        "arm,level,n\na,1.5,3\nb,2.5,4\n",
        "arm,mean,SD\na,1.5,0.5\na,2.5,0.7\n",
        "mean,SD\n1.5,0.5\n2.5,0.7\n",
        "arm,mean corpuscular volume,platelets\na,90,200\nb,91,250\n",
    ],
)
def test_rows_are_not_taken_for_summaries(text: str) -> None:
    assert roles(read(text)) is None


def test_resamples_that_take_too_long_are_refused_with_what_would_do() -> None:
    """Of values that all differ; few different ones, and medians, are drawn whatever their number."""
    many = lanes_table({"a": [i / 7 for i in range(90_000)]})
    asked = {"interval": "bootstrap percentile", "resamples": 20_000}
    data = recipe_of_form("means", "level", "group").model_dump(mode="json")
    data["layers"] = [{"layer": "mean", "id": "m"} | asked]
    with pytest.raises(InputError) as fault:
        scene_of(Recipe.model_validate(data), many)
    assert fault.value.where == "$.layers[0].resamples" and "1,800 million" in fault.value.what
    [(path, value)] = fault.value.mends[0].changes
    assert path == ("layers", 0, "resamples") and value == 16_600
    # All layers of a figure together, each of which would do.
    data["layers"] = [data["layers"][0] | {"id": id, "resamples": 12_000} for id in "ab"]
    with pytest.raises(InputError, match="2,160 million"):
        scene_of(Recipe.model_validate(data), many)
    data["layers"] = [data["layers"][0] | {"centre": "median"}]
    assert drawn(scene_of(Recipe.model_validate(data), many))
    data["layers"][0] |= {"centre": "mean"}
    assert drawn(scene_of(Recipe.model_validate(data), lanes_table({"a": [i % 90 / 10 for i in range(30_000)]})))
