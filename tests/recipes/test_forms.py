"""Forms: what they begin with, what one keeps of another, and how they are recognised."""

from __future__ import annotations

import itertools

import pytest

from echelle.recipes.forms import FORMS, form_of, in_form, recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.density import Bandwidth, DensityLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.ticks import TicksLayer
from echelle.recipes.parse import recipe_from, recipe_text
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.style import Words


@pytest.mark.parametrize("form", FORMS)
def test_a_form_is_recognised_and_survives_its_text(form: FormName) -> None:
    recipe = recipe_of_form(form, "level", "group", "day", "site", "ward")
    assert form_of(recipe) == form
    assert recipe_from(recipe_text(recipe)) == recipe
    more = recipe.model_copy(update={"layers": [*recipe.layers, TicksLayer(id="t9"), TicksLayer(id="t8")]})
    assert form_of(more) is None


@pytest.mark.parametrize(("entry", "other"), list(itertools.product(FORMS, FORMS)))
def test_any_form_becomes_any_other_and_keeps_the_question(entry: FormName, other: FormName) -> None:
    words, guides = Words(title="Ferritin"), [Guide(at=5.0)]
    recipe = recipe_of_form(entry, "level", "group", "day").model_copy(update={"words": words, "guides": guides})
    made = in_form(recipe, other)
    assert form_of(made) == other
    assert (made.measure, made.words, made.guides) == (recipe.measure, words, guides)
    assert made.groups is not None and made.groups.column == "group"
    assert made.subgroups is not None and made.subgroups.column == "day"
    assert recipe_from(recipe_text(made)) == made


def test_what_forms_have_in_common_stays() -> None:
    bandwidth, fence = Bandwidth(rule="sheather-jones", times=1.4), Fence(rule="median and MAD", k=3.5)
    violin = recipe_of_form("violin", "level", "group")
    layers = [DensityLayer(id="d1", bandwidth=bandwidth, ends="fold", low=0.0), BoxLayer(id="b1", fence=fence, quantile_type=6)]
    cloud = in_form(violin.model_copy(update={"layers": layers}), "raincloud")
    density, box, points = cloud.layers
    assert isinstance(density, DensityLayer) and isinstance(box, BoxLayer) and isinstance(points, PointsLayer)
    assert (density.bandwidth, density.ends, density.low) == (bandwidth, "fold", 0.0)
    assert (density.side, density.place, box.width) == ("above", "above", 0.09)
    assert (box.fence, box.quantile_type) == (fence, 6)
    seeded = cloud.model_copy(update={"layers": [PointsLayer(id="p1", seed=7, coloured="kit", size=9.0)]})
    [kept, _] = in_form(seeded, "strip").layers
    assert isinstance(kept, PointsLayer)
    assert (kept.seed, kept.coloured, kept.size) == (7, "kit", 3.0)


def test_bins_keep_their_edges_with_their_names() -> None:
    bins = BinsLayer(id="h1", edges=[0, 1, 5], names=["low", "high"], closed="right", drawn="outline")
    recipe: Recipe = recipe_of_form("histogram", "level", "group").model_copy(update={"layers": [bins]})
    [kept] = in_form(recipe, "histogram").layers
    assert isinstance(kept, BinsLayer)
    assert (kept.edges, kept.names, kept.closed, kept.drawn) == ([0, 1, 5], ["low", "high"], "right", "columns")
