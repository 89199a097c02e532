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
    words = catalogue(recipe.words.note.english)
    if only_counts(recipe):
        people = all(layer.of == "subjects" for layer in recipe.shown(CountsLayer))
        return words.say("axis-counts", of="subjects" if people else "rows")
    if not only_means(recipe):
        return arrangement.heading
    bars = dict.fromkeys(bar_words(layer, words) for layer in recipe.shown(MeanLayer) if layer.interval != "none")
    centre = recipe.shown(MeanLayer)[0].centre
    named = arrangement.heading.lower().startswith("mean")
    name = arrangement.heading if named else words.say("axis-centre", centre=centre, measure=arrangement.heading)
    return ", ".join([name, *(words.say("axis-lines", interval=bar) for bar in bars)])
