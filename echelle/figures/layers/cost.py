"""How long a figure takes, told before it is drawn."""

from __future__ import annotations

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError, Mend
from echelle.figures.geometry.count_axis import on_its_axis
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.figures.layers.registry import layer_of
from echelle.recipes.recipe import Recipe

# What takes longer is drawn nowhere: a figure must be had again by whoever opens its link or saves it.
_MOST_SECONDS = 15.0


def quick_part(recipe: Recipe, arrangement: Arrangement, seconds: float) -> Recipe:
    """The recipe without the layers that take longer."""
    each = _seconds_of_layers(recipe, lanes_shown(recipe, arrangement))
    layers = [layer for layer in recipe.layers if each.get(layer.id, 0.0) <= seconds]
    return recipe.model_copy(update={"layers": layers})


def seconds_of(recipe: Recipe, arrangement: Arrangement) -> float:
    """About how many seconds a core is at what the layers compute the first time, beside drawing their lanes. Raises
    InputError where a layer refuses that.
    """
    return sum(_seconds_of_layers(recipe, lanes_shown(recipe, arrangement)).values())


def refuse_long(recipe: Recipe, shown: Arrangement) -> None:
    """Raises InputError where a figure would take too long, naming the layer that takes longest; ``shown`` are its lanes."""
    each = _seconds_of_layers(recipe, shown)
    if sum(each.values()) <= _MOST_SECONDS:
        return
    place = max(range(len(recipe.layers)), key=lambda at: each.get(recipe.layers[at].id, 0.0))
    layer = recipe.layers[place]
    without = catalogue(recipe.words.note.english).say("remedy-without-layer", layer=layer.title.lower())
    raise InputError(
        f"the layer “{layer.title.lower()}” would take about {each[layer.id]:,.0f} s, a figure may take {_MOST_SECONDS:g} s",
        where=f"$.layers[{place}]", remedy="Set it otherwise, or keep fewer rows or lanes.",
        mends=(Mend(without, ((("layers", place, "shown"), False),)),),
    )  # fmt: skip


def _seconds_of_layers(recipe: Recipe, shown: Arrangement) -> dict[str, float]:
    """The shown layers' seconds, by their ids."""
    context = FigureContext(on_its_axis(recipe), shown, {})
    return {layer.id: layer_of(layer).seconds(layer, context) for layer in recipe.shown_layers}
