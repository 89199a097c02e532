"""The same question about another measure."""

from __future__ import annotations

from echelle.recipes.layers import BinsLayer, DensityLayer, Layer, StemLayer
from echelle.recipes.recipe import Recipe


def of_measure(recipe: Recipe, column: str) -> Recipe:
    """The recipe for another column: groups, layers and look stay; axis, guides and words were the old measure's."""
    if recipe.measure.columns == [column]:
        return recipe
    axis = recipe.axis.model_copy(update={"start": None, "end": None, "ticks": "automatic", "decimals": None})
    words = recipe.words.model_copy(update={"measure": "", "title": "", "subtitle": ""})
    measure = recipe.measure.model_copy(update={"columns": [column]})
    layers = [_free(layer) for layer in recipe.layers]
    return recipe.model_copy(update={"measure": measure, "axis": axis, "words": words, "guides": [], "layers": layers})


def _free(layer: Layer) -> Layer:
    """A layer without what was given in the old measure's unit."""
    if isinstance(layer, BinsLayer):
        return layer.model_copy(update={"edges": None, "width_of_bins": None, "anchor": 0.0, "names": [], "held_below": []})
    if isinstance(layer, DensityLayer):
        ends = "run past" if layer.ends == "fold" else layer.ends
        bandwidth = layer.bandwidth.model_copy(update={"value": None})
        return layer.model_copy(update={"ends": ends, "low": None, "high": None, "bandwidth": bandwidth})
    return layer.model_copy(update={"unit": None}) if isinstance(layer, StemLayer) else layer
