"""The same question about another measure."""

from __future__ import annotations

from echelle.recipes.models import Recipe


def of_measure(recipe: Recipe, column: str) -> Recipe:
    """The recipe for another column: groups, layers and look stay; axis, guides and words were the old measure's."""
    if recipe.measure.columns == [column]:
        return recipe
    axis = recipe.axis.model_copy(update={"start": None, "end": None, "ticks": "automatic", "decimals": None})
    words = recipe.words.model_copy(update={"measure": "", "title": "", "subtitle": ""})
    free: dict[str, object] = {"edges": None, "width_of_bins": None, "names": [], "low": None, "high": None, "unit": None}
    layers = [
        layer.model_copy(
            update={key: value for key, value in free.items() if key in type(layer).model_fields} | _unfolded(layer)
        )
        for layer in recipe.layers
    ]
    measure = recipe.measure.model_copy(update={"columns": [column]})
    changed = {"measure": measure, "axis": axis, "words": words, "guides": [], "layers": layers}
    return Recipe.model_validate(recipe.model_copy(update=changed).model_dump())


def _unfolded(layer: object) -> dict[str, object]:
    """A bandwidth in the old unit means nothing in the new one; nor does the limit that a curve was folded at."""
    found: dict[str, object] = {}
    if getattr(layer, "ends", None) == "fold":
        found["ends"] = "run past"
    if (bandwidth := getattr(layer, "bandwidth", None)) is not None:
        found["bandwidth"] = bandwidth.model_copy(update={"value": None})
    return found
