"""The same question about another measure."""

from __future__ import annotations

import pytest

from echelle.recipes.change_measure import of_measure
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.recipe import FormName
from echelle.recipes.style import Words


@pytest.mark.parametrize("form", FORMS)
def test_groups_and_layers_stay_what_was_in_the_old_unit_goes(form: FormName) -> None:
    recipe = recipe_of_form(form, "cortisol", "shift")
    recipe = recipe.model_copy(
        update={
            "axis": recipe.axis.model_copy(update={"start": 3.0}), "guides": [Guide(at=7.0)],
            "words": Words(title="Cortisol falls", source="the laboratory", credit="the team"),
        }
    )  # fmt: skip
    other = of_measure(recipe, "age")
    assert other.measure.columns == ["age"] and other.groups == recipe.groups
    assert [layer.layer for layer in other.layers] == [layer.layer for layer in recipe.layers]
    assert other.axis.start is None and other.axis.runs == recipe.axis.runs and other.guides == []
    assert other.words == Words(source="the laboratory", credit="the team")


def test_edges_bandwidths_and_folds_do_not_carry_over() -> None:
    layers = [
        BinsLayer(id="h1", edges=[0.0, 5.0, 9.0], names=["low", "high"]),
        DensityLayer(id="d1", ends="fold", low=0.0, bandwidth={"value": 2.0, "times": 1.5}),
    ]
    bins, density = of_measure(recipe_of_form("box", "a", "g").model_copy(update={"layers": layers}), "b").layers
    assert isinstance(bins, BinsLayer) and bins.edges is None and bins.names == []
    assert isinstance(density, DensityLayer) and density.ends == "automatic" and density.low is None
    assert density.bandwidth.value is None and density.bandwidth.times == 1.5


def test_the_same_measure_changes_nothing() -> None:
    recipe = recipe_of_form("box", "a", "g")
    assert of_measure(recipe, "a") is recipe
