"""Figures whose axis is not the one that the recipe gives the measure: of counts, and of stems."""

from __future__ import annotations

from echelle.errors import InputError
from echelle.recipes.guides import Guide
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Axis


def only_counts(recipe: Recipe) -> bool:
    """Whether the figure counts rows and shows no value of the measure.

    Raises InputError where layers of values are shown as well.
    """
    place = next((i for i, layer in enumerate(recipe.layers) if layer.shown and layer.counts_rows), None)
    if place is not None and not all(layer.counts_rows for layer in recipe.shown_layers):
        raise InputError(
            "counts of rows and values of the measure cannot share an axis", where=f"$.layers[{place}]",
            remedy="Hide the counts, or hide every other layer.",
        )  # fmt: skip
    return place is not None


def only_means(recipe: Recipe) -> bool:
    """Whether means stand alone, without the values behind them."""
    return bool(recipe.shown_layers) and all(layer.summarises for layer in recipe.shown_layers)


def on_its_axis(recipe: Recipe) -> Recipe:
    """The recipe as it is drawn. Where rows are counted the axis is even, from zero or as the recipe says for counts, under
    words of its own; scale, ends, ticks and guides were the measure's. Stems stand at even steps of the measure.
    """
    if recipe.shown_layers and all(layer.even_axis for layer in recipe.shown_layers):
        return recipe.model_copy(update={"axis": recipe.axis.model_copy(update={"scale": "linear"})})
    if not only_counts(recipe):
        return recipe
    axis, ends = recipe.axis, recipe.second_axis
    of_counts = Axis.model_validate(
        {
            "from": ends.start,
            "to": ends.end,
            "runs": axis.runs,
            "lane_width": axis.lane_width,
            "thousands": axis.thousands,
            "decimal_mark": axis.decimal_mark,
        }
    )
    words = recipe.words.model_copy(update={"measure": recipe.words.counts})
    return recipe.model_copy(update={"axis": of_counts, "words": words, "guides": list[Guide]()})
