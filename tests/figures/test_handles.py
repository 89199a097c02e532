"""What can be dragged: a handle stands where its value is, and dropping it elsewhere is what the figure then shows."""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from echelle.numbers.rounding import round_step
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import FormName, Recipe
from echelle.render import scene_of
from echelle.scene.models import Handle, Scene
from tests.support.tables import many_values

TABLE = many_values(300, 3)
GUIDES = [{"at": 8.0, "label": "limit"}, {"band": [5.0, 10.0]}, {"at": "mean"}]
FORMS: list[FormName] = ["box", "violin", "histogram", "raincloud", "density", "strip", "ridges"]


def made(form: FormName, **layer: Any) -> Recipe:
    recipe = recipe_of_form(form, "level", "group").model_dump(mode="json") | {"guides": GUIDES}
    recipe["layers"][0] |= layer
    return Recipe.model_validate(recipe)


def dropped(recipe: Recipe, handle: Handle, value: float) -> Recipe:
    tree: Any = recipe.model_dump(mode="json")
    changes = [*((change.path, change.value) for change in handle.also), (handle.path, value)]
    for path, new in changes:
        place = tree
        for key in path[:-1]:
            place = place[key]
        place[path[-1]] = new
    return Recipe.model_validate(tree)


def by_key(scene: Scene) -> dict[str, Handle]:
    return {handle.key: handle for handle in scene.handles}


@pytest.mark.parametrize("form", FORMS)
def test_a_handle_stands_at_its_value_and_moves_to_another(form: FormName) -> None:
    recipe = made(form)
    scene = scene_of(recipe, TABLE)
    roles = {handle.role for handle in scene.handles}
    assert {"guide", "axis-end"} <= roles
    for handle in scene.handles:
        assert handle.at == pytest.approx(handle.origin + handle.unit * handle.value, abs=1e-9)
        assert handle.least <= handle.value <= handle.most
        wanted = handle.value + (handle.step if handle.value + handle.step <= handle.most else -handle.step)
        after = by_key(scene_of(dropped(recipe, handle, wanted), TABLE))[handle.key]
        assert after.value == pytest.approx(wanted, abs=1e-9), handle.key


def test_the_smoothing_is_one_bandwidth_from_the_peak() -> None:
    first, second = (
        next(h for h in scene_of(made("violin", bandwidth={"times": times}), TABLE).handles if h.role == "smoothing")
        for times in (1.0, 2.0)
    )
    assert second.unit == pytest.approx(first.unit) and second.at - second.origin == pytest.approx(
        2 * (first.at - first.origin)
    )


def test_given_edges_can_each_be_dragged_between_their_neighbours() -> None:
    scene = scene_of(made("histogram", edges=[0.0, 5.0, 12.0, 40.0]), TABLE)
    edges = [handle for handle in scene.handles if handle.role == "bin-edge"]
    assert [handle.value for handle in edges] == [0.0, 5.0, 12.0, 40.0]
    assert all(a.most < b.value and b.least > a.value for a, b in itertools.pairwise(edges))


def test_a_dragged_width_keeps_the_first_edge() -> None:
    recipe = made("histogram")
    handle = next(h for h in scene_of(recipe, TABLE).handles if h.role == "bin-width")
    after = next(h for h in scene_of(dropped(recipe, handle, handle.value * 1.5), TABLE).handles if h.role == "bin-width")
    assert after.origin == pytest.approx(handle.origin) and after.value == pytest.approx(handle.value * 1.5)


def test_all_lanes_follow_the_width_of_one() -> None:
    recipe = made("box")
    handle = next(h for h in scene_of(recipe, TABLE).handles if h.role == "lane-width")
    before, after = scene_of(recipe, TABLE).lanes, scene_of(dropped(recipe, handle, 0.43), TABLE).lanes
    assert [(b.end - b.start) / (a.end - a.start) for a, b in zip(before, after, strict=True)] == pytest.approx(
        [0.5] * 3, abs=1e-3
    )


def test_no_handle_of_lanes_where_they_share_one() -> None:
    assert not [h for h in scene_of(made("density"), TABLE).handles if h.role == "lane-width"]


@pytest.mark.parametrize(("span", "step"), [(200.0, 1.0), (150.0, 1.0), (20.0, 0.1), (0.03, 0.0002), (5.0, 0.05)])
def test_steps_are_round(span: float, step: float) -> None:
    assert round_step(span) == pytest.approx(step)
