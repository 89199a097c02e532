"""How long a figure takes, told before it is drawn."""

from __future__ import annotations

from echelle.figures.geometry.count_axis import on_its_axis
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.figures.layers.registry import layer_of
from echelle.recipes.recipe import Recipe


def quick_part(recipe: Recipe, arrangement: Arrangement, seconds: float) -> Recipe:
    """The recipe without the layers that take longer."""
    context = _context(recipe, arrangement)
    layers = [layer for layer in recipe.layers if layer_of(layer).seconds(layer, context) <= seconds]
    return recipe.model_copy(update={"layers": layers})


def seconds_of(recipe: Recipe, arrangement: Arrangement) -> float:
    """About how many seconds a core is at what the layers compute the first time, beside drawing their lanes."""
    context = _context(recipe, arrangement)
    return sum(layer_of(layer).seconds(layer, context) for layer in recipe.shown_layers)


def _context(recipe: Recipe, arrangement: Arrangement) -> FigureContext:
    return FigureContext(on_its_axis(recipe), lanes_shown(recipe, arrangement), {})
