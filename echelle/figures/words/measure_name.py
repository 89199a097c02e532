"""What the measure's axis is called."""

from __future__ import annotations

from echelle.catalogue.catalogue import catalogue
from echelle.figures.geometry.count_axis import only_counts, only_means
from echelle.figures.geometry.secondary_axis import MeasuredLayers
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.layers.counts import of_all
from echelle.figures.layers.mean import centre_shown, interval_words, lines_shown
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.layers.mean import MeanLayer


def measure_words(context: FigureContext, measured: MeasuredLayers) -> str:
    """What the axis is called: the measure, or "mean of" it and what the lines are where means stand alone."""
    recipe, arrangement = context.recipe, context.arrangement
    words = catalogue(recipe.words.note.english)
    if only_counts(recipe):
        first = recipe.shown(CountsLayer)[0]
        if first.of_value is not None:
            value = f"{arrangement.name} {first.of_value}"
            return words.say("axis-value", value=value, percent="no" if first.height == "count" else "yes")
        percent = [layer for layer in recipe.shown(CountsLayer) if layer.height == "percent"]
        if percent:
            return words.say("axis-percent", all="yes" if of_all(percent[0], context) else "no")
        people = all(layer.of == "subjects" for layer in recipe.shown(CountsLayer)) and arrangement.account.people is not None
        return words.say("axis-counts", of="subjects" if people else "rows")
    if not only_means(recipe):
        return arrangement.heading
    by_id = {layer.id: measurement for layer, measurement in measured}
    means = recipe.shown(MeanLayer)
    centre = centre_shown(means[0], context)
    bars = dict.fromkeys(
        interval_words(shown, layer, centre_shown(layer, context), words)
        for layer in means
        for shown in lines_shown(by_id[layer.id].lanes.values())
    )
    named = arrangement.heading.lower().startswith("mean")
    name = arrangement.heading if named else words.say("axis-centre", centre=centre, measure=arrangement.heading)
    return ", ".join([name, *(words.say("axis-lines", interval=bar) for bar in bars)])
