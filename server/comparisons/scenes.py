"""What leaves a scene before it is sent."""

from __future__ import annotations

from echelle.figures.scene import PointsPart, Scene
from echelle.recipes.looks import OwnLook, Style
from echelle.recipes.models import Recipe
from echelle.recipes.seal import style_of
from server.comparisons.models import Comparison


def dressed(recipe: Recipe, comparison: Comparison) -> Recipe:
    """The recipe in its resolved look: over the study's house style, or the one that a locked comparison was signed off in."""
    return recipe.model_copy(update={"style": style_shown(recipe, comparison), "own_look": OwnLook()})


def style_shown(recipe: Recipe, comparison: Comparison) -> Style:
    """The look that a recipe is drawn in here."""
    house = Style.model_validate(comparison.locked_style) if comparison.locked_style else comparison.study.style
    return style_of(recipe, house)


def without_rows(scene: Scene) -> None:
    """Take row ids out, for those who may look at the figure but not at rows."""
    for part in scene.walk():
        if isinstance(part, PointsPart):
            part.columns.rows = None
    for readings in scene.readings:
        for outlier in readings.outliers:
            outlier.row = None
