"""What a worker keeps at hand: only the columns a recipe needs, and lanes by the part of the recipe that arranges."""

from __future__ import annotations

import pytest
from django.test import Client

from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.roles import Measure
from server.comparisons.models import Comparison
from server.tables.services import cache
from server.tables.services.cache import Cache, lanes_of


@pytest.fixture
def loads(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """The places of columns read from the database, on empty caches."""
    monkeypatch.setattr(cache, "_columns", Cache(10))
    monkeypatch.setattr(cache, "_lanes", Cache(10))
    real, seen = cache._load, []
    monkeypatch.setattr(cache, "_load", lambda table, place: seen.append(place) or real(table, place))
    return seen


def test_only_the_columns_a_recipe_needs_are_read(people: dict[str, Client], comparison: Comparison, loads: list[int]) -> None:
    lanes_of(recipe_of_form("box", "level", "ward"), comparison.table)
    assert sorted(loads) == [0, 1, 2]
    loads.clear()
    lanes_of(recipe_of_form("box", "level"), comparison.table)
    assert loads == []


def test_a_fence_needs_no_new_lanes(people: dict[str, Client], comparison: Comparison, loads: list[int]) -> None:
    recipe = recipe_of_form("box", "level", "ward")
    first = lanes_of(recipe, comparison.table)
    moved = recipe.model_copy(update={"layers": [BoxLayer(id="b1", fence=Fence(k=3.0))]})
    assert lanes_of(moved, comparison.table) is first
    assert lanes_of(recipe_of_form("box", "level"), comparison.table) is not first


def test_a_column_that_is_not_there_names_the_nearest(
    people: dict[str, Client], comparison: Comparison, loads: list[int]
) -> None:
    with pytest.raises(InputError) as caught:
        lanes_of(recipe_of_form("box", "levle"), comparison.table)
    assert "“level”" in caught.value.remedy
    heading = recipe_of_form("box", "level").model_copy(update={"measure": Measure(columns=["level (nmol/L)"])})
    assert len(lanes_of(heading, comparison.table).lanes[0].values) == 21
