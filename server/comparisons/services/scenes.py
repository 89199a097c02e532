"""What a comparison's scene is drawn in, and what leaves it before it is sent."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from echelle.figures.lanes.lane import Arrangement
from echelle.figures.layers.cost import quick_part, seconds_of
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import of_its_levels, style_of
from echelle.recipes.style import OwnLook, Style
from echelle.render import scene_of_lanes
from echelle.scene.models import GroupPart, PointsPart, Scene, ScenePart
from echelle.tables.steps.registry import Step
from server.api.faults import BeingCounted, LongWork
from server.comparisons.models import Comparison
from server.comparisons.services.trail import data_of, recipe_at
from server.tables.models import DataTable
from server.tables.services.cache import lanes_of
from server.tables.services.persons import Persons


def with_style(recipe: Recipe, comparison: Comparison, house: Style | None = None) -> Recipe:
    """The recipe in its resolved look: over a given house style, else over the comparison's own."""
    return recipe.model_copy(update={"style": style_of(recipe, house or comparison.house), "own_look": OwnLook()})


# What is drawn while its asker waits for the answer, in seconds.
AT_ONCE = 2.0


def takes_long(recipe: Recipe, lanes: Arrangement) -> bool:
    """Whether nobody should wait for the answer."""
    return seconds_of(recipe, lanes) > AT_ONCE


def must_be_quick(figures: Iterable[tuple[Recipe, Arrangement]]) -> None:
    """Raises LongWork where nobody should wait for an answer that holds these figures."""
    seconds = sum(seconds_of(recipe, lanes) for recipe, lanes in figures)
    if seconds > AT_ONCE:
        raise LongWork(seconds)


def must_draw(recipe: Recipe, table: DataTable, steps: Sequence[Step]) -> None:
    """Raises InputError where a recipe cannot be drawn; of a far table that is told once its files are counted, and of layers
    that take long once they are drawn.
    """
    try:
        lanes = lanes_of(recipe, table, steps, "look")
    except BeingCounted:
        return
    quick = quick_part(recipe, lanes, AT_ONCE / 2) if takes_long(recipe, lanes) else recipe
    scene_of_lanes(quick, lanes, miniature=True)


def offers_style(comparison: Comparison, recipe: Recipe) -> bool:
    """Whether the study's newer house style would change how a recipe is drawn."""
    if comparison.locked_style or comparison.kept_style is None:
        return False
    old, new = (of_its_levels(recipe, style_of(recipe, house)) for house in (comparison.house, comparison.study.style))
    return old != new


def asked_about(comparison: Comparison, recipe: Recipe, sees_rows: bool) -> Recipe:
    """A recipe that someone asks about. A viewer got it without row ids: the shown state's left-out rows hold."""
    if sees_rows:
        return recipe
    return recipe.model_copy(update={"left_out": recipe_at(comparison.head_entry).left_out})


def recipe_without_rows(recipe: Recipe) -> Recipe:
    """The recipe for those who may not see rows: what was left out and why stays, which rows it was does not."""
    told = [entry.model_copy(update={"row": 0, "part": "", "identifier": None, "fingerprint": ""}) for entry in recipe.left_out]
    layers = [layer.without_rows() for layer in recipe.layers]
    return recipe.model_copy(update={"left_out": told, "layers": layers})


def shown_without_rows(comparison: Comparison, quick: bool = False) -> Scene:
    """The shown state as whoever may not see rows sees it. Raises LongWork where it is to be ``quick`` and is not."""
    entry = comparison.head_entry
    recipe, data = recipe_at(entry), data_of(comparison, entry)
    persons = Persons(data.table, data.steps)
    persons.must_not_divide(recipe)
    lanes = lanes_of(recipe, data.table, data.steps)
    told = recipe_without_rows(with_style(recipe, comparison)).model_copy(update={"made": entry.at})
    if quick:
        must_be_quick([(told, lanes)])
    scene = scene_of_lanes(told, lanes)
    strip_rows(scene, persons)
    return scene


def strip_rows(scene: Scene, persons: Persons | None = None) -> None:
    """Take row ids out, for those who may look at the figure but not at rows; and the names that points carry, or, where
    ``persons`` are given, that any text quotes.
    """
    scene.parts = _nameless(scene.parts)
    for part in scene.walk():
        if isinstance(part, PointsPart):
            part.columns.rows = None
    for readings in scene.readings:
        for outlier in readings.outliers:
            outlier.row = None
    if persons is not None:
        persons.mask(scene)


def _nameless(parts: list[ScenePart]) -> list[ScenePart]:
    kept = [part for part in parts if part.role != "point-name"]
    for part in kept:
        if isinstance(part, GroupPart):
            part.parts = _nameless(part.parts)
    return kept
