"""The same question about another measure."""

from __future__ import annotations

from echelle.recipes.recipe import Recipe


def of_measure(recipe: Recipe, column: str) -> Recipe:
    """The recipe for another column: groups, layers and look stay; axis, guides and words were the old measure's."""
    if recipe.measure.columns == [column]:
        return recipe
    axis = recipe.axis.model_copy(update={"start": None, "end": None, "ticks": "automatic", "decimals": None})
    words = recipe.words.model_copy(update={"measure": "", "title": "", "subtitle": ""})
    measure = recipe.measure.model_copy(update={"columns": [column]})
    layers = [layer.without_unit() for layer in recipe.layers]
    return recipe.model_copy(update={"measure": measure, "axis": axis, "words": words, "guides": [], "layers": layers})
