"""How long a figure takes, told before: what makes it longer, what is refused; and that long work can be stopped on its way."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.layers import cost
from echelle.figures.layers.box import _fan
from echelle.figures.layers.cost import seconds_of
from echelle.progress import stepwise
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of, scene_of_lanes
from echelle.scene.models import PointsPart
from echelle.tables.table import Table
from tests.support.tables import lanes_table


def recipe(*layers: dict[str, Any]) -> Recipe:
    made = recipe_of_form("box", "level", "group").model_dump(mode="json")
    return recipe_from(made | {"layers": [{"id": f"layer{place}"} | layer for place, layer in enumerate(layers)]})


def table(rows: int, lanes: int = 3) -> Table:
    rng = np.random.default_rng(7)
    return lanes_table({f"lane {lane}": rng.lognormal(1, 0.4, rows).tolist() for lane in range(lanes)})


def test_forms_of_a_small_table_are_drawn_at_once() -> None:
    small = table(200)
    for form in FORMS:
        made = recipe_of_form(form, "level", "group")
        assert seconds_of(made, arrange(made, small)) < 0.1


@pytest.mark.parametrize(
    ("layer", "more"),
    [
        ({"layer": "density", "bandwidth": {"rule": "cross-validation"}}, None),
        ({"layer": "density", "bandwidth": {"rule": "sheather-jones"}}, None),
        ({"layer": "control"}, None),
        ({"layer": "points", "spread": "swarm"}, None),
        ({"layer": "mean", "interval": "bootstrap BCa", "resamples": 1_000}, {"resamples": 9_000}),
    ],
)
def test_it_grows_with_the_values_and_with_what_is_done_to_them(layer: dict[str, Any], more: dict[str, Any] | None) -> None:
    few, many = table(300), table(3_000)
    asked = recipe(layer)
    short, long = (seconds_of(asked, arrange(asked, of)) for of in (few, many))
    assert 0 < short < long
    assert seconds_of(recipe(layer, layer), arrange(asked, few)) == pytest.approx(2 * short)
    if more:
        assert seconds_of(recipe(layer | more), arrange(asked, few)) == pytest.approx(9 * short)


def test_what_takes_too_long_is_refused_before_it_begins_with_a_way_out(monkeypatch: pytest.MonkeyPatch) -> None:
    asked = recipe({"layer": "box"}, {"layer": "points", "spread": "swarm"})
    lanes = table(300)
    assert scene_of(asked, lanes).parts
    monkeypatch.setattr(cost, "_MOST_SECONDS", seconds_of(asked, arrange(asked, lanes)) / 2)
    with pytest.raises(InputError) as fault:
        scene_of(asked, lanes)
    assert fault.value.where == "$.layers[1]" and "points" in fault.value.what and fault.value.remedy
    [(path, shown)] = fault.value.mends[0].changes
    assert (path, shown) == (("layers", 1, "shown"), False) and "points" in fault.value.mends[0].words
    assert scene_of(recipe({"layer": "box"}, {"layer": "points", "spread": "swarm", "shown": False}), lanes).parts


def test_differences_cost_by_lanes() -> None:
    layer = {"layer": "difference", "of": "shift"}
    asked = recipe(layer)
    few, many = (seconds_of(asked, arrange(asked, table(20, lanes))) for lanes in (2, 6))
    assert few > 0 and many == pytest.approx(3 * few)


def test_a_bandwidth_of_ones_own_costs_nothing() -> None:
    asked = recipe({"layer": "density", "bandwidth": {"rule": "cross-validation", "value": 0.3}})
    assert seconds_of(asked, arrange(asked, table(300))) == 0.0


@pytest.mark.parametrize("common", [True, False])
def test_too_many_bins_are_refused_with_a_width_that_does(common: bool) -> None:
    lanes = table(500)
    asked = recipe({"layer": "bins", "width_of_bins": 0.0001, "common": common})
    with pytest.raises(InputError) as fault:
        scene_of(asked, lanes)
    [mend] = fault.value.mends
    [(path, width)] = mend.changes
    assert path == ("layers", 0, "width_of_bins") and f"{width:g}" in mend.words and f"{width:g}" in fault.value.remedy
    assert scene_of(recipe({"layer": "bins", "width_of_bins": width, "common": common}), lanes).parts


def test_long_work_can_be_stopped_before_each_lane() -> None:
    asked, lanes = recipe({"layer": "density", "bandwidth": {"rule": "cross-validation"}}), table(300, lanes=5)
    pieces = []
    with stepwise(lambda: pieces.append(1)):
        scene_of(asked, lanes)
    assert len(pieces) >= 10

    class Stopped(Exception):
        pass

    def stop() -> None:
        raise Stopped

    with pytest.raises(Stopped), stepwise(stop):
        scene_of(asked, lanes)
    # Whoever comes next is not stopped.
    assert scene_of(asked, lanes).parts


def test_equal_outliers_stand_side_by_side_about_the_lanes_line() -> None:
    values = np.array([5.0, 9.0, 5.0, 7.0, 5.0, 9.0])
    offsets = _fan(values, room=50.0)
    for value in np.unique(values):
        here = offsets[values == value]
        assert here.sum() == pytest.approx(0) and list(here) == sorted(here)
        assert np.ptp(np.diff(here)) < 1e-9 if len(here) > 2 else True
    assert offsets[3] == 0.0 and abs(_fan(np.full(1_000, 3.0), room=8.0)).max() == pytest.approx(8.0)


def test_a_screen_shows_a_part_of_many_outliers_and_says_so() -> None:
    many = lanes_table({"a": [*np.linspace(4, 5, 2_000).tolist(), *np.linspace(50, 60, 400).tolist()]})
    asked = recipe({"layer": "box"})
    lanes = arrange(asked, many)
    shown, whole = scene_of_lanes(asked, lanes, most_points=100), scene_of_lanes(asked, lanes)
    drawn = [sum(part.columns.count for part in scene.walk() if isinstance(part, PointsPart)) for scene in (shown, whole)]
    assert drawn == [100, 400] and shown.readings == whole.readings
    assert [a.text for a in shown.advice if a.key == "thinned-outliers"] == ["About 100 of 400 outliers are shown on screen."]
    assert not [a for a in whole.advice if a.key.startswith("thinned")]
