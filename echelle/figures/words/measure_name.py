"""What the measure's axis is called."""

from __future__ import annotations

from echelle.catalogue.catalogue import catalogue
from echelle.figures.geometry.count_axis import only_counts, only_means
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.layers.mean import bar_words
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.recipe import Recipe


def measure_words(recipe: Recipe, arrangement: Arrangement) -> str:
    """What the axis is called: the measure, or "mean of" it and what the lines are where means stand alone."""
    if only_counts(recipe):
        people = all(layer.of == "subjects" for layer in recipe.shown(CountsLayer))
        return "number of subjects" if people else "number of rows"
    if not only_means(recipe):
        return arrangement.heading
    bars = dict.fromkeys(bar_words(layer, catalogue()) for layer in recipe.shown(MeanLayer) if layer.interval != "none")
    centre = recipe.shown(MeanLayer)[0].centre
    named = arrangement.heading.lower().startswith("mean")
    name = arrangement.heading if named else f"{centre} of {arrangement.heading}"
    return ", ".join([name, *(f"lines: {words}" for words in bars)])
